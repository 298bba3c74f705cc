/**
 * Sends what waits in the outbox, one batch after the other, and reads what others have stored. One thing at a time, so that nothing overtakes anything. A
 * server that cannot be reached is asked again and again; a batch that it will never take is set aside and holds up nobody.
 */
import { ApiError } from './api';
import type { Aside, Outbox, Outgoing } from './outbox';
import type { Accepted, LoadedProject, SentBatch, StoredBatch } from './protocol';
import { onTop, type Records } from './records';

/** Requests to the server. Each throws an {@link ApiError}. */
export interface Transport {
  send(batch: SentBatch): Promise<Accepted>;
  read(): Promise<LoadedProject>;
  /** Steps after a revision; null when there are too many. */
  since(revision: number): Promise<StoredBatch[] | null>;
}

export interface SyncState {
  /** Why the server cannot be reached; null while it can. */
  readonly waiting: string | null;
  /** When something was stored last. */
  readonly savedAt: number | null;
}

interface Hooks {
  author(): string;
  /** Account of the author; null on one's own desk. */
  readonly by: string | null;
  now(): number;
  pause(ms: number): Promise<void>;
  /** The model may look different: others have changed something, or a batch was set aside. */
  rebuilt(): void;
  /** Only what is told about saving has changed. */
  told(state: SyncState): void;
  renamed(name: string): void;
}

const longestWaitMs = 8000;
/** A server that fails on a batch this often will not take it. */
const mostFailures = 3;

export class Sync {
  private running = false;
  private generation = 0;
  private stopped = false;
  /** What is to be read: the steps since, the whole project, or nothing. */
  private wanted: 'nothing' | 'steps' | 'all' = 'nothing';
  private state: SyncState = { waiting: null, savedAt: null };
  private idle: (() => void)[] = [];

  constructor(
    private readonly records: Records,
    private readonly outbox: Outbox,
    private readonly transport: Transport,
    private readonly hooks: Hooks,
  ) {}

  get busy(): boolean {
    return this.running;
  }

  /** Sends what waits; `read`: asks what others have stored, too. */
  kick(read: 'nothing' | 'steps' | 'all' = 'nothing'): void {
    if (read !== 'nothing' && this.wanted !== 'all') this.wanted = read;
    if (!this.running && !this.stopped) void this.run(this.generation);
  }

  /** Resolves when nothing is left to do, or the server cannot be reached. */
  settled(): Promise<void> {
    if (!this.running || this.state.waiting) return Promise.resolve();
    return new Promise((resolve) => this.idle.push(resolve));
  }

  stop(): void {
    this.stopped = true;
    this.generation++;
    this.running = false;
    this.release();
  }

  start(): void {
    this.stopped = false;
  }

  private release(): void {
    for (const resolve of this.idle.splice(0)) resolve();
  }

  private tell(state: Partial<SyncState>): void {
    this.state = { ...this.state, ...state };
    this.hooks.told(this.state);
    if (this.state.waiting) this.release();
  }

  private async run(generation: number): Promise<void> {
    this.running = true;
    const alive = () => generation === this.generation;
    let wait = 500;
    let failures = 0;
    while (alive() && (this.wanted !== 'nothing' || this.outbox.pending.length > 0)) {
      const batch = this.outbox.pending[0] as Outgoing | undefined;
      const reading = this.wanted !== 'nothing';
      try {
        if (reading) await this.read(alive);
        else if (batch) await this.send(batch, alive);
        if (!alive()) return;
        [wait, failures] = [500, 0];
        this.tell({ waiting: null });
      } catch (error) {
        if (!alive()) return;
        const failure = error instanceof ApiError ? error : new ApiError(0, 'unknown', String(error));
        if (failure.status === 500) failures++;
        if (reading && !failure.passing) {
          // The project is gone, or may not be read: what waits is kept.
          this.wanted = 'nothing';
          this.tell({ waiting: failure.message });
          break;
        }
        if (!reading && batch && (!failure.passing || failures >= mostFailures)) {
          this.setAside(batch, failure);
          failures = 0;
          continue;
        }
        this.tell({ waiting: failure.message });
        await this.hooks.pause(wait);
        wait = Math.min(wait * 2, longestWaitMs);
      }
    }
    if (!alive()) return;
    this.running = false;
    this.tell({});
    this.release();
  }

  private async read(alive: () => boolean): Promise<void> {
    const { records } = this;
    const what = this.wanted;
    // Asked again while the answer is on its way, it is asked once more.
    this.wanted = 'nothing';
    try {
      if (what === 'steps') {
        const steps = await this.transport.since(records.revision);
        if (!alive()) return;
        if (steps && records.follow(steps)) this.hooks.rebuilt();
        if (steps === null || records.behind) this.wanted = 'all';
        return;
      }
      const fresh = await this.transport.read();
      if (!alive()) return;
      if (records.take(fresh)) {
        this.hooks.renamed(fresh.name);
        this.hooks.rebuilt();
      }
      // Read before its own last step was stored: once more.
      if (records.behind) this.wanted = 'all';
    } catch (error) {
      if (this.wanted !== 'all') this.wanted = what;
      throw error;
    }
  }

  private async send(waiting: Outgoing, alive: () => boolean): Promise<void> {
    const { records, outbox } = this;
    let batch = waiting;
    if (batch.onTop) {
      if (records.revision < batch.base) {
        this.wanted = 'all';
        return;
      }
      const changes = onTop(records.view([]).network, batch.changes);
      if (changes.length === 0) return this.done(batch);
      batch = { ...batch, changes };
    }
    if (!this.state.waiting) this.tell({});
    const { batchId, base, label, origin, changes } = batch;
    const accepted = await this.transport.send({
      batchId,
      baseRevision: base,
      label,
      origin,
      author: this.hooks.author(),
      clients: outbox.clients,
      changes,
    });
    if (!alive()) return;
    const others = records.land(batch, accepted, this.hooks.author(), this.hooks.by);
    this.done(waiting);
    this.tell({ savedAt: this.hooks.now() });
    if (others) this.hooks.rebuilt();
    if (records.behind) this.wanted = 'all';
  }

  private done(batch: Outgoing): void {
    this.outbox.set(this.outbox.pending.filter((other) => other !== batch));
  }

  private setAside(batch: Outgoing, { code, message, problems, details }: ApiError): void {
    const { revision } = details as { revision?: unknown };
    const told = typeof revision === 'number' ? revision : this.records.revision;
    const aside: Aside = { batch, code, message, problems, told };
    const { outbox } = this;
    outbox.set(
      outbox.pending.filter((other) => other !== batch),
      [...outbox.aside, aside],
    );
    if (code === 'revision.clash' || code === 'revision.unknown') this.wanted = 'all';
    this.hooks.rebuilt();
    this.tell({ waiting: null });
  }
}
