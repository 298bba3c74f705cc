'use client';

import { wrap, type Remote } from 'comlink';
import { createContext, useContext, useEffect, useRef, useState, type ReactNode } from 'react';
import { useProject, useProjectStore } from '../project/ProjectContext';
import type { CoreService } from './coreService';

interface Core {
  service: Remote<CoreService> | null;
  /** Version of the model that the worker holds. */
  loaded: number;
}

const Context = createContext<Core>({ service: null, loaded: 0 });

/** Starts the worker and keeps it supplied with the model. */
export function CoreProvider({ children }: { children: ReactNode }) {
  const store = useProjectStore();
  const version = useProject((state) => state.version);
  const [core, setCore] = useState<Core>({ service: null, loaded: 0 });
  const service = useRef<Remote<CoreService> | null>(null);
  useEffect(() => {
    const worker = new Worker(new URL('./core.worker.ts', import.meta.url), { type: 'module' });
    service.current = wrap<CoreService>(worker);
    return () => {
      service.current = null;
      worker.terminate();
    };
  }, []);
  useEffect(() => {
    const current = service.current;
    if (!current) return;
    let stale = false;
    void current.load([...store.getState().network.elements.values()]).then(() => {
      if (!stale) setCore({ service: current, loaded: version });
    });
    return () => {
      stale = true;
    };
  }, [store, version]);
  return <Context.Provider value={core}>{children}</Context.Provider>;
}

export interface Answer<T> {
  value: T | null;
  /** False while the value belongs to an older state of the model. */
  isCurrent: boolean;
  failed: string | null;
}

/** Asks the worker whenever the model or the question changes. `key` names the question; null asks nothing. */
export function useCore<T>(key: string | null, ask: (service: Remote<CoreService>) => Promise<T>): Answer<T> {
  const { service, loaded } = useContext(Context);
  const version = useProject((state) => state.version);
  const [answer, setAnswer] = useState<{ key: string; version: number; value: T | null; failed: string | null } | null>(
    null,
  );
  const latest = useRef(ask);
  useEffect(() => {
    latest.current = ask;
  });
  useEffect(() => {
    if (!service || key === null) return;
    let stale = false;
    latest.current(service).then(
      (value) => !stale && setAnswer({ key, version: loaded, value, failed: null }),
      (error: Error) => !stale && setAnswer({ key, version: loaded, value: null, failed: error.message }),
    );
    return () => {
      stale = true;
    };
  }, [service, loaded, key]);
  if (key === null || answer?.key !== key) return { value: null, isCurrent: false, failed: null };
  return { value: answer.value, isCurrent: answer.version === version, failed: answer.failed };
}
