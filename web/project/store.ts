/**
 * The model in the browser: one store. Changes are applied here at once and saved behind (`sync`); what is not saved yet is kept in the browser's own
 * storage (`outbox`), so that neither a dead server nor a reload loses it; what is stored and what is laid on top stand in `records`.
 */
import { createStore } from 'zustand/vanilla';
import { applyChanges, changeSchema, targetOf, type Change } from '@mesura/core/model/changes';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import { problemsOf, type Problem } from '@mesura/core/model/problem';
import { compacted, type StoredChange } from '@mesura/core/model/storedChanges';
import { api, ApiError } from './api';
import { claimsOf, Outbox, type Aside, type Outgoing, type Storage } from './outbox';
import type { Accepted, LoadedProject, LogEntry, StoredBatch } from './protocol';
import { Records } from './records';
import { Sync, type SyncState, type Transport } from './sync';
import { changesFor, stacksOf, stepped, type Step } from './undo';
import { who } from './who';

export type { LoadedProject } from './protocol';
export type { Step } from './undo';

export type Saving =
  | { status: 'saved'; at: number | null }
  | { status: 'saving' }
  | { status: 'waiting'; message: string }
  /** Some batches were refused and set aside; what is made after them goes on being saved. */
  | { status: 'refused'; message: string; problems: readonly Problem[]; labels: readonly string[] };

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
  /** What could not be done just now, in words. */
  notice: string | null;
  selection: readonly ElementId[];
  commit(changes: readonly Change[], label: string): { ok: true } | { ok: false; problems: readonly Problem[] };
  undoOne(): void;
  redoOne(): void;
  select(ids: readonly ElementId[]): void;
  dismissNotice(): void;
  /** After a refusal: store mine on top of what others did, or take theirs and drop mine. */
  resolveRefusal(keep: 'mine' | 'theirs'): Promise<void>;
  rename(name: string): Promise<void>;
  /** Starts saving what a former page left unsaved, and takes what was stored since this one was read. */
  resume(): void;
}

/** What the store leans on; tests put in their own. */
export interface Surroundings {
  readonly transport: Transport & {
    step(revision: number): Promise<{ forward: StoredChange[]; inverse: StoredChange[] }>;
  };
  readonly storage: Storage | null;
  readonly locks: LockManager | undefined;
  pause(ms: number): Promise<void>;
  newId(): string;
}

const randomId = () => `${Date.now().toString(36)}-${Math.random().toString(36).slice(2, 12).padEnd(10, '0')}`;

function storageOf(): Storage | null {
  try {
    return globalThis.localStorage ?? null;
  } catch {
    return null;
  }
}

const browser = (id: string): Surroundings => ({
  transport: {
    send: (json) => api<Accepted>(`/projects/${id}/changes`, { method: 'POST', json }),
    read: () => api<LoadedProject>(`/projects/${id}`),
    since: async (revision) =>
      (await api<{ batches: StoredBatch[] | null }>(`/projects/${id}/changes?since=${revision}`)).batches,
    step: (revision) => api(`/projects/${id}/changes/${revision}`),
  },
  storage: storageOf(),
  locks: typeof navigator === 'undefined' ? undefined : navigator.locks,
  pause: (ms) => new Promise((resolve) => setTimeout(resolve, ms)),
  newId: randomId,
});

/** How often a new page looks for what others have left. */
const mostLooks = 5;

/** Steps of its own that a page remembers whole; older ones are fetched when undo needs them. */
const mostOwnSteps = 400;

