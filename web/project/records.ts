/**
 * The model as this page knows it: what the server has stored up to a revision, what it has taken since without this page having read the steps in
 * between, and on top what is not sent yet. The revision moves only together with the stored elements.
 */
import { applyChanges, type Change } from '@mesura/core/model/changes';
import type { Element } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import { applyStored } from '@mesura/core/model/storedChanges';
import type { Outgoing } from './outbox';
import type { Accepted, LoadedProject, LogEntry, StoredBatch } from './protocol';

type Elements = ReadonlyMap<ElementId, Element>;

interface Landed {
  readonly batch: Outgoing;
  readonly revision: number;
}

/** A batch laid on the model, with what takes it back. */
export interface Laid {
  readonly batch: Outgoing;
  readonly changes: readonly Change[];
  readonly inverse: readonly Change[];
}

const mapOf = (elements: readonly Element[]) => new Map(elements.map((element) => [element.id, element]));
const longestLog = 400;

export class Records {
  revision: number;
  log: readonly LogEntry[];
  private stored: Elements;
  private landed: readonly Landed[] = [];

  constructor(project: LoadedProject) {
    this.stored = mapOf(project.elements);
    this.revision = project.revision;
    this.log = (project.log ?? []).filter(({ revision }) => revision <= project.revision);
  }

  /** Something of this page was stored past what it knows: the steps in between are to be read. */
  get behind(): boolean {
    return this.landed.length > 0;
  }

  /** The server's whole state. An older one than is known changes nothing. */
  take(fresh: LoadedProject): boolean {
    if (fresh.revision < this.revision) return false;
    this.stored = mapOf(fresh.elements);
    this.revision = fresh.revision;
    this.log = (fresh.log ?? []).filter(({ revision }) => revision <= fresh.revision);
    this.landed = this.landed.filter(({ revision }) => revision > fresh.revision);
    return true;
  }

  /** Steps that follow the known revision without a gap are put in; true when the model may look different afterwards. */
  follow(steps: readonly StoredBatch[]): boolean {
    let changed = false;
    for (const step of steps) {
      if (step.revision !== this.revision + 1) continue;
      this.stored = applyStored(this.stored, step.forward);
      this.note(step);
      this.landed = this.landed.filter(({ revision }) => revision > step.revision);
      changed = true;
    }
    return changed;
  }

  /** A batch of this page was stored, as made by `author` (`by`: their account). True when something of others came with it, so that the model looks different. */
  land(batch: Outgoing, { revision, missed }: Accepted, author: string, by: string | null): boolean {
    if (revision <= this.revision) return false;
    this.landed = [...this.landed, { batch, revision }];
    let others = false;
    const steps = [...(missed ?? [])].sort((p, q) => p.revision - q.revision);
    for (;;) {
      const next = this.revision + 1;
      const own = this.landed.find((each) => each.revision === next);
      if (own) {
        const elements = new Map(this.stored);
        for (const change of own.batch.changes)
          if (change.op === 'remove') elements.delete(change.id);
          else elements.set(change.element.id, change.element);
        this.stored = elements;
        const { batchId, label, origin } = own.batch;
        this.note({ revision: next, batchId, label, origin, author, by, madeAt: '' });
        this.landed = this.landed.filter((each) => each !== own);
        continue;
      }
      const step = steps.find((each) => each.revision === next);
      if (!step) return others;
      this.follow([step]);
      others = true;
    }
  }

  private note({ revision, batchId, label, origin, author, by, madeAt }: LogEntry): void {
    this.revision = revision;
    this.log = [...this.log, { revision, batchId, label, origin, author, by, madeAt }].slice(-longestLog);
  }

  /** Whether the server has this batch already. */
  has(batchId: string): boolean {
    return this.log.some((entry) => entry.batchId === batchId);
  }

  /** What is stored, with what waits on top of it; a batch that does not fit any more is left out, the server will tell. */
  view(pending: readonly Outgoing[]): { network: Network; laid: Laid[] } {
    let network: Network = { elements: this.stored };
    const laid: Laid[] = [];
    for (const batch of [...this.landed.map((each) => each.batch), ...pending]) {
      const changes = batch.onTop ? onTop(network, batch.changes) : batch.changes;
      const applied = applyChanges(network, changes);
      if (!applied.ok) continue;
      network = applied.network;
      laid.push({ batch, changes, inverse: applied.inverse });
    }
    return { network, laid };
  }
}

/** A batch made to fit a newer state: updates of what is gone become additions, additions of what is there updates. */
export function onTop(network: Network, changes: readonly Change[]): Change[] {
  const there = new Set<ElementId>();
  const gone = new Set<ElementId>();
  const has = (id: ElementId) => there.has(id) || (network.elements.has(id) && !gone.has(id));
  return changes.flatMap((change): Change[] => {
    if (change.op === 'remove') {
      const present = has(change.id);
      there.delete(change.id);
      gone.add(change.id);
      return present ? [change] : [];
    }
    const { id } = change.element;
    const op = has(id) ? 'update' : 'add';
    there.add(id);
    gone.delete(id);
    return [{ op, element: change.element }];
  });
}
