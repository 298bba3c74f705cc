/**
 * What has not reached the server yet, in the browser's own storage: batches that wait to be sent, in order, and those that were set aside because the
 * server refused them. Each page of the browser has an outbox of its own; what a page that is gone has left is taken over by the next.
 */
import type { Change } from '@mesura/core/model/changes';
import type { Problem } from '@mesura/core/model/problem';
import type { Origin } from './protocol';

export interface Outgoing {
  readonly batchId: string;
  readonly label: string;
  readonly origin: Origin;
  readonly changes: readonly Change[];
  /** Revision that the author saw when the change was made. */
  readonly base: number;
  /** Made to fit what is stored just before it is sent: the author has been told what it overrides. */
  readonly onTop?: boolean;
}

/** A batch that the server will not take as it is, and why. */
export interface Aside {
  readonly batch: Outgoing;
  readonly code: string;
  readonly message: string;
  readonly problems: readonly Problem[];
  /** Revision that the author was told of with the refusal. */
  readonly told: number;
}

interface Kept {
  /** Earlier outboxes that this one took over; their changes are the author's own. */
  readonly also: readonly string[];
  readonly pending: readonly Outgoing[];
  readonly aside: readonly Aside[];
}

export type Storage = Pick<globalThis.Storage, 'getItem' | 'setItem' | 'removeItem'> & {
  key?(index: number): string | null;
  readonly length?: number;
};

/** Tells which outboxes belong to pages that are open. */
export interface Claims {
  hold(client: string): void;
  /** Of these the ones that no open page holds; they are held from then on. */
  free(clients: readonly string[]): Promise<string[]>;
}

const prefix = (project: string) => `mesura.pending.${project}`;
const most = 8;

export class Outbox {
  pending: readonly Outgoing[] = [];
  aside: readonly Aside[] = [];
  private also: readonly string[] = [];
  private closed = false;

  constructor(
    private readonly project: string,
    readonly client: string,
    private readonly storage: Storage | null,
    private readonly claims: Claims,
  ) {
    claims.hold(client);
  }

  /** This page first, then those it took over. */
  get clients(): readonly string[] {
    return [this.client, ...this.also].slice(0, most);
  }

  set(pending: readonly Outgoing[], aside: readonly Aside[] = this.aside): void {
    this.pending = pending;
    this.aside = aside;
    this.keep();
  }

  /** Takes over what pages that are gone have left; true when there was something. Their batches come before this page's own. */
  async adopt(): Promise<boolean> {
    if (!this.storage) return false;
    const listed = this.others();
    const free = new Set(await this.claims.free(listed));
    if (this.closed) return false;
    const known = new Set([...this.pending, ...this.aside.map(({ batch }) => batch)].map(({ batchId }) => batchId));
    const pending: Outgoing[] = [];
    const aside: Aside[] = [];
    for (const client of listed) {
      if (!free.has(client)) continue;
      const kept = this.read(this.keyOf(client));
      pending.push(...kept.pending.filter(({ batchId }) => !known.has(batchId)));
      aside.push(...kept.aside.filter(({ batch }) => !known.has(batch.batchId)));
      this.also = [...this.also, ...(client ? [client] : []), ...kept.also].slice(0, most - 1);
    }
    const some = pending.length + aside.length > 0;
    if (some) this.set([...pending, ...this.pending], [...aside, ...this.aside]);
    // First kept here, then removed there: a crash in between leaves it twice, and the server counts it once.
    for (const client of listed) if (free.has(client)) this.drop(client);
    return some;
  }

  /** Whether other outboxes of the project are there: of pages that are open, or just being left. */
  othersLeft(): boolean {
    return !this.closed && this.storage !== null && this.others().length > 0;
  }

  close(): void {
    this.closed = true;
  }

  reopen(): void {
    this.closed = false;
  }

  private keep(): void {
    if (this.closed || !this.storage) return;
    const { also, pending, aside } = this;
    try {
      if (pending.length + aside.length > 0) {
        this.storage.setItem(this.keyOf(this.client), JSON.stringify({ also, pending, aside } satisfies Kept));
        this.list((clients) => [...clients.filter((client) => client !== this.client), this.client]);
      } else this.drop(this.client);
    } catch {
      // Storage full or forbidden: the page itself still holds the changes, and warns before it closes.
    }
  }

  private drop(client: string): void {
    this.storage!.removeItem(this.keyOf(client));
    if (client) this.list((clients) => clients.filter((other) => other !== client));
  }

  /** The list of outboxes of the project, under its own key. */
  private list(change: (clients: readonly string[]) => readonly string[]): void {
    const { storage } = this;
    const before = this.listed();
    const clients = change(before);
    if (clients.length === before.length && clients.every((client, k) => client === before[k])) return;
    if (clients.length > 0) storage!.setItem(prefix(this.project), JSON.stringify({ clients }));
    else storage!.removeItem(prefix(this.project));
  }

  private listed(): readonly string[] {
    try {
      const kept = JSON.parse(this.storage!.getItem(prefix(this.project)) ?? 'null') as { clients?: string[] } | null;
      return kept?.clients ?? [];
    } catch {
      return [];
    }
  }

  private keyOf(client: string): string {
    return client ? `${prefix(this.project)}.${client}` : prefix(this.project);
  }

  /** Outboxes of this project in the storage but its own; an empty name is that of a former program. */
  private others(): string[] {
    const { storage } = this;
    const start = prefix(this.project);
    const found = [...this.listed()];
    // That of a former program stands under the key of the list.
    if (found.length === 0 && storage!.getItem(start) !== null) found.push('');
    for (let k = 0; k < (storage?.length ?? 0); k++) {
      const key = storage!.key?.(k);
      if (key?.startsWith(`${start}.`)) found.push(key.slice(start.length + 1));
    }
    return [...new Set(found)].filter((client) => client !== this.client).sort();
  }

  private read(key: string): Kept {
    try {
      const kept = JSON.parse(this.storage!.getItem(key) ?? 'null') as Partial<Kept> & { base?: number };
      const pending = (kept?.pending ?? []).map((batch) => ({ ...batch, base: batch.base ?? kept.base ?? 0 }));
      return { also: kept?.also ?? [], pending, aside: kept?.aside ?? [] };
    } catch {
      return { also: [], pending: [], aside: [] };
    }
  }
}

/** Web locks tell which pages live; where the browser has none, every other outbox counts as left. */
export function claimsOf(locks: LockManager | undefined, name = (client: string) => `mesura.outbox.${client}`): Claims {
  if (!locks) return { hold: () => undefined, free: (clients) => Promise.resolve([...clients]) };
  const forever = () => new Promise<never>(() => undefined);
  return {
    hold: (client) => void locks.request(name(client), forever).catch(() => undefined),
    free: async (clients) => {
      const free = await Promise.all(
        clients.map(
          (client) =>
            new Promise<string[]>((resolve) => {
              const taken = (lock: Lock | null) => {
                resolve(lock ? [client] : []);
                return lock ? forever() : undefined;
              };
              locks.request(name(client), { ifAvailable: true }, taken).catch(() => resolve([]));
            }),
        ),
      );
      return free.flat();
    },
  };
}