export function createProjectStore(
  project: LoadedProject,
  log: readonly LogEntry[] = project.log ?? [],
  { transport, storage, locks, pause, newId }: Surroundings = browser(project.id),
) {
  const records = new Records({ ...project, log: [...log] });
  const outbox = new Outbox(project.id, newId(), storage, claimsOf(locks));
  const own = new Map<string, NonNullable<Step['own']>>();
  let syncing: SyncState = { waiting: null, savedAt: null };

  const store = createStore<ProjectState>()((set) => ({
    id: project.id,
    name: project.name,
    revision: records.revision,
    version: 1,
    network: records.view([]).network,
    ...stacksOf(records.log),
    saving: { status: 'saved', at: null },
    notice: null,
    selection: [],

    commit(changes, label) {
      if (changes.length === 0) return { ok: true };
      // The server checks the same; asked here first, nothing is taken up that it would refuse.
      const invalid = changes.flatMap((change) => {
        const parsed = changeSchema.safeParse(change);
        return parsed.success ? [] : problemsOf(parsed.error);
      });
      if (invalid.length > 0) return { ok: false, problems: invalid };
      return lay(changes, label, 'edit');
    },
    undoOne: () => turnBack('undo'),
    redoOne: () => turnBack('redo'),
    // The canvas may still tell of symbols that were deleted in the same moment.
    select: (ids) => set((state) => ({ selection: present(ids, state.network) })),
    dismissNotice: () => set({ notice: null }),
    async resolveRefusal(choice) {
      const mine = outbox.aside;
      if (mine.length === 0) return;
      const again = mine.map((each): Outgoing => ({ ...each.batch, ...onTopOf(each), batchId: newId() }));
      outbox.set(choice === 'mine' ? [...outbox.pending, ...again] : outbox.pending, []);
      rebuild();
      sync.kick('all');
      await sync.settled();
    },
    async rename(name) {
      await api(`/projects/${project.id}`, { method: 'PATCH', json: { name } });
      set({ name });
    },
    resume() {
      sync.start();
      outbox.reopen();
      void adopt();
    },
  }));
  const { getState: get, setState: set } = store;

  const sync: Sync = new Sync(records, outbox, transport, {
    author: who,
    now: Date.now,
    pause,
    rebuilt: rebuild,
    renamed: (name) => set({ name }),
    told: (state) => {
      syncing = state;
      tell();
    },
  });

  /** A page that is just being left may hold its outbox a moment longer: looked at a few times. */
  async function adopt(): Promise<void> {
    for (let round = 0; round < mostLooks; round++) {
      if (await outbox.adopt()) rebuild();
      if (round === 0) sync.kick('steps');
      else sync.kick();
      if (!outbox.othersLeft()) return;
      await pause(700);
    }
  }

  /** A refused batch once more: its author knows what it overrides up to the revision told. */
  function onTopOf({ told, code }: Aside): Pick<Outgoing, 'base' | 'onTop' | 'origin'> {
    const clashed = code === 'revision.clash' || code === 'revision.unknown';
    return { base: clashed ? told : records.revision, onTop: true, origin: 'edit' };
  }

  function lay(
    changes: readonly Change[],
    label: string,
    origin: Outgoing['origin'],
  ): ReturnType<ProjectState['commit']> {
    const state = get();
    const applied = applyChanges(state.network, changes);
    if (!applied.ok) return applied;
    const batch: Outgoing = { batchId: newId(), label: label.slice(0, 200), origin, changes, base: seenOf(changes) };
    remember(batch.batchId, {
      forward: compacted(state.network.elements, changes),
      inverse: compacted(applied.network.elements, applied.inverse),
    });
    outbox.set([...outbox.pending, batch]);
    set({
      network: applied.network,
      version: state.version + 1,
      notice: null,
      ...stepped(state, origin, { label: bare(label), revision: null, own: own.get(batch.batchId) }),
      selection: present(state.selection, applied.network),
    });
    tell();
    sync.kick();
    return { ok: true };
  }

  /**
   * The revision that the author of these changes has seen: where own changes of the same elements wait on top of what others did, only what those had seen.
   */
  function seenOf(changes: readonly Change[]): number {
    const touched = new Set(changes.map(targetOf));
    const covering = outbox.pending.filter((batch) => batch.changes.some((change) => touched.has(targetOf(change))));
    return Math.min(records.revision, ...covering.map(({ base }) => base));
  }

  function remember(batchId: string, step: NonNullable<Step['own']>): void {
    own.set(batchId, step);
    if (own.size > mostOwnSteps) own.delete(own.keys().next().value!);
  }

  /** The model anew from what is stored and what waits. */
  function rebuild(): void {
    // Stored, though the answer never came.
    if (outbox.pending.some(({ batchId }) => records.has(batchId)))
      outbox.set(outbox.pending.filter(({ batchId }) => !records.has(batchId)));
    const { network, laid } = records.view(outbox.pending);
    for (const { batch, changes, inverse } of laid)
      if (!own.has(batch.batchId)) remember(batch.batchId, { forward: changes, inverse });
    const stacks = laid.reduce(
      (before, { batch }) =>
        stepped(before, batch.origin, { label: bare(batch.label), revision: null, own: own.get(batch.batchId) }),
      stacksOf(records.log, own),
    );
    set((state) => ({
      network,
      revision: records.revision,
      version: state.version + 1,
      ...stacks,
      selection: present(state.selection, network),
    }));
    tell();
  }

  function tell(): void {
    const { aside, pending } = outbox;
    const saving: Saving =
      aside.length > 0
        ? {
            status: 'refused',
            message: aside[0].message,
            problems: aside[0].problems,
            labels: aside.map(({ batch }) => batch.label),
          }
        : pending.length === 0
          ? { status: 'saved', at: syncing.savedAt }
          : syncing.waiting === null
            ? { status: 'saving' }
            : { status: 'waiting', message: syncing.waiting };
    set({ saving, revision: records.revision });
  }

  let fetching: Promise<void> | null = null;

  /** One after the other: a step that is not known whole is fetched first. */
  function turnBack(origin: 'undo' | 'redo'): void {
    if (fetching) {
      fetching = fetching.then(() => turnOne(origin) ?? undefined);
      return;
    }
    const waiting = turnOne(origin);
    if (waiting)
      fetching = waiting.finally(() => {
        fetching = null;
      });
  }

  function turnOne(origin: 'undo' | 'redo'): Promise<void> | null {
    const step = top(origin);
    if (!step) return null;
    if (step.own) {
      turn(origin, step, step.own);
      return null;
    }
    return transport.step(step.revision!).then(
      (found) => {
        // Others may have gone on meanwhile: then it is another step that stands on top.
        if (top(origin)?.revision === step.revision) turn(origin, step, found);
      },
      (error: unknown) => {
        const why = error instanceof ApiError ? error.message : String(error);
        set({ notice: `"${step.label}" cannot be ${origin === 'undo' ? 'undone' : 'redone'} now: ${why}` });
      },
    );
  }

  const top = (origin: 'undo' | 'redo'): Step | undefined => get()[origin].at(-1);

  function turn(origin: 'undo' | 'redo', step: Step, did: NonNullable<Step['own']>): void {
    const changes = changesFor(get().network, origin === 'undo' ? did.inverse : did.forward);
    const done =
      changes.length === 0 ? null : lay(changes, `${origin === 'undo' ? 'Undo' : 'Redo'}: ${step.label}`, origin);
    if (!done || !done.ok)
      set({ notice: `"${step.label}" cannot be ${origin === 'undo' ? 'undone' : 'redone'} any more.` });
  }

  return Object.assign(store, {
    /** True while something is not stored on the server. */
    hasUnsaved: () => outbox.pending.length + outbox.aside.length > 0,
    stop: () => {
      sync.stop();
      outbox.close();
    },
  });
}

export type ProjectStore = ReturnType<typeof createProjectStore>;

const bare = (label: string) => label.replace(/^(Undo|Redo): /, '');

const present = (selection: readonly ElementId[], network: Network) =>
  selection.filter((id) => network.elements.has(id));
