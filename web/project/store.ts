/**
 * The model in the browser: one store. Changes are applied here at once and saved behind; what is not saved yet is kept in the
 * browser's own storage, so that neither a dead server nor a reload loses it.
 */
import { createStore } from 'zustand/vanilla';
import { applyChanges, changeSchema, type Change } from '@mesura/core/model/changes';
import type { Element } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { networkOf, type Network } from '@mesura/core/model/network';
import { problemsOf, type Problem } from '@mesura/core/model/problem';
import type { StoredBatch } from '../server/changes';
import { ApiError, api } from './api';
import { who } from './who';

export interface Step {
  label: string;
  forward: readonly Change[];
  inverse: readonly Change[];
}

interface Pending {
  batchId: string;
  label: string;
  origin: 'edit' | 'undo' | 'redo';
  changes: readonly Change[];
}

export type Saving =
  | { status: 'saved'; at: number | null }
  | { status: 'saving' }
  | { status: 'waiting'; message: string }
  | { status: 'refused'; message: string; problems: readonly Problem[] };

export interface ProjectState {
  id: string;
  name: string;
  /** Revision of the server that this model builds on. */
  revision: number;
  /** Grows with every change of the model in this browser. */
  version: number;
  network: Network;
  undo: readonly Step[];
  redo: readonly Step[];
  saving: Saving;
  selection: readonly ElementId[];
  commit(changes: readonly Change[], label: string): { ok: true } | { ok: false; problems: readonly Problem[] };
  undoOne(): void;
  redoOne(): void;
  select(ids: readonly ElementId[]): void;
  /** After a refusal: store mine on top of what others did, or take theirs and drop mine. */
  resolveRefusal(keep: 'mine' | 'theirs'): Promise<void>;
  rename(name: string): Promise<void>;
  /** Starts saving what a former page left unsaved, or takes what it has just stored. */
  resume(): void;
}

export interface LoadedProject {
  id: string;
  name: string;
  revision: number;
  elements: Element[];
}

const storageKey = (id: string) => `mesura.pending.${id}`;
const batchId = () => `${Date.now().toString(36)}-${Math.random().toString(36).slice(2, 12)}`;
const longestWaitMs = 8000;

/** Undo and redo stacks as the log of batches leaves them. */
export function stacksOf(batches: readonly Pick<StoredBatch, 'origin' | 'label' | 'forward' | 'inverse'>[]): {
  undo: Step[];
  redo: Step[];
} {
  const undo: Step[] = [];
  const redo: Step[] = [];
  for (const { origin, label, forward, inverse } of batches) {
    if (origin === 'edit') {
      undo.push({ label, forward, inverse });
      redo.length = 0;
    } else {
      const [from, to] = origin === 'undo' ? [undo, redo] : [redo, undo];
      const step = from.pop();
      if (step) to.push(step);
    }
  }
  return { undo, redo };
}

/** The log may have been read a moment after the model: what came in between is not in the model yet, and counts as not known. */
const upTo = (revision: number, log: readonly StoredBatch[]): StoredBatch[] =>
  log.filter((batch) => batch.revision <= revision);

