'use client';

import { createContext, useContext, useEffect, useState, type ReactNode } from 'react';
import { useStore } from 'zustand';
import type { Element, ElementKind, ElementOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { find } from '@mesura/core/model/network';
import { createProjectStore, type LoadedProject, type ProjectState, type ProjectStore } from './store';

const Context = createContext<ProjectStore | null>(null);

export function ProjectProvider({ project, children }: { project: LoadedProject; children: ReactNode }) {
  const [store] = useState(() => createProjectStore(project));
  useEffect(() => {
    store.getState().resume();
    const warn = (event: BeforeUnloadEvent) => {
      if (store.hasUnsaved()) event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => {
      window.removeEventListener('beforeunload', warn);
      store.stop();
    };
  }, [store]);
  return <Context.Provider value={store}>{children}</Context.Provider>;
}

export function useProjectStore(): ProjectStore {
  const store = useContext(Context);
  if (!store) throw new Error('useProject outside of ProjectProvider');
  return store;
}

export const useProject = <T,>(selector: (state: ProjectState) => T): T => useStore(useProjectStore(), selector);

export const useElement = (id: ElementId | null): Element | undefined =>
  useProject((state) => (id === null ? undefined : state.network.elements.get(id)));

export const useElementOf = <K extends ElementKind>(kind: K, id: ElementId | null): ElementOf<K> | undefined =>
  useProject((state) => find(state.network, kind, id));

/** The one selected element, or null. */
export const useSelected = (): Element | null =>
  useProject((state) =>
    state.selection.length === 1 ? (state.network.elements.get(state.selection[0]) ?? null) : null,
  );
