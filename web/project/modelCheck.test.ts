/**
 * Two people, each with a page, and a server, with every misfortune between them: delays, losses, duplicates, reordering, failures, reloads. Thousands of seeded
 * histories hold: nothing acknowledged is lost, nothing of another person is overwritten unseen, no change vanishes without a word, and in the end all agree.
 */
import { describe, expect, it } from 'vitest';
import { applyChanges, targetOf, type Change } from '@mesura/core/model/changes';
import { blankElements } from '@mesura/core/model/defaults';
import { elementId, type ElementId } from '@mesura/core/model/fields';
import { networkOf, type Network } from '@mesura/core/model/network';
import { compacted, type StoredChange } from '@mesura/core/model/storedChanges';
import { ApiError } from './api';
import { mapStorage } from './test/mapStorage';
import type { Accepted, LoadedProject, LogEntry, SentBatch, StoredBatch } from './protocol';
import { createProjectStore, type ProjectStore } from './store';

const seeded = (seed: number) => () => {
  seed = (seed + 0x6d2b79f5) | 0;
  let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
  t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
  return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
};

const names = ['n0', 'n1', 'n2', 'n3', 'n4'].map(elementId);
const note = (id: ElementId, text: string, x: number) =>
  ({ kind: 'textNote', id, x, y: 0, text, size: 'normal' }) as const;
const textOf = (network: Network, id: ElementId): string | null => {
  const element = network.elements.get(id);
  return element?.kind === 'textNote' ? `${element.text} ${element.x}` : null;
};

const entryOf = ({ revision, batchId, label, origin, author, by, madeAt }: LogEntry): LogEntry => ({
  by,
  revision,
  batchId,
  label,
  origin,
  author,
  madeAt,
});

/** What the server stands for, written anew: batches in order, refused when another has touched the same since. */
class Server {
  network = networkOf([...blankElements(), ...names.slice(0, 3).map((id) => note(id, 'start', 0))]);
  revision = 1;
  readonly log: (StoredBatch & { inverse: StoredChange[]; clients: readonly string[]; touched: ElementId[] })[] = [];
  readonly lastWrite = new Map<ElementId, { person: string; revision: number; text: string | null }>();
  readonly told = new Map<string, number>();

  constructor(private readonly world: World) {}

  snapshot(): LoadedProject {
    const log = this.log.map(entryOf);
    return { id: 'p', name: 'P', revision: this.revision, elements: [...this.network.elements.values()], log };
  }

  store(batch: SentBatch, person: string): Accepted {
    const twice = this.log.find(({ batchId }) => batchId === batch.batchId);
    const after = this.log.filter(({ revision }) => revision > batch.baseRevision);
    const others = after.filter(({ clients }) => !batch.clients.includes(clients[0]));
    const plain = (list: typeof others, below: number): StoredBatch[] | null => {
      const missed = list.filter(({ revision }) => revision < below);
      return missed.length > 4 ? null : missed.map((step) => ({ ...entryOf(step), forward: step.forward }));
    };
    if (twice) return { revision: twice.revision, missed: plain(others, twice.revision) };
    if (batch.label.includes('poison')) throw new ApiError(500, 'internal', 'poison');
    const touched = [...new Set(batch.changes.map(targetOf))];
    const clash = others.filter((each) => each.touched.some((id) => touched.includes(id)));
    if (clash.length > 0) {
      this.told.set(person, Math.max(this.told.get(person) ?? 0, this.revision));
      throw new ApiError(409, 'revision.clash', 'clash', [], { revision: this.revision });
    }
    const applied = applyChanges(this.network, batch.changes);
    if (!applied.ok) throw new ApiError(422, 'batch.refused', 'does not fit', applied.problems);
    for (const id of touched) this.world.overwritten(person, batch.batchId, id, this.lastWrite.get(id));
    const forward = compacted(this.network.elements, batch.changes);
    const inverse = compacted(applied.network.elements, applied.inverse);
    this.network = applied.network;
    this.revision++;
    const { batchId, label, origin, author, clients } = batch;
    this.log.push({
      revision: this.revision,
      batchId,
      label,
      origin,
      author,
      by: null,
      madeAt: '',
      forward,
      inverse,
      clients,
      touched,
    });
    for (const id of touched)
      this.lastWrite.set(id, { person, revision: this.revision, text: textOf(this.network, id) });
    return { revision: this.revision, missed: plain(others, this.revision) };
  }
}

