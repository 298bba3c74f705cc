/**
 * Changes as the history keeps them: of an element that was changed only the fields that differ, so that moving ten thousand symbols takes some bytes for
 * each, and taking a step back touches nothing that others have changed since.
 */
import { z } from 'zod';
import { targetOf, type Change } from './changes';
import { elementSchema, type Element } from './element';
import { elementIdSchema, type ElementId } from './fields';
import { upgradedElement } from './upgrade';

export const storedChangeSchema = z.discriminatedUnion('op', [
  z.object({ op: z.literal('add'), element: elementSchema }),
  z.object({ op: z.literal('update'), element: elementSchema }),
  z.object({ op: z.literal('remove'), id: elementIdSchema }),
  z.object({
    op: z.literal('set'),
    id: elementIdSchema,
    set: z.record(z.string(), z.unknown()),
    unset: z.array(z.string()).optional(),
  }),
]);
export type StoredChange = z.infer<typeof storedChangeSchema>;

type Elements = ReadonlyMap<ElementId, Element>;

export const targetOfStored = (change: StoredChange): ElementId =>
  change.op === 'remove' || change.op === 'set' ? change.id : change.element.id;

/** Only what differs; `before` is the state that the first of the changes was made on. */
export function compacted(before: Elements, changes: readonly Change[]): StoredChange[] {
  const own = new Map<ElementId, Element | null>();
  return changes.map((change): StoredChange => {
    const id = targetOf(change);
    const old = own.has(id) ? own.get(id)! : before.get(id);
    own.set(id, change.op === 'remove' ? null : change.element);
    return change.op === 'update' && old && old.kind === change.element.kind ? fieldsOf(old, change.element) : change;
  });
}

function fieldsOf(old: Element, now: Element): StoredChange {
  const [was, is] = [old, now] as unknown as Record<string, unknown>[];
  const set: Record<string, unknown> = {};
  for (const [key, value] of Object.entries(is)) if (value !== undefined && !same(value, was[key])) set[key] = value;
  const unset = Object.keys(was).filter((key) => was[key] !== undefined && is[key] === undefined);
  return { op: 'set', id: old.id, set, ...(unset.length > 0 && { unset }) };
}

/** Most fields are plain values, and most are alike. */
const same = (p: unknown, q: unknown): boolean =>
  p === q || (typeof p === 'object' && p !== null && JSON.stringify(p) === JSON.stringify(q));

const merged = (old: Element, { set, unset = [] }: StoredChange & { op: 'set' }): Element => {
  const now: Record<string, unknown> = { ...old, ...set };
  for (const key of unset) delete now[key];
  // A step of the history may be of an earlier form.
  return upgradedElement(now) as Element;
};

/** The elements after some stored changes; of what is not there nothing is changed. */
export function applyStored(elements: Elements, changes: readonly StoredChange[]): Map<ElementId, Element> {
  const result = new Map(elements);
  for (const change of changes) {
    if (change.op === 'remove') result.delete(change.id);
    else if (change.op === 'set') {
      const old = result.get(change.id);
      if (old) result.set(change.id, merged(old, change));
    } else result.set(change.element.id, change.element);
  }
  return result;
}

/** Stored changes as a batch that can be made on these elements: an update of what is gone falls away. */
export function expanded(elements: Elements, changes: readonly StoredChange[]): Change[] {
  const now = new Map(elements);
  return changes.flatMap((change): Change[] => {
    if (change.op === 'remove') return now.delete(change.id) ? [change] : [];
    const old = now.get(targetOfStored(change));
    if (change.op === 'set' && !old) return [];
    const element = change.op === 'set' ? merged(old!, change) : change.element;
    now.set(element.id, element);
    return [{ op: old ? 'update' : 'add', element }];
  });
}

/** Of an element as somebody left it: the whole of it, the fields that were set, or nothing where it was removed. */
type Left = { readonly whole: Element } | { readonly fields: Map<string, unknown> } | null;

/** As the changes leave each element that they touch. */
function leftBy(did: readonly StoredChange[]): Map<ElementId, Left> {
  const left = new Map<ElementId, Left>();
  for (const change of did) {
    const id = targetOfStored(change);
    if (change.op === 'remove') left.set(id, null);
    else if (change.op !== 'set') left.set(id, { whole: change.element });
    else {
      const before = left.get(id);
      if (before && 'whole' in before) left.set(id, { whole: merged(before.whole, change) });
      else {
        const fields = new Map(before ? before.fields : []);
        for (const [key, value] of Object.entries(change.set)) fields.set(key, value);
        for (const key of change.unset ?? []) fields.set(key, undefined);
        left.set(id, { fields });
      }
    }
  }
  return left;
}

/**
 * What takes a step back without touching what others have changed since. `did`: the step; `back`: what takes it back. A field that is not any more as
 * the step left it, an added element that was changed, a removed one that is there again, stay as they are; `kept` tells of which elements.
 */
export function takenBack(
  elements: Elements,
  did: readonly StoredChange[],
  back: readonly StoredChange[],
): { readonly changes: readonly StoredChange[]; readonly kept: ReadonlySet<ElementId> } {
  const left = leftBy(did);
  const kept = new Set<ElementId>();
  const isAsLeft = (now: Element, field: string, own: Left | undefined): boolean => {
    if (!own) return true;
    const value = (of: Element) => (of as unknown as Record<string, unknown>)[field];
    if ('whole' in own) return same(value(now), value(own.whole));
    return !own.fields.has(field) || same(value(now), own.fields.get(field));
  };
  const changes = back.flatMap((change): StoredChange[] => {
    const id = targetOfStored(change);
    const own = left.get(id);
    const now = elements.get(id);
    if (change.op === 'add') {
      if (now && own === null) kept.add(id);
      return now && own === null ? [] : [change];
    }
    if (!now) return [change];
    if (change.op === 'set') {
      const mine = (field: string) => isAsLeft(now, field, own);
      const set = Object.fromEntries(Object.entries(change.set).filter(([field]) => mine(field)));
      const unset = change.unset?.filter(mine);
      if (Object.keys(set).length < Object.keys(change.set).length || unset?.length !== change.unset?.length)
        kept.add(id);
      if (Object.keys(set).length === 0 && !unset?.length) return [];
      return [{ op: 'set', id, set, ...(unset && unset.length > 0 && { unset }) }];
    }
    if (
      Object.keys({ ...now, ...(own && 'whole' in own ? own.whole : {}) }).every((field) => isAsLeft(now, field, own))
    )
      return [change];
    kept.add(id);
    return [];
  });
  return { changes, kept };
}
