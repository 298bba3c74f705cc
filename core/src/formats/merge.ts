/**
 * A network from a file meets a project: what is there already is found by the identifier that the file gave it before, else by kind and name; what differs is told element by element, and what
 * somebody chooses becomes one batch. Only fields that the file states are compared and taken: what was added here stays.
 */
import { FreeNames } from '../drawing/parts/fragment';
import { isPlaced, snapToGrid } from '../drawing/shape/shapes';
import { connectionsAt } from '../drawing/wires/splice';
import { fieldTitle } from '../fields/schemaFields';
import { removalOf, type Change } from '../model/changes';
import { elementSchemas, kinds, nameOf, type Element, type ElementKind } from '../model/element';
import type { ElementId } from '../model/fields';
import { nameIn, ofKind, withElements, type Network } from '../model/network';
import { redirected } from '../model/references';
import type { ConnectionEnd } from '../model/switching';
import type { Brought, BroughtElement, Joint } from './brought';
import type { Entry, Into, Report } from './format';
import { placeFor } from './into';
import { movedTo } from './placing';
import { countsOf } from './project/exchange';
import { remarkText } from './remarks';
import { joinedTerminals, terminalName } from './zeroImpedance';

interface Planned extends Omit<Entry, 'what'> {
  /** Null: comes along with what it needs, and is not asked about. */
  readonly what: Entry['what'] | null;
  readonly changes: readonly Change[];
  /** Entries without which this one makes no sense. */
  readonly needs: readonly string[];
}

/** What a network from a file would bring into a project. */
export function mergeReport(brought: Brought, into: Into, label: string): Report {
  const plan = into.mode === 'beside' ? besidePlan(brought, into) : mergePlan(brought, into);
  const taking = (keys: ReadonlySet<string>): Change[] => taken(plan, keys, into.network);
  const usual = new Set(plan.filter((each) => each.usual).map(({ key }) => key));
  const batch = taking(usual);
  const added = batch.flatMap((change) => (change.op === 'add' ? [change.element] : []));
  const differing = new Set(plan.flatMap(({ key, what }) => (what === 'changed' ? [key] : [])));
  const changed = batch.flatMap((change) => (change.op === 'update' ? [change.element] : []));
  const linked = changed.filter(({ id }) => !differing.has(id)).length;
  return {
    format: brought.format,
    found: [
      ...countsOf(added),
      ...countsOf(
        changed.filter(({ id }) => differing.has(id)),
        ' changed',
      ),
      ...(linked > 0 ? [{ what: 'Known here, and now by its identifier in the file', count: linked }] : []),
    ],
    problems: brought.wrong.all.map((each) => ({
      severity: 'warning',
      code: 'file.content',
      message: remarkText(each),
    })),
    assumed: brought.assumed.all,
    left: brought.left.all,
    entries: plan.flatMap(({ key, kind, name, what, differences, usual: isUsual }) =>
      what === null ? [] : [{ key, kind, name, what, differences, usual: isUsual }],
    ),
    taking,
    batch,
    label,
  };
}

const noMatch: ReadonlyMap<ElementId, Element> = new Map();

/** Everything as new. */
const besidePlan = (brought: Brought, into: Into): Planned[] => planOf(brought, into, noMatch, new Set());

function mergePlan(brought: Brought, into: Into): Planned[] {
  const matches = matchesOf(brought, into.network);
  const needless = needlessJunctions(brought, into.network, matches);
  return [...planOf(brought, into, matches, needless), ...gone(brought, into.network, matches)];
}

