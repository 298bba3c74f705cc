/**
 * Answers of the core by question. Whoever asks the same shares one answer; what nobody wants any more is left off; an answer of an older
 * model stays until the new one is there.
 */

export interface Kept<T> {
  readonly value: T | null;
  /** Of the model that the value belongs to; −1 before there is one. */
  readonly version: number;
  readonly failed: string | null;
  /** How far a run is; null when none is under way. */
  readonly progress: Share | null;
}

/** Share of a long answer that is done, told apart from the answer: it moves many times a second, and only what shows it is drawn anew. */
export class Share {
  private share = 0;
  private readonly listeners = new Set<() => void>();

  get now(): number {
    return this.share;
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  move(share: number): void {
    this.share = share;
    for (const listener of this.listeners) listener();
  }
}

export const nothingKept: Kept<never> = { value: null, version: -1, failed: null, progress: null };

/** One run of a question. */
export interface Request {
  readonly ticket: number;
  onProgress(share: number): void;
}

interface Entry {
  version: number;
  value: unknown;
  failed: string | null;
  running: { version: number; ticket: number; progress: Share } | null;
  listeners: Set<() => void>;
  shown: Kept<unknown>;
}

const keptUnwanted = 24;

export class Answers {
  private readonly entries = new Map<string, Entry>();
  private tickets = 0;

  private cancel: (ticket: number) => void = () => {};

  /** Says how the worker is told that a ticket is not wanted any more. */
  connect(cancel: (ticket: number) => void): void {
    this.cancel = cancel;
  }

  /** Asks unless the answer for this version is there or under way. */
  ask<T>(key: string, version: number, run: (request: Request) => Promise<T>): void {
    const entry = this.entry(key);
    if (entry.running?.version === version || (!entry.running && entry.version === version)) return;
    if (entry.running) this.cancel(entry.running.ticket);
    const running = { version, ticket: ++this.tickets, progress: new Share() };
    entry.running = running;
    const isMine = () => entry.running === running;
    const onProgress = (share: number) => {
      if (isMine()) running.progress.move(share);
    };
    run({ ticket: running.ticket, onProgress }).then(
      (value) => isMine() && this.settle(entry, { version, value, failed: null, running: null }),
      (error: Error) => {
        if (!isMine()) return;
        if (error.name === 'LeftOff') this.settle(entry, { running: null });
        else this.settle(entry, { version, value: null, failed: error.message, running: null });
      },
    );
    this.show(entry);
  }

  subscribe(key: string, listener: () => void): () => void {
    const entry = this.entry(key);
    entry.listeners.add(listener);
    return () => {
      entry.listeners.delete(listener);
      // React subscribes anew at once when a component moves: only what stays unwanted is left off.
      queueMicrotask(() => {
        if (entry.listeners.size > 0) return;
        if (entry.running) {
          this.cancel(entry.running.ticket);
          entry.running = null;
          this.show(entry);
        }
        this.forgetOldest();
      });
    };
  }

  /** The same object as long as nothing changed. */
  shown<T>(key: string): Kept<T> {
    return (this.entries.get(key)?.shown ?? nothingKept) as Kept<T>;
  }

  private entry(key: string): Entry {
    let entry = this.entries.get(key);
    if (!entry) {
      entry = { version: -1, value: null, failed: null, running: null, listeners: new Set(), shown: nothingKept };
      this.entries.set(key, entry);
    }
    return entry;
  }

  private settle(entry: Entry, what: Partial<Entry>): void {
    Object.assign(entry, what);
    this.show(entry);
  }

  private show(entry: Entry): void {
    const { value, version, failed, running } = entry;
    entry.shown = { value, version, failed, progress: running && running.progress };
    for (const listener of entry.listeners) listener();
  }

  private forgetOldest(): void {
    const unwanted = [...this.entries].filter(([, entry]) => entry.listeners.size === 0);
    for (const [key] of unwanted.slice(0, Math.max(0, unwanted.length - keptUnwanted))) this.entries.delete(key);
  }
}
