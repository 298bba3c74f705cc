'use client';

import { proxy, wrap, type Remote } from 'comlink';
import {
  createContext,
  useCallback,
  useContext,
  useEffect,
  useMemo,
  useRef,
  useState,
  useSyncExternalStore,
  type ReactNode,
} from 'react';
import type { Element } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import { useProject, useProjectStore } from '../project/ProjectContext';
import { Answers, nothingKept, type Kept, type Request } from './answers';
import type { CoreService } from './coreService';

export interface Answer<T> extends Omit<Kept<T>, 'version'> {
  /** False while the value belongs to an older state of the model. */
  readonly isCurrent: boolean;
}

export const noAnswer: Answer<never> = { value: null, isCurrent: false, failed: null, progress: null };

interface Core {
  service: Remote<CoreService> | null;
  answers: Answers;
  /** Version of the model that the worker holds. */
  loaded: number;
}

const Context = createContext<Core>({ service: null, answers: new Answers(), loaded: 0 });

/** What makes one model of another: elements put in place, elements gone. */
export function differenceOf(before: Network, after: Network): { put: Element[]; gone: ElementId[] } {
  const put: Element[] = [];
  const gone: ElementId[] = [];
  for (const [id, element] of after.elements) if (before.elements.get(id) !== element) put.push(element);
  for (const id of before.elements.keys()) if (!after.elements.has(id)) gone.push(id);
  return { put, gone };
}

/** Starts the worker and keeps it supplied with the model: whole at first, then what changes. */
export function CoreProvider({ children }: { children: ReactNode }) {
  const store = useProjectStore();
  const version = useProject((state) => state.version);
  const [core, setCore] = useState<{ service: Remote<CoreService> | null; loaded: number }>({
    service: null,
    loaded: 0,
  });
  const service = useRef<Remote<CoreService> | null>(null);
  const held = useRef<Network | null>(null);
  const [answers] = useState(() => new Answers());
  useEffect(() => {
    const worker = new Worker(new URL('./core.worker.ts', import.meta.url), { type: 'module' });
    const remote = wrap<CoreService>(worker);
    service.current = remote;
    answers.connect((ticket) => void remote.leaveOff(ticket));
    return () => {
      service.current = null;
      held.current = null;
      answers.connect(() => {});
      worker.terminate();
    };
  }, [answers]);
  useEffect(() => {
    const current = service.current;
    if (!current) return;
    let stale = false;
    const { network } = store.getState();
    const before = held.current;
    held.current = network;
    const { put, gone } = before ? differenceOf(before, network) : { put: [], gone: [] };
    const done = before ? current.change(put, gone) : current.load([...network.elements.values()]);
    void done.then(() => {
      if (!stale) setCore({ service: current, loaded: version });
    });
    return () => {
      stale = true;
    };
  }, [store, version, answers]);
  const value = useMemo(() => ({ ...core, answers }), [core, answers]);
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

/** The worker itself, for what is asked once; null until it holds the model. */
export const useCoreService = (): Remote<CoreService> | null => useContext(Context).service;

/** Asks the worker whenever the model or the question changes. `key` names the question; null asks nothing. Ticket and progress are for long answers. */
export function useCore<T>(
  key: string | null,
  ask: (service: Remote<CoreService>, ticket: number, onProgress: (share: number) => void) => Promise<T>,
): Answer<T> {
  const { service, answers, loaded } = useContext(Context);
  const latest = useRef(ask);
  useEffect(() => {
    latest.current = ask;
  });
  const subscribe = useCallback(
    (listener: () => void) => (key === null ? () => {} : answers.subscribe(key, listener)),
    [answers, key],
  );
  const shown = useSyncExternalStore(
    subscribe,
    () => (key === null ? nothingKept : answers.shown<T>(key)),
    () => nothingKept,
  );
  useEffect(() => {
    if (!service || key === null) return;
    const run = ({ ticket, onProgress }: Request) => latest.current(service, ticket, proxy(onProgress));
    answers.ask(key, loaded, run);
  }, [service, answers, loaded, key]);
  const version = useProject((state) => state.version);
  return useMemo(() => {
    const { value, failed, progress } = shown;
    return { value, failed, progress, isCurrent: shown.version === version };
  }, [shown, version]);
}