/** Junctions of the file whose things hang together here without a busbar. */
function needlessJunctions(
  { junctions, joints }: Brought,
  network: Network,
  matches: ReadonlyMap<ElementId, Element>,
): ReadonlySet<ElementId> {
  const open = [...junctions].filter((id) => !matches.has(id));
  if (open.length === 0) return new Set();
  const ends = new Map<ElementId, ConnectionEnd[]>(open.map((id) => [id, []]));
  for (const [from, to] of joints) {
    ends.get(from.element)?.push(to);
    ends.get(to.element)?.push(from);
  }
  const groups = zeroImpedanceGroups(network);
  const here = (end: ConnectionEnd): ConnectionEnd | null => {
    const match = matches.get(end.element);
    return match ? { ...end, element: match.id } : null;
  };
  return new Set(
    open.filter((id) => {
      const [first, ...others] = ends.get(id)!.map(here);
      return first && others.every((other) => other && groups.together(first, other));
    }),
  );
}

/** Elements of the project by the identifier of those in the file that they are. */
function matchesOf({ elements, source }: Brought, network: Network): ReadonlyMap<ElementId, Element> {
  const byForeign = new Map<string, Element>();
  const byName = new Map<string, Element>();
  for (const element of network.elements.values()) {
    if (!('name' in element)) continue;
    const own = foreignOf(element, source);
    if (own !== undefined) byForeign.set(`${element.kind} ${own}`, element);
    else byName.set(`${element.kind} ${element.name.toLowerCase()}`, element);
  }
  const found = new Map<ElementId, Element>();
  const used = new Set<ElementId>();
  const match = (element: Element, here: Element | undefined) => {
    if (!here || used.has(here.id) || found.has(element.id)) return;
    used.add(here.id);
    found.set(element.id, here);
  };
  for (const { element } of elements) match(element, byForeign.get(`${element.kind} ${foreignOf(element, source)}`));
  for (const { element } of elements) match(element, byName.get(`${element.kind} ${nameOf(element).toLowerCase()}`));
  return found;
}

const foreignOf = (element: Element, source: string): string | undefined =>
  'foreign' in element ? element.foreign?.find((each) => each.source === source)?.id : undefined;

function planOf(
  brought: Brought,
  into: Into,
  matches: ReadonlyMap<ElementId, Element>,
  needless: ReadonlySet<ElementId>,
): Planned[] {
  const { network } = into;
  const here = new Map<ElementId, ElementId>();
  for (const { element } of brought.elements) here.set(element.id, matches.get(element.id)?.id ?? into.newId());
  const names = new FreeNames(network.elements.values());
  const fresh = brought.elements
    .map(({ element }) => element)
    .filter(({ id }) => !matches.has(id) && !needless.has(id));
  const places = movedTo(fresh, placeFor(into));
  const isNew = new Set<ElementId>();
  const plan: Planned[] = [];
  for (const each of brought.elements) {
    if (needless.has(each.element.id)) continue;
    const id = here.get(each.element.id)!;
    const match = matches.get(each.element.id);
    if (match) {
      const entry = changedEntry(each, match, here, brought, network);
      if (entry) plan.push(entry);
      continue;
    }
    isNew.add(id);
    const led = redirected(places.get(each.element.id) ?? each.element, (old) => here.get(old) ?? old)!;
    const element = {
      ...led,
      id,
      ...('name' in led && { name: names.next(led.name) }),
      ...(isPlaced(led) && into.page && { page: into.page }),
    } as Element;
    plan.push({
      key: id,
      kind: kinds[element.kind].title,
      name: nameOf(element),
      what: 'new',
      differences: [],
      usual: true,
      changes: [{ op: 'add', element }],
      needs: [],
    });
  }
  const made = new Map(
    plan.flatMap(({ changes }) =>
      changes.flatMap((change) => (change.op === 'add' ? [[change.element.id, change.element]] : [])),
    ),
  );
  return [
    ...plan,
    ...jointEntries(brought, into, here, isNew, needless, (id) => made.get(id) ?? network.elements.get(id)),
  ];
}

