/** What makes one state of a network of another: the changes, and the same for people to read. */
import type { Change } from './changes';
import { kinds, nameOf, type Element } from './element';
import type { ElementId } from './fields';
import type { Network } from './network';

export interface FieldDifference {
  /** Path inside the element, such as `max.ikKa`. */
  readonly path: string;
  readonly before: unknown;
  readonly after: unknown;
}

export interface ElementDifference {
  readonly id: ElementId;
  readonly name: string;
  readonly kind: string;
  readonly what: 'added' | 'removed' | 'changed';
  /** True when only its place on the drawing differs. */
  readonly moved: boolean;
  readonly fields: readonly FieldDifference[];
}

/** Fields that say where something stands, not what it is. */
const drawingFields = /^(x|y|turn|mirrored|page|pinned|length|width|height)$|\.at$/;

/** All differences, in the order removed, added, changed; connections stand last. */
export function differences(before: Network, after: Network): ElementDifference[] {
  return inOrder(idsOf(before, after).map((id) => differenceOf(before, after, id)));
}

/** Ids of all elements of either state. */
export const idsOf = (before: Network, after: Network): ElementId[] => [
  ...new Set([...before.elements.keys(), ...after.elements.keys()]),
];

/** What differs in one element; null when nothing does. */
export function differenceOf(before: Network, after: Network, id: ElementId): ElementDifference | null {
  const [old, element] = [before.elements.get(id), after.elements.get(id)];
  if (old === element) return null;
  if (!element) return entry(before, old!, 'removed', []);
  if (!old) return entry(after, element, 'added', []);
  const fields = fieldDifferences(old, element);
  return fields.length > 0 ? entry(after, element, 'changed', fields) : null;
}

/** In the order of {@link differences}. */
export function inOrder(some: readonly (ElementDifference | null)[]): ElementDifference[] {
  const found = some.filter((each) => each !== null);
  const order = { removed: 0, added: 1, changed: 2 };
  const rank = (each: ElementDifference) =>
    order[each.what] + (each.kind === kinds.connection.title ? 10 : 0) + (each.moved ? 5 : 0);
  return found.sort((p, q) => rank(p) - rank(q));
}

/** A connection is known by what it joins. */
function nameIn(network: Network, element: Element): string {
  if (element.kind !== 'connection') return nameOf(element);
  const [a, b] = [element.from, element.to].map((end) => network.elements.get(end.element));
  return `${a ? nameOf(a) : '?'} – ${b ? nameOf(b) : '?'}`;
}

const entry = (
  network: Network,
  element: Element,
  what: ElementDifference['what'],
  fields: FieldDifference[],
): ElementDifference => ({
  id: element.id,
  name: nameIn(network, element),
  kind: kinds[element.kind].title,
  what,
  moved: fields.length > 0 && fields.every(({ path }) => drawingFields.test(path)),
  fields,
});

function fieldDifferences(before: unknown, after: unknown, path = ''): FieldDifference[] {
  if (Object.is(before, after)) return [];
  if (isRecord(before) && isRecord(after)) {
    const keys = new Set([...Object.keys(before), ...Object.keys(after)]);
    return [...keys].flatMap((key) => fieldDifferences(before[key], after[key], path ? `${path}.${key}` : key));
  }
  if (Array.isArray(before) && Array.isArray(after) && JSON.stringify(before) === JSON.stringify(after)) return [];
  return [{ path, before, after }];
}

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** The batch that turns one state into another: removals first, so that names are free again. */
export function changesBetween(from: Network, to: Network): Change[] {
  const changes: Change[] = [];
  for (const id of from.elements.keys()) if (!to.elements.has(id)) changes.push({ op: 'remove', id });
  for (const [id, element] of to.elements) {
    const old = from.elements.get(id);
    if (!old) changes.push({ op: 'add', element });
    else if (fieldDifferences(old, element).length > 0)
      // What changed its kind is another thing under the same id.
      changes.push(
        ...(old.kind === element.kind
          ? [{ op: 'update', element } as const]
          : [{ op: 'remove', id } as const, { op: 'add', element } as const]),
      );
  }
  return changes;
}
