'use client';

import { useState } from 'react';
import type { Answer } from './useCore';

/** The last answer to a question that is put anew as something is dragged: what is shown stays until the next one comes. */
export function useKept<T>(answer: Answer<T>): Answer<T> {
  const [kept, setKept] = useState<T | null>(answer.value);
  if (answer.value !== null && answer.value !== kept) setKept(answer.value);
  return answer.value === null && kept !== null ? { ...answer, value: kept, isCurrent: false } : answer;
}