/** The element as it would be with what the file states; null where it would be the same, down to the file's identifier. */
function changedEntry(
  { element, says }: BroughtElement,
  match: Element,
  here: ReadonlyMap<ElementId, ElementId>,
  { source, wrong, layings, isUnsaid }: Brought,
  network: Network,
): Planned | null {
  const led = redirected(element, (old) => here.get(old) ?? old)! as unknown as Record<string, unknown>;
  const before = match as unknown as Record<string, unknown>;
  const foreign = 'foreign' in element ? element.foreign?.[0] : undefined;
  const known = 'foreign' in match ? (match.foreign ?? []) : [];
  const next: Record<string, unknown> = { ...before };
  const differences: Entry['differences'][number][] = [];
  for (const field of says) {
    if (drawingFields.has(field)) continue;
    const stated = asStated(field, before[field], led[field], isUnsaid);
    const differing = differencesIn(field, before[field], stated);
    if (differing.length === 0) continue;
    next[field] = stated;
    differences.push(...differing.map((each) => told(match, each)));
  }
  const laid = layings.get(element.id)?.(match, network);
  if (laid)
    for (const [field, after] of Object.entries(laid)) {
      const differing = differencesIn(field, before[field], after);
      if (differing.length === 0) continue;
      next[field] = after;
      differences.push(...differing.map((each) => told(match, each)));
    }
  const named = nameOf(element) !== nameOf(match) && 'name' in match && foreignOf(match, source) !== undefined;
  if (named) {
    next.name = nameOf(element);
    differences.push({ field: 'Name', before: nameOf(match), after: nameOf(element) });
  }
  if (Array.isArray(next.assumed)) {
    const left = (next.assumed as string[]).filter((path) => !says.includes(path.split('.')[0]));
    if (left.length > 0) next.assumed = left;
    else delete next.assumed;
  }
  const isKnown = !foreign || known.some((each) => each.source === foreign.source && each.id === foreign.id);
  if (!isKnown) next.foreign = [...known.filter((each) => each.source !== foreign.source), foreign].slice(-8);
  if (isKnown && differences.length === 0) return null;
  const parsed = elementSchemas[match.kind].safeParse(next);
  if (!parsed.success) {
    wrong.add(`what the file states does not fit what stands here: ${parsed.error.issues[0].message}`, nameOf(match));
    return null;
  }
  return {
    key: match.id,
    kind: kinds[match.kind].title,
    name: nameOf(match),
    // Where only the identifier of the file is new there is nothing to ask.
    what: differences.length > 0 ? 'changed' : null,
    differences,
    usual: true,
    changes: [{ op: 'update', element: parsed.data as Element }],
    needs: [],
  };
}

const told = (element: Element, { path, before, after }: Differing): Entry['differences'][number] => ({
  field: settingTitle(element, path) ?? fieldTitle(element.kind, path),
  before: shown(before),
  after: shown(after),
});

/** "51N pickup" of "functions.2.pickup"; null for what is no setting of a function. */
function settingTitle(element: Element, path: string): string | null {
  const [field, index, ...rest] = path.split('.');
  if (field !== 'functions' || element.kind !== 'relay') return null;
  const fn = element.functions[Number(index)];
  const code = fn && ('code' in fn ? fn.code : fn.family);
  return code ? `${code} ${rest.join(' ')}` : null;
}

const drawingFields: ReadonlySet<string> = new Set(['x', 'y', 'turn', 'length', 'mirrored', 'page']);

interface Differing {
  readonly path: string;
  readonly before: unknown;
  readonly after: unknown;
}

/** What a file states of a field, with the parts that it cannot tell as they are here. */
function asStated(path: string, here: unknown, stated: unknown, isUnsaid: (path: string) => boolean): unknown {
  if (!isRecord(here) || !isRecord(stated)) return stated;
  return Object.fromEntries(
    Object.entries(stated).map(([key, value]) => [
      key,
      isUnsaid(`${path}.${key}`) ? here[key] : asStated(`${path}.${key}`, here[key], value, isUnsaid),
    ]),
  );
}

