/** Undo and redo: two stacks that follow from the log of steps, and what each step did, fetched when it is to be taken back. */
import type { Change } from '@mesura/core/model/changes';
import { expanded, takenBack, type StoredChange } from '@mesura/core/model/storedChanges';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import type { LogEntry, Origin } from './protocol';

export interface Step {
  readonly batchId: string;
  readonly label: string;
  /** Where the log has it; null while it is this page's own. */
  readonly revision: number | null;
  /** What it did and what takes it back, of steps made in this page. */
  readonly own?: { readonly forward: readonly StoredChange[]; readonly inverse: readonly StoredChange[] };
}

export interface Stacks {
  readonly undo: readonly Step[];
  readonly redo: readonly Step[];
}

const bare = (label: string) => label.replace(/^(Undo|Redo): /, '');

/** A step put onto the stacks: an edit ends what could be redone, an undo moves the last step over, a redo moves it back. */
export function stepped({ undo, redo }: Stacks, origin: Origin, step: Step): Stacks {
  if (origin === 'edit') return { undo: [...undo, step], redo: [] };
  const [from, to] = origin === 'undo' ? [undo, redo] : [redo, undo];
  const moved = from.at(-1);
  if (!moved) return { undo, redo };
  const [shorter, longer] = [from.slice(0, -1), [...to, moved]];
  return origin === 'undo' ? { undo: shorter, redo: longer } : { undo: longer, redo: shorter };
}

/** The stacks as the log leaves them. `own`: what this page still knows of its own steps, by batch. */
export function stacksOf(
  log: readonly Pick<LogEntry, 'revision' | 'batchId' | 'label' | 'origin'>[],
  own: ReadonlyMap<string, Step['own']> = new Map(),
): Stacks {
  return log.reduce<Stacks>(
    (stacks, { revision, batchId, label, origin }) =>
      stepped(stacks, origin, { batchId, label: bare(label), revision, own: own.get(batchId) }),
    { undo: [], redo: [] },
  );
}

/** Changes that take a step back, or make it again, on the model as it is now; `kept`: elements on which others have gone on, and which stay so. */
export function changesFor(
  { elements }: Network,
  did: readonly StoredChange[],
  back: readonly StoredChange[],
): { readonly changes: readonly Change[]; readonly kept: ReadonlySet<ElementId> } {
  const { changes, kept } = takenBack(elements, did, back);
  return { changes: expanded(elements, changes), kept };
}
