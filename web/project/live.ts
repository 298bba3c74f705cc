/**
 * News of the project as it comes: a stream of the server's. A page that is not looked at lets go of it, since a browser opens only a few connections to
 * one server; when it is looked at again, or the stream broke off, the first news tells how far the others are.
 */
import type { PersonHere } from './protocol';

/** Of `EventSource` what is needed; tests put in their own. */
export interface Stream {
  addEventListener(type: string, listener: (event: { readonly data?: string }) => void): void;
  close(): void;
  readonly readyState: number;
}

export interface LiveHooks {
  open(): Stream;
  revision(revision: number): void;
  people(others: readonly PersonHere[]): void;
  /** Whether news comes. */
  live(yes: boolean): void;
  /** Later, unless the page ends before; gives what calls it off. */
  later(act: () => void, ms: number): () => void;
}

const closed = 2;
const soonest = 1500;
const longest = 30_000;

export class Live {
  private stream: Stream | null = null;
  private wait = soonest;
  private callOff: (() => void) | null = null;

  constructor(private readonly hooks: LiveHooks) {}

  start(): void {
    if (this.stream) return;
    this.callOff?.();
    this.callOff = null;
    const stream = this.hooks.open();
    this.stream = stream;
    const mine = () => this.stream === stream;
    const on = (type: string, act: (data: string) => void) =>
      stream.addEventListener(type, ({ data = '' }) => {
        if (!mine()) return;
        this.wait = soonest;
        act(data);
      });
    on('revision', (data) => {
      this.hooks.live(true);
      const revision = Number(data);
      if (Number.isSafeInteger(revision)) this.hooks.revision(revision);
    });
    on('people', (data) => {
      const others = parsed(data);
      if (others) this.hooks.people(others);
    });
    for (const type of ['gone', 'refused'])
      on(type, () => {
        // What the next request to the server says, is told there.
        this.stop();
      });
    stream.addEventListener('error', () => {
      if (!mine()) return;
      this.hooks.live(false);
      // The browser comes back by itself unless the server refused: then it is asked again, ever more seldom.
      if (stream.readyState !== closed) return;
      this.stream = null;
      this.callOff = this.hooks.later(() => this.start(), this.wait);
      this.wait = Math.min(2 * this.wait, longest);
    });
  }

  stop(): void {
    this.callOff?.();
    this.callOff = null;
    const { stream } = this;
    this.stream = null;
    stream?.close();
    this.hooks.live(false);
  }
}

function parsed(text: string): readonly PersonHere[] | null {
  try {
    const list: unknown = JSON.parse(text);
    return Array.isArray(list) ? (list as readonly PersonHere[]) : null;
  } catch {
    return null;
  }
}