/** Numbers that went through another unit and back differ in their last digits. */
const rounding = 1e-9;

function differencesIn(path: string, before: unknown, after: unknown): Differing[] {
  if (Object.is(before, after)) return [];
  if (typeof before === 'number' && typeof after === 'number')
    return Math.abs(before - after) <= rounding * Math.max(Math.abs(before), Math.abs(after))
      ? []
      : [{ path, before, after }];
  if (isRecord(before) && isRecord(after))
    return Object.keys(after).flatMap((key) => differencesIn(`${path}.${key}`, before[key], after[key]));
  if (Array.isArray(before) && Array.isArray(after) && before.length === after.length)
    return after.flatMap((each, k) => differencesIn(`${path}.${k}`, before[k], each));
  return [{ path, before, after }];
}

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

function shown(value: unknown): string {
  if (value === null || value === undefined) return '–';
  if (typeof value === 'number') return String(Number(value.toPrecision(8)));
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (Array.isArray(value)) return `${value.length} entries`;
  return typeof value === 'object' ? '…' : String(value);
}

/** Connections of the file: between what is new they come along; at what is here already they matter where that is joined otherwise. */
function jointEntries(
  brought: Brought,
  into: Into,
  here: ReadonlyMap<ElementId, ElementId>,
  isNew: ReadonlySet<ElementId>,
  needless: ReadonlySet<ElementId>,
  placeOf: (id: ElementId) => Element | undefined,
): Planned[] {
  const { network } = into;
  const wanted = brought.joints.filter((joint) => !joint.some(({ element }) => needless.has(element)));
  const joints = wanted.map((joint): Joint => {
    const [from, to] = joint.map((end): ConnectionEnd => ({ ...end, element: here.get(end.element)! }));
    return [onBus(from, to, placeOf), onBus(to, from, placeOf)];
  });
  const connection = ([from, to]: Joint) =>
    ({ op: 'add', element: { kind: 'connection', id: into.newId(), from, to } }) as const satisfies Change;
  if (isNew.size === brought.elements.length)
    return joints.map((joint) => {
      const add = connection(joint);
      return { ...silent, key: add.element.id, changes: [add], needs: joint.map(({ element }) => element) };
    });
  const groups = zeroImpedanceGroups(network);
  const isHere = (joint: Joint) => joint.every(({ element }) => !isNew.has(element));
  const confirmed = new Set(
    joints
      .filter((joint) => isHere(joint) && groups.together(...joint))
      .flat()
      .map(keyOf),
  );
  const nameAt = ({ element }: ConnectionEnd) => {
    const found = placeOf(element);
    return found ? nameOf(found) : '?';
  };
  return joints.flatMap((joint): Planned[] => {
    const needs = joint.map(({ element }) => element).filter((id) => isNew.has(id));
    if (needs.length === 0 && groups.together(...joint)) return [];
    const old = joint.flatMap((end) =>
      isNew.has(end.element) || confirmed.has(keyOf(end)) ? [] : standing(network, end),
    );
    const add = connection(joint);
    const entry = {
      key: add.element.id,
      changes: [...old.map(({ id }): Change => ({ op: 'remove', id })), add],
      needs,
    };
    if (old.length === 0 && needs.length > 0) return [{ ...silent, ...entry }];
    const name = joint.map(nameAt).join(' – ');
    return [
      {
        ...entry,
        kind: kinds.connection.title,
        name,
        what: 'rewired',
        differences: old.map((each) => ({ field: 'Joined', before: each.name, after: name })),
        // Where this source was taken before it is followed; a first meeting by name alone takes nothing apart.
        usual:
          old.length === 0 ||
          joint.every(
            ({ element }) =>
              isNew.has(element) || foreignOf(network.elements.get(element)!, brought.source) !== undefined,
          ),
      },
    ];
  });
}

