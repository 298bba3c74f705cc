'use client';

import { useCallback, useEffect, useRef } from 'react';

/** A function that stays the same from one drawing to the next and calls the latest one given: for handlers of memoised parts. */
export function useStable<A extends unknown[], R>(latest: (...args: A) => R): (...args: A) => R {
  const held = useRef(latest);
  useEffect(() => {
    held.current = latest;
  });
  return useCallback((...args: A) => held.current(...args), []);
}
