'use client';

import { useCallback, useEffect, useState } from 'react';
import { tell } from './report';
import { api } from '../project/api';

interface SharedList<T> {
  readonly list: readonly T[];
  /** Why it is not known. */
  readonly failed: string | null;
  /** Sends something to the server, which answers with the whole list; what goes wrong is told under a title. False then. */
  act(title: string, path: string, init: Parameters<typeof api>[1]): Promise<boolean>;
}

/** Something that all projects of this installation share, read when it is first shown. `key`: what the answer holds it under. */
export function useSharedList<T>(path: string, key: string): SharedList<T> {
  const [list, setList] = useState<readonly T[]>([]);
  const [failed, setFailed] = useState<string | null>(null);
  const ask = useCallback(
    async (at: string, init: Parameters<typeof api>[1] = {}) => {
      const answer = await api<Record<string, T[]>>(at, init);
      setList(answer[key]);
      setFailed(null);
    },
    [key],
  );
  useEffect(() => {
    // eslint-disable-next-line react-hooks/set-state-in-effect -- the answer of the server arrives later
    ask(path).catch((error: unknown) => setFailed((error as Error).message));
  }, [ask, path]);
  const act = async (title: string, at: string, init: Parameters<typeof api>[1]) => {
    try {
      await ask(at, init);
      return true;
    } catch (error) {
      tell(title, (error as Error).message);
      return false;
    }
  };
  return { list, failed, act };
}