/** Where on a busbar it meets what stands below or above. */
function onBus(end: ConnectionEnd, far: ConnectionEnd, placeOf: (id: ElementId) => Element | undefined): ConnectionEnd {
  const [bus, other] = [placeOf(end.element), placeOf(far.element)];
  if (bus?.kind !== 'bus' || end.at !== undefined || !other || !isPlaced(other)) return end;
  const x = other.kind === 'bus' ? other.x + other.length / 2 : other.x;
  return { ...end, at: Math.min(Math.max(snapToGrid(x - bus.x), 0), bus.length) };
}

const silent = { kind: '', name: '', what: null, differences: [], usual: true } as const;

/** Connections at a terminal; at a busbar none, where there is room for more. */
function standing(network: Network, { element, terminal }: ConnectionEnd): { id: ElementId; name: string }[] {
  if (network.elements.get(element)?.kind === 'bus') return [];
  return (connectionsAt(network).get(element) ?? [])
    .filter(({ from, to }) => [from, to].some((each) => each.element === element && each.terminal === terminal))
    .map(({ id, from, to }) => ({ id, name: `${nameIn(network, from.element)} – ${nameIn(network, to.element)}` }));
}

const joining: ReadonlySet<ElementKind> = new Set(['switch', 'currentTransformer']);

const keyOf = ({ element, terminal }: ConnectionEnd): string => terminalName(element, terminal);

/** Terminals that hang together by connections, and by switches and current transformers that may have been put in between. */
function zeroImpedanceGroups(network: Network): { together(p: ConnectionEnd, q: ConnectionEnd): boolean } {
  const union = joinedTerminals(network);
  for (const kind of joining)
    for (const { id } of ofKind(network, kind)) union.join(terminalName(id, 0), terminalName(id, 1));
  return { together: (p, q) => union.root(keyOf(p)) === union.root(keyOf(q)) };
}

/** What came from this source before and is not in it any more. */
function gone({ source, elements }: Brought, network: Network, matches: ReadonlyMap<ElementId, Element>): Planned[] {
  const still = new Set([...matches.values()].map(({ id }) => id));
  if (elements.length === 0) return [];
  return [...network.elements.values()]
    .filter((element) => foreignOf(element, source) !== undefined && !still.has(element.id))
    .map((element): Planned => ({
      key: element.id,
      kind: kinds[element.kind].title,
      name: nameOf(element),
      what: 'gone',
      differences: [],
      usual: false,
      changes: [{ op: 'remove', id: element.id }],
      needs: [],
    }));
}

/** The changes of the chosen entries. What goes takes its connections and references along. */
function taken(plan: readonly Planned[], keys: ReadonlySet<string>, network: Network): Change[] {
  const chosen = new Set(plan.filter(({ key, what }) => what === null || keys.has(key)).map(({ key }) => key));
  const some = plan.filter(({ key, needs }) => chosen.has(key) && needs.every((need) => chosen.has(need)));
  const isJoint = ({ element }: Extract<Change, { op: 'add' | 'update' }>) => element.kind === 'connection';
  const removals = some.flatMap(({ changes }) =>
    changes.flatMap((change) => (change.op === 'remove' ? [change.id] : [])),
  );
  const changes = some.flatMap((each) => each.changes).filter((change) => change.op !== 'remove');
  const kept = changes.filter((change) => !isJoint(change));
  const joints = changes.filter(isJoint);
  if (removals.length === 0) return [...kept, ...joints];
  const updated = withElements(
    network,
    kept.flatMap((change) => (change.op === 'update' ? [change.element] : [])),
  );
  // Removal may touch what is updated too: what it makes of that stands last.
  const removal = removalOf(updated, [...new Set(removals)]);
  const touched = new Set(removal.flatMap((change) => (change.op === 'update' ? [change.element.id] : [])));
  return [...removal, ...kept.filter((change) => !touched.has(change.element.id)), ...joints];
}
