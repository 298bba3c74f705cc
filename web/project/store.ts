/**
 * The model in the browser: one store. Changes are applied here at once and saved behind (`sync`); what is not saved yet is kept in the browser's own
 * storage (`outbox`), so that neither a dead server nor a reload loses it; what is stored and what is laid on top stand in `records`; undo and redo in `turning`.
 */
import { createStore } from 'zustand/vanilla';
import { applyChanges, changeSchema, targetOf, type Change } from '@mesura/core/model/changes';
import { differenceOf, inOrder, type ElementDifference } from '@mesura/core/model/difference';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import { problemsOf, type Problem } from '@mesura/core/model/problem';
import { compacted } from '@mesura/core/model/storedChanges';
import { api } from './api';
import { claimsOf, Outbox, type Aside, type Outgoing } from './outbox';
import type { LoadedProject, LogEntry } from './protocol';
import { Records } from './records';
import { savingOf, type Saving } from './saving';
import { browser, type Surroundings } from './surroundings';
import { Sync, type SyncState } from './sync';
import { Turning } from './turning';
import { stacksOf, stepped, type Step } from './undo';
import { lookingOnly, may, useHere, who } from './who';

export type { LoadedProject } from './protocol';
export type { Saving } from './saving';
export type { Surroundings } from './surroundings';
export type { Step } from './undo';

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
  /** What the changes that were set aside would make other than it is now: theirs before, mine after. */
  bothVersions(): readonly ElementDifference[];
  /** After a refusal: store mine on top of what others did, or take theirs and drop mine. */
  resolveRefusal(keep: 'mine' | 'theirs'): Promise<void>;
  rename(name: string): Promise<void>;
  /** Others have stored something up to this revision: it is read unless it is known. */
  heard(revision: number): void;
  /** Starts saving what a former page left unsaved, and takes what was stored since this one was read. */
  resume(): void;
}

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
  // What one person has left unsent is never sent as somebody else's.
  const { accountId } = useHere.getState();
  const keptUnder = accountId === null ? project.id : `${project.id}.${accountId}`;
  const outbox = new Outbox(keptUnder, newId(), storage, claimsOf(locks));
  const own = new Map<string, NonNullable<Step['own']>>();
  /** Steps of which nothing is left to undo: others have gone on with all of it. */
  const passed = new Set<string>();
  let syncing: SyncState = { waiting: null, savedAt: null };
  /** Undo takes back one's own steps: by account where people sign in, else by the name that stands beside them. */
  const isMine = ({ by, author }: LogEntry): boolean => (accountId === null ? author === who() : by === accountId);

  const store = createStore<ProjectState>()((set) => ({
    id: project.id,
    name: project.name,
    revision: records.revision,
    version: 1,
    network: records.view([]).network,
    ...stacksOf(records.log.filter(isMine)),
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
    undoOne: () => turning.back('undo'),
    redoOne: () => turning.back('redo'),
    // The canvas may still tell of symbols that were deleted in the same moment.
    select: (ids) => set((state) => ({ selection: present(ids, state.network) })),
    dismissNotice: () => set({ notice: null }),
    bothVersions: (): readonly ElementDifference[] => versionsOf(get().network, outbox.aside),
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
    heard(revision) {
      if (revision > records.revision) sync.kick('steps');
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
    by: accountId,
    now: Date.now,
    pause,
    rebuilt: rebuild,
    renamed: (name) => set({ name }),
    told: (state) => {
      syncing = state;
      tell();
    },
  });

  const turning = new Turning({
    network: () => get().network,
    top: (origin) => get()[origin].at(-1),
    fetch: (revision) => transport.step(revision),
    lay,
    notice: (notice) => set({ notice }),
    pass: ({ batchId }) => {
      passed.add(batchId);
      set((state) => ({ undo: state.undo.filter((step) => step.batchId !== batchId) }));
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
    if (!may('engineer')) {
      set({ notice: lookingOnly });
      return { ok: false, problems: [{ severity: 'error', code: 'role', message: lookingOnly }] };
    }
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
      ...stepped(state, origin, stepOf(batch)),
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

  /** A batch as a step that the log does not have yet. */
  function stepOf({ batchId, label }: Outgoing): Step {
    return { batchId, label: bare(label), revision: null, own: own.get(batchId) };
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
    const stacks = laid
      .filter(({ batch }) => !passed.has(batch.batchId))
      .reduce(
        (before, { batch }) => stepped(before, batch.origin, stepOf(batch)),
        stacksOf(
          records.log.filter((entry) => isMine(entry) && !passed.has(entry.batchId)),
          own,
        ),
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
    set({ saving: savingOf(outbox, syncing), revision: records.revision });
  }

  return Object.assign(store, {
    /** Of this page, as the server hears of it. */
    client: outbox.client,
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

/** What batches that were set aside would make of the network, laid on without a check: what does not fit any more is to be seen, too. */
function versionsOf(network: Network, aside: readonly Aside[]): ElementDifference[] {
  const elements = new Map(network.elements);
  const touched = new Set<ElementId>();
  for (const { batch } of aside)
    for (const change of batch.changes) {
      touched.add(targetOf(change));
      if (change.op === 'remove') elements.delete(change.id);
      else elements.set(change.element.id, change.element);
    }
  return inOrder([...touched].map((id) => differenceOf(network, { elements }, id)));
}