class World {
  readonly random;
  readonly server: Server;
  calm = false;
  readonly seen = new Map<string, Map<ElementId, string | null>>();
  /** The person's own batch before, by element. */
  readonly before = new Map<string, Map<ElementId, string>>();
  /** Batches that may override up to a revision that their author was told of. */
  readonly allowed = new Map<string, number>();
  readonly trouble: string[] = [];
  private tasks: (() => void)[] = [];

  constructor(seed: number) {
    this.random = seeded(seed);
    this.server = new Server(this);
  }

  chance(p: number): boolean {
    return !this.calm && this.random() < p;
  }

  later(task: () => void): void {
    this.tasks.push(task);
  }

  get quiet(): boolean {
    return this.tasks.length === 0;
  }

  /** One thing happens, any of those that may. */
  async step(): Promise<void> {
    if (this.tasks.length > 0) this.tasks.splice(Math.floor(this.random() * this.tasks.length), 1)[0]();
    for (let k = 0; k < 12; k++) await Promise.resolve();
  }

  overwritten(person: string, batchId: string, id: ElementId, last: ReturnType<Server['lastWrite']['get']>): void {
    if (!last || last.person === person) return;
    // Below a change of one's own that waited lies what its author saw, or was told of, then.
    for (let at: string | undefined = batchId; at; at = this.before.get(at)?.get(id)) {
      if (this.seen.get(at)?.get(id) === last.text) return;
      if (last.revision <= (this.allowed.get(at) ?? 0)) return;
    }
    this.trouble.push(
      `${person} overwrote ${id} of ${last.person} (revision ${last.revision}) unseen, with ${batchId}`,
    );
  }

  /** A request that takes its time, may be lost on either way, and may arrive twice. */
  request<T>(handle: () => T): Promise<T> {
    return new Promise((resolve, reject) => {
      const lost = () => reject(new ApiError(0, 'network', 'lost'));
      this.later(() => {
        if (this.chance(0.08)) return lost();
        if (this.chance(0.05)) return reject(new ApiError(503, 'database.unreachable', 'away'));
        if (this.chance(0.04)) return reject(new ApiError(500, 'internal', 'failed'));
        if (this.chance(0.08))
          this.later(() => {
            try {
              handle();
            } catch {
              // Nobody waits for this answer.
            }
          });
        let answer: T;
        try {
          answer = handle();
        } catch (error) {
          return this.later(() => reject(error as Error));
        }
        this.later(() => (this.chance(0.08) ? lost() : resolve(answer)));
      });
    });
  }
}

class Person {
  store: ProjectStore;
  readonly kept = new Map<string, string>();
  readonly made: string[] = [];
  readonly dropped = new Set<string>();
  /** What only removes: on top of somebody else's removal of the same nothing is left to do. */
  readonly removals = new Set<string>();
  private readonly lastOf = new Map<ElementId, string>();
  private count = 0;
  private ids = 0;
  private lastId = '';
  private noted = '';

  constructor(
    readonly name: string,
    private readonly world: World,
  ) {
    this.store = this.open(world.server.snapshot());
  }

  private open(project: LoadedProject): ProjectStore {
    const { world, kept } = this;
    const { server } = world;
    const store = createProjectStore(project, project.log, {
      storage: mapStorage(kept),
      locks: undefined,
      pause: () => new Promise((resolve) => world.later(resolve)),
      newId: () => (this.lastId = `${this.name}-${++this.ids}`),
      transport: {
        send: (batch) =>
          world.request(() => {
            return server.store(structuredClone(batch), this.name);
          }),
        read: () => world.request(() => structuredClone(server.snapshot())),
        since: (revision) =>
          world.request(() => {
            const steps = server.log.filter((each) => each.revision > revision);
            return steps.length > 4 ? null : structuredClone(steps);
          }),
        step: (revision) =>
          world.request(() => {
            const { forward, inverse } = server.log.find((each) => each.revision === revision)!;
            return structuredClone({ forward, inverse });
          }),
      },
    });
    store.subscribe((state, before) => {
      if (this.noted === this.lastId) return;
      this.noted = this.lastId;
      this.note(before.network, state.network);
    });
    return store;
  }

  private note(before: Network, after: Network): void {
    const { seen, before: earlier } = this.world;
    seen.set(this.lastId, new Map(names.map((id) => [id, textOf(before, id)])));
    earlier.set(this.lastId, new Map(this.lastOf));
    for (const id of names) if (textOf(after, id) !== textOf(before, id)) this.lastOf.set(id, this.lastId);
  }

