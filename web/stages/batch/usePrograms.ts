'use client';

import { useCallback, useEffect, useRef, useState } from 'react';
import { proxy, wrap, type Remote } from 'comlink';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import type { ProgramsService, SentProject } from '../../workers/programs.worker';

/** A thread for batches and scripts, begun when it is needed; cancelling ends it. Beyond `longestS` it is ended, too. */
const longestS = 600;

export interface Programs {
  /** The share that is done; null while nothing runs. */
  readonly progress: number | null;
  readonly failure: string | null;
  run<T>(
    work: (service: Remote<ProgramsService>, project: SentProject, tell: (share: number) => void) => Promise<T>,
  ): Promise<T | null>;
  cancel(): void;
}

export function usePrograms(): Programs {
  const worker = useRef<Worker | null>(null);
  /** Ends the wait of whoever asked. */
  const leave = useRef<(() => void) | null>(null);
  const [progress, setProgress] = useState<number | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const store = useProjectStore();
  const name = useProject((state) => state.name);
  const cancel = useCallback(() => {
    worker.current?.terminate();
    worker.current = null;
    leave.current?.();
    leave.current = null;
    setProgress(null);
  }, []);
  useEffect(() => cancel, [cancel]);
  const run: Programs['run'] = useCallback(
    async (work) => {
      cancel();
      setFailure(null);
      setProgress(0);
      const thread = new Worker(new URL('../../workers/programs.worker.ts', import.meta.url), { type: 'module' });
      worker.current = thread;
      const project = { name, elements: [...store.getState().network.elements.values()] };
      const left = new Promise<null>((resolve) => (leave.current = () => resolve(null)));
      const timer = setTimeout(() => {
        cancel();
        setFailure(`It took longer than ${longestS / 60} minutes and was ended.`);
      }, longestS * 1000);
      try {
        return await Promise.race([work(wrap<ProgramsService>(thread), project, proxy(setProgress)), left]);
      } catch (error) {
        setFailure((error as Error).message);
        return null;
      } finally {
        clearTimeout(timer);
        if (worker.current === thread) cancel();
      }
    },
    [cancel, name, store],
  );
  return { progress, failure, run, cancel };
}
