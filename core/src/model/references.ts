/**
 * References between elements, as the schemas declare them (`reference` in fields.ts): found once for a kind, and read by deletion, copying,
 * changes and validation. A new kind of element brings its references with its schema; nothing here knows one by name.
 */
import { elementSchemas, type Element, type ElementKind } from './element';
import type { ElementId, ReferenceMeta } from './fields';

/** A step towards a reference: a field, or every entry of a list. */
type Step = string | typeof each;
const each = Symbol('each entry');

interface Path {
  readonly steps: readonly Step[];
  readonly meta: ReferenceMeta;
  /** What an emptied field holds: nothing at all, or null. */
  readonly empty: 'absent' | 'null';
}

export interface Reference extends ReferenceMeta {
  readonly id: ElementId;
  /** Field of the element that holds it. */
  readonly field: string;
}

const pathsByKind = new Map<ElementKind, readonly Path[]>();

function pathsOf(kind: ElementKind): readonly Path[] {
  let paths = pathsByKind.get(kind);
  if (!paths) pathsByKind.set(kind, (paths = [...pathsIn(elementSchemas[kind] as unknown as Schema, [])]));
  return paths;
}

/** What is read of a schema's definition. */
interface Schema {
  meta(): { reference?: ReferenceMeta } | undefined;
  readonly def: {
    readonly type: string;
    readonly shape?: Readonly<Record<string, Schema>>;
    readonly element?: Schema;
    readonly innerType?: Schema;
    readonly options?: readonly Schema[];
    readonly getter?: () => Schema;
  };
}

function* pathsIn(schema: Schema, steps: readonly Step[], empty: Path['empty'] = 'null'): Generator<Path> {
  const meta = schema.meta()?.reference;
  if (meta) return yield { steps, meta, empty };
  const { type, shape, element, innerType, options, getter } = schema.def;
  if (shape) for (const [field, inner] of Object.entries(shape)) yield* pathsIn(inner, [...steps, field]);
  if (element) yield* pathsIn(element, [...steps, each]);
  if (innerType)
    yield* pathsIn(innerType, steps, type === 'optional' ? 'absent' : type === 'nullable' ? 'null' : empty);
  if (getter) yield* pathsIn(getter(), steps, empty);
  // Alternatives may share a path; it is followed once.
  const known = new Set<string>();
  for (const option of options ?? [])
    for (const path of pathsIn(option, steps)) {
      const key = path.steps.map(String).join('/');
      if (!known.has(key)) yield path;
      known.add(key);
    }
}

/** All references that an element holds. */
export function referencesOf(element: Element): Reference[] {
  const found: Reference[] = [];
  for (const { steps, meta } of pathsOf(element.kind))
    for (const id of valuesAt(element, steps)) found.push({ ...meta, id, field: String(steps[0]) });
  return found;
}

function valuesAt(value: unknown, steps: readonly Step[], from = 0): ElementId[] {
  if (value === null || value === undefined) return [];
  if (from === steps.length) return [value as ElementId];
  const step = steps[from];
  if (step === each) return (value as unknown[]).flatMap((entry) => valuesAt(entry, steps, from + 1));
  return valuesAt((value as Record<string, unknown>)[step as string], steps, from + 1);
}

/** Stands in for what a reference led to that is gone. */
const gone = Symbol('gone');

/**
 * The element with each of its references led elsewhere: `to` gives the new identifier, or null for what is gone. Null when the element makes no sense
 * without it; the element itself when nothing changes.
 */
export function redirected<E extends Element>(element: E, to: (id: ElementId) => ElementId | null): E | null {
  let result: unknown = element;
  for (const path of pathsOf(element.kind)) {
    result = followed(result, path, 0, to);
    if (result === gone) return null;
  }
  return result as E;
}

function followed(value: unknown, path: Path, from: number, to: (id: ElementId) => ElementId | null): unknown {
  const { steps, meta, empty } = path;
  if (value === null || value === undefined) return value;
  if (from === steps.length) return to(value as ElementId) ?? gone;
  const step = steps[from];
  if (step === each) {
    const list = value as unknown[];
    const after = list.map((entry) => followed(entry, path, from + 1, to));
    if (after.every((entry, k) => entry === list[k])) return list;
    if (meta.whenGone === 'owner' && after.includes(gone)) return gone;
    return after.filter((entry) => entry !== gone);
  }
  const record = value as Record<string, unknown>;
  const before = record[step as string];
  const after = followed(before, path, from + 1, to);
  if (after === before) return value;
  if (after !== gone) return { ...record, [step as string]: after };
  if (meta.whenGone !== 'field') return gone;
  return empty === 'absent' ? without(record, step as string) : { ...record, [step as string]: null };
}

function without(record: Record<string, unknown>, field: string): Record<string, unknown> {
  const { [field]: _, ...rest } = record;
  return rest;
}

/** Everything by which an element leans on others, as text: two states with the same ties bring in no dangling reference. */
export const tiesOf = (element: Element): string =>
  JSON.stringify(pathsOf(element.kind).map(({ steps }) => valuesAt(element, steps)));

/** Whether an element only joins others, and goes along with a copy of all of them. */
export const isJoin = (element: Element): boolean =>
  !('x' in element) && referencesOf(element).some(({ whenGone }) => whenGone === 'owner');