  act(): void {
    const { random } = this.world;
    const state = this.store.getState();
    const before = state.network;
    const chance = random();
    if (chance < 0.72) {
      const id = names[Math.floor(random() * names.length)];
      const label = `${this.name}${++this.count}${random() < 0.05 ? ' poison' : ''}`;
      const there = before.elements.has(id);
      const changes: Change[] =
        there && random() < 0.2
          ? [{ op: 'remove', id }]
          : [{ op: there ? 'update' : 'add', element: note(id, label, Math.floor(random() * 1000)) }];
      const other = names[Math.floor(random() * names.length)];
      if (random() < 0.3 && other !== id && before.elements.has(other))
        changes.push({ op: 'update', element: note(other, label, 1) });
      if (state.commit(changes, label).ok) {
        this.made.push(label);
        if (changes.every(({ op }) => op === 'remove')) this.removals.add(label);
      }
    } else if (chance < 0.86) {
      if (random() < 0.5) state.undoOne();
      else state.redoOne();
    } else if (state.saving.status === 'refused') this.choose(random() < 0.5 ? 'mine' : 'theirs');
  }

  choose(what: 'mine' | 'theirs'): void {
    const state = this.store.getState();
    if (state.saving.status !== 'refused') return;
    if (what === 'theirs') for (const label of state.saving.labels) this.dropped.add(label);
    const from = this.ids;
    void state.resolveRefusal(what);
    const told = Math.max(this.world.server.told.get(this.name) ?? 0, state.revision);
    for (let k = from + 1; k <= this.ids; k++) this.world.allowed.set(`${this.name}-${k}`, told);
  }

  async reload(): Promise<void> {
    this.store.stop();
    const project = structuredClone(this.world.server.snapshot());
    for (let k = Math.floor(this.world.random() * 4); k > 0; k--) await this.world.step();
    this.store = this.open(project);
    this.store.getState().resume();
  }
}

async function play(seed: number): Promise<{ world: World; people: Person[] }> {
  const world = new World(seed);
  const people = ['A', 'B'].map((name) => new Person(name, world));
  for (const { store } of people) store.getState().resume();
  const { random } = world;
  for (let k = 0; k < 60; k++) {
    const person = people[Math.floor(random() * 2)];
    const chance = random();
    if (chance < 0.35) person.act();
    else if (chance < 0.38) await person.reload();
    await world.step();
  }
  world.calm = true;
  const drain = async () => {
    for (let k = 0; k < 4000 && (k < 3 || !(world.quiet && people.every(({ store }) => !store.hasUnsaved()))); k++) {
      for (const person of people) person.choose(random() < 0.5 ? 'mine' : 'theirs');
      await world.step();
    }
  };
  await drain();
  // A last look at what others have stored.
  for (const { store } of people) store.getState().resume();
  await drain();
  return { world, people };
}

function check({ world, people }: Awaited<ReturnType<typeof play>>, seed: number): void {
  const about = `seed ${seed}`;
  expect(world.trouble, about).toEqual([]);
  const { server } = world;
  const stored = new Set(server.log.map(({ label }) => label));
  const ids = server.log.map(({ batchId }) => batchId);
  expect(new Set(ids).size, `${about}: stored twice`).toBe(ids.length);
  for (const { name, store, made, dropped, removals, kept } of people) {
    expect(store.hasUnsaved(), `${about}: ${name} has something left`).toBe(false);
    expect(kept.size, `${about}: storage of ${name}`).toBe(0);
    const { network, revision, saving } = store.getState();
    expect(saving.status, about).toBe('saved');
    expect(revision, `${about}: revision of ${name}`).toBe(server.revision);
    for (const id of names) expect(textOf(network, id), `${about}: ${id} at ${name}`).toBe(textOf(server.network, id));
    for (const label of made)
      expect(
        stored.has(label) || dropped.has(label) || removals.has(label),
        `${about}: ${label} of ${name} vanished`,
      ).toBe(true);
  }
}

describe('two pages and a server', () => {
  const runs = Number(process.env.MESURA_MODEL_RUNS ?? 2000);
  it(`hold together through ${runs} histories`, { timeout: 600_000 }, async () => {
    let batches = 0;
    let asides = 0;
    for (let seed = Number(process.env.FROM ?? 1); seed <= runs; seed++) {
      const played = await play(seed);
      check(played, seed);
      batches += played.world.server.log.length;
      asides += played.people.reduce((sum, { dropped }) => sum + dropped.size, 0) + played.world.allowed.size;
    }
    // The histories are worth something only if much was stored and much was refused.
    expect(batches).toBeGreaterThan(runs * 5);
    expect(asides).toBeGreaterThan(runs / 2);
  });
});