export function createProjectStore(project: LoadedProject, log: readonly StoredBatch[]) {
  const batches = upTo(project.revision, log);
  let pending: Pending[] = [];
  let flushing = false;
  let stopped = false;

  const keep = () => {
    try {
      if (pending.length > 0)
        localStorage.setItem(storageKey(project.id), JSON.stringify({ base: store.getState().revision, pending }));
      else localStorage.removeItem(storageKey(project.id));
    } catch {
      // Storage full or forbidden: the page itself still holds the changes, and warns before it closes.
    }
  };

  const store = createStore<ProjectState>()((set, get) => ({
    id: project.id,
    name: project.name,
    revision: project.revision,
    version: 1,
    network: networkOf(project.elements),
    ...stacksOf(batches),
    saving: { status: 'saved', at: null },
    selection: [],

    commit(changes, label) {
      if (changes.length === 0) return { ok: true };
      // The server checks the same; asked here first, nothing is taken up that it would refuse.
      const invalid = changes.flatMap((change) => {
        const parsed = changeSchema.safeParse(change);
        return parsed.success ? [] : problemsOf(parsed.error);
      });
      if (invalid.length > 0) return { ok: false, problems: invalid };
      const applied = applyChanges(get().network, changes);
      if (!applied.ok) return applied;
      const step = { label, forward: changes, inverse: applied.inverse };
      set((state) => ({
        network: applied.network,
        version: state.version + 1,
        undo: [...state.undo, step],
        redo: [],
        selection: present(state.selection, applied.network),
      }));
      send({ batchId: batchId(), label, origin: 'edit', changes });
      return { ok: true };
    },
    undoOne: () => turnBack('undo'),
    redoOne: () => turnBack('redo'),
    // The canvas may still tell of symbols that were deleted in the same moment.
    select: (ids) => set((state) => ({ selection: present(ids, state.network) })),
    async resolveRefusal(choice) {
      const mine = pending;
      pending = [];
      await reload();
      set({ saving: { status: 'saving' } });
      if (choice === 'theirs') {
        keep();
        set({ saving: { status: 'saved', at: Date.now() } });
        return;
      }
      for (const { changes, label } of mine) {
        const fresh = onTop(get().network, changes);
        const result = get().commit(fresh, label);
        if (!result.ok)
          set({
            saving: {
              status: 'refused',
              message: 'It does not fit the project as it is now.',
              problems: result.problems,
            },
          });
      }
    },
    async rename(name) {
      await api(`/projects/${project.id}`, { method: 'PATCH', json: { name } });
      set({ name });
    },
    resume() {
      stopped = false;
      if (pending.length === 0) restorePending();
      if (pending.length === 0) void catchUp();
      void flush();
    },
  }));
  const { getState: get, setState: set } = store;

  function turnBack(origin: 'undo' | 'redo') {
    const state = get();
    const [from, to] = origin === 'undo' ? [state.undo, state.redo] : [state.redo, state.undo];
    const step = from[from.length - 1];
    if (!step) return;
    const changes = origin === 'undo' ? step.inverse : step.forward;
    const applied = applyChanges(state.network, changes);
    if (!applied.ok) {
      set({
        saving: {
          status: 'refused',
          message: `"${step.label}" cannot be ${origin === 'undo' ? 'undone' : 'redone'} any more.`,
          problems: applied.problems,
        },
      });
      return;
    }
    const [shorter, longer] = [from.slice(0, -1), [...to, step]];
    set({
      network: applied.network,
      version: state.version + 1,
      undo: origin === 'undo' ? shorter : longer,
      redo: origin === 'undo' ? longer : shorter,
      selection: present(state.selection, applied.network),
    });
    send({
      batchId: batchId(),
      label: `${origin === 'undo' ? 'Undo' : 'Redo'}: ${step.label}`.slice(0, 200),
      origin,
      changes,
    });
  }

  function send(batch: Pending) {
    pending.push(batch);
    keep();
    void flush();
  }

  async function flush() {
    if (flushing || stopped) return;
    flushing = true;
    let wait = 500;
    while (!stopped && pending.length > 0 && get().saving.status !== 'refused') {
      const batch = pending[0];
      if (get().saving.status !== 'waiting') set({ saving: { status: 'saving' } });
      try {
        const accepted = await api<{ revision: number; missed: StoredBatch[] }>(`/projects/${project.id}/changes`, {
          method: 'POST',
          json: { ...batch, baseRevision: get().revision, author: who() },
        });
        pending = pending.filter((other) => other !== batch);
        keep();
        wait = 500;
        set({ revision: accepted.revision });
        if (accepted.missed.length > 0) await reload();
        set({ saving: { status: 'saved', at: Date.now() } });
      } catch (error) {
        const failure = error instanceof ApiError ? error : new ApiError(0, 'unknown', String(error));
        if (!failure.passing) {
          set({ saving: { status: 'refused', message: failure.message, problems: failure.problems } });
          break;
        }
        set({ saving: { status: 'waiting', message: failure.message } });
        await new Promise((resolve) => setTimeout(resolve, wait));
        wait = Math.min(wait * 2, longestWaitMs);
      }
    }
    flushing = false;
  }

  /** The page before this one may have stored something while this one was being made. */
  async function catchUp() {
    try {
      const { batches: since } = await api<{ batches: StoredBatch[] }>(
        `/projects/${project.id}/changes?since=${get().revision}`,
      );
      if (!stopped && pending.length === 0 && since.some((batch) => batch.revision > get().revision)) await reload();
    } catch {
      // Whoever cannot be reached now is asked again with the next change.
    }
  }

  /** Takes the server's state and lays what is still pending on top of it. */
  async function reload() {
    const fresh = await api<LoadedProject>(`/projects/${project.id}`);
    const { batches: log } = await api<{ batches: StoredBatch[] }>(`/projects/${project.id}/changes`);
    let network = networkOf(fresh.elements);
    const unsent: Pick<StoredBatch, 'origin' | 'label' | 'forward' | 'inverse'>[] = [];
    for (const batch of pending) {
      const applied = applyChanges(network, batch.changes);
      if (!applied.ok) continue;
      network = applied.network;
      unsent.push({
        origin: batch.origin,
        label: batch.label.replace(/^(Undo|Redo): /, ''),
        forward: [...batch.changes],
        inverse: applied.inverse,
      });
    }
    set((state) => ({
      network,
      revision: fresh.revision,
      name: fresh.name,
      version: state.version + 1,
      ...stacksOf([...upTo(fresh.revision, log), ...unsent]),
      selection: present(state.selection, network),
    }));
  }

  function restorePending() {
    let kept: { base: number; pending: Pending[] };
    try {
      kept = JSON.parse(localStorage.getItem(storageKey(project.id)) ?? 'null');
      if (!kept) return;
    } catch {
      return;
    }
    const left = kept.pending;
    const known = new Set(batches.map((batch) => batch.batchId));
    for (const batch of left) {
      if (known.has(batch.batchId)) continue;
      const applied = applyChanges(get().network, batch.changes);
      pending.push(batch);
      if (!applied.ok) {
        set({
          saving: {
            status: 'refused',
            message: 'A change kept in this browser does not fit the project any more.',
            problems: applied.problems,
          },
        });
        continue;
      }
      const step = { label: batch.label, forward: batch.changes, inverse: applied.inverse };
      set((state) => ({
        network: applied.network,
        version: state.version + 1,
        undo: batch.origin === 'edit' ? [...state.undo, step] : state.undo,
      }));
    }
    // The server compares with what these changes were made on, not with what was loaded just now.
    if (pending.length > 0) set({ revision: Math.min(kept.base, get().revision) });
    keep();
  }

  return Object.assign(store, {
    /** True while something is not stored on the server. */
    hasUnsaved: () => pending.length > 0,
    stop: () => {
      stopped = true;
    },
  });
}

export type ProjectStore = ReturnType<typeof createProjectStore>;

const present = (selection: readonly ElementId[], network: Network) =>
  selection.filter((id) => network.elements.has(id));

/** A batch made to fit a newer state: updates of what is gone become additions, additions of what is there updates. */
function onTop(network: Network, changes: readonly Change[]): Change[] {
  return changes.flatMap((change): Change[] => {
    if (change.op === 'remove') return network.elements.has(change.id) ? [change] : [];
    return [{ op: network.elements.has(change.element.id) ? 'update' : 'add', element: change.element }];
  });
}
