/** Copying and pasting: a part of a network with what joins it inside, and the same part again under fresh names. */
import { z } from 'zod';
import type { Change } from '../../model/changes';
import { elementSchema, nameOf, type Element } from '../../model/element';
import type { ElementId } from '../../model/fields';
import type { Network } from '../../model/network';
import { problemsOf, type Problem } from '../../model/problem';
import { isJoin, redirected, referencesOf } from '../../model/references';
import { boxOf, hull, isPlaced } from '../shape/shapes';

/** What a clipboard carries; self-contained: it refers to nothing outside itself. */
export const fragmentSchema = z.object({
  format: z.literal('mesura-fragment'),
  version: z.literal(1),
  elements: z.array(elementSchema).min(1).max(20000),
});
export type Fragment = z.infer<typeof fragmentSchema>;

/**
 * The elements chosen, with the connections among them, and the towers and couplings that only concern them. References to what is not
 * taken along are dropped: a relay without its current transformer measures nowhere.
 */
export function takeFragment(network: Network, ids: Iterable<ElementId>): Fragment | null {
  const taken = new Set<ElementId>();
  const open = [...ids].filter((id) => {
    const element = network.elements.get(id);
    return element !== undefined && isPlaced(element);
  });
  for (const id of open) {
    const element = network.elements.get(id);
    if (!element || taken.has(id)) continue;
    taken.add(id);
    for (const reference of referencesOf(element)) if (reference.copied) open.push(reference.id);
  }
  if (taken.size === 0) return null;
  for (const element of network.elements.values())
    if (isJoin(element) && referencesOf(element).every((reference) => taken.has(reference.id))) taken.add(element.id);
  const elements = [...network.elements.values()]
    .filter((element) => taken.has(element.id))
    .flatMap((element) => contained(element, taken));
  // A chart on the drawing alone is nothing without the chart.
  return elements.length === 0 ? null : { format: 'mesura-fragment', version: 1, elements };
}

/** An element without references to what is not in the fragment; nothing when it makes no sense without. The page is that of the place it is put. */
function contained(element: Element, taken: ReadonlySet<ElementId>): Element[] {
  const kept = redirected(element, (id) => (taken.has(id) ? id : null));
  return kept ? [kept] : [];
}

export interface Pasting {
  readonly network: Network;
  readonly newId: () => ElementId;
  /** Where the upper left corner of the fragment comes to stand. */
  readonly at: { readonly x: number; readonly y: number };
  readonly page?: ElementId;
}

/** The additions that put a fragment into a network, with fresh ids and the next free names. Returns also the ids given. */
export function putFragment(
  fragment: Fragment,
  { network, newId, at, page }: Pasting,
): { changes: Change[]; ids: ElementId[]; idOf: ReadonlyMap<ElementId, ElementId> } {
  const corner = hull(fragment.elements.filter(isPlaced).map(boxOf)) ?? { x: 0, y: 0 };
  const shift = { x: Math.round((at.x - corner.x) / 10) * 10, y: Math.round((at.y - corner.y) / 10) * 10 };
  const idOf = new Map<ElementId, ElementId>(fragment.elements.map(({ id }) => [id, newId()]));
  const names = new FreeNames(network.elements.values());
  const known = foreignKeys(network.elements.values());
  const changes = fragment.elements.map((element): Change => {
    const fresh = renamed(withoutKnown(element, known), idOf, names);
    const placed =
      'x' in fresh ? { ...fresh, x: fresh.x + shift.x, y: fresh.y + shift.y, ...(page ? { page } : {}) } : fresh;
    return { op: 'add', element: placed };
  });
  const ids = changes.flatMap((change) => (change.op === 'add' && isPlaced(change.element) ? [change.element.id] : []));
  return { changes, ids, idOf };
}

const foreignKey = ({ source, id }: { source: string; id: string }) => JSON.stringify([source, id]);
const foreignKeys = (elements: Iterable<Element>): ReadonlySet<string> =>
  new Set([...elements].flatMap((each) => ('foreign' in each && each.foreign ? each.foreign.map(foreignKey) : [])));

/** A copy of what came from a file is not that thing itself. */
function withoutKnown<E extends Element>(element: E, known: ReadonlySet<string>): E {
  if (!('foreign' in element) || !element.foreign?.some((each) => known.has(foreignKey(each)))) return element;
  const { foreign: _foreign, ...rest } = element;
  return rest as E;
}

function renamed(element: Element, idOf: ReadonlyMap<ElementId, ElementId>, names: FreeNames): Element {
  const to = (id: ElementId) => idOf.get(id) ?? id;
  const id = to(element.id);
  const led = redirected(element, to)!;
  const name = 'name' in led ? { name: names.next(led.name) } : {};
  if (led.kind !== 'relay') return { ...led, ...name, id };
  const functions = led.functions.map((fn, k) => ({ ...fn, id: `${id}-f${k + 1}`.slice(0, 64) as ElementId }));
  return { ...led, ...name, id, functions };
}

/** Names that are not taken yet: the number at the end of a name counts on ("Q21" gives "Q22", "Pump" gives "Pump 2"). */
export class FreeNames {
  private readonly taken = new Set<string>();

  constructor(elements: Iterable<Element>) {
    for (const element of elements) if ('name' in element) this.taken.add(nameOf(element).toLowerCase());
  }

  /** The name itself when it is free, else the next one. */
  next(wanted: string): string {
    let name = wanted;
    if (this.taken.has(name.toLowerCase())) {
      const [, stem, digits] = /^(.*?)(\d*)$/s.exec(wanted)!;
      const base = digits ? stem.slice(0, 70) : `${stem.slice(0, 70)} `;
      for (let n = digits ? Number(digits) + 1 : 2; this.taken.has(name.toLowerCase()); n++)
        name = `${base}${String(n).padStart(digits.length, '0')}`;
    }
    this.taken.add(name.toLowerCase());
    return name;
  }
}

/** A fragment from a clipboard's text; the problems say what is wrong with it. */
export function readFragment(text: string): { ok: true; fragment: Fragment } | { ok: false; problems: Problem[] } {
  const wrong = (message: string): { ok: false; problems: Problem[] } => ({
    ok: false,
    problems: [{ severity: 'error', code: 'fragment.format', message }],
  });
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch {
    return wrong('the clipboard holds no part of a drawing');
  }
  if ((data as { format?: unknown } | null)?.format !== 'mesura-fragment')
    return wrong('the clipboard holds no part of a drawing');
  const parsed = fragmentSchema.safeParse(data);
  return parsed.success ? { ok: true, fragment: parsed.data } : { ok: false, problems: problemsOf(parsed.error) };
}
