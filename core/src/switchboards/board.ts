/** Boards as they stand: sections of busbar with what is connected to them side by side, what leads to where, which board feeds which. */
import { circuitsIn, stepsFromSources } from '../circuits/find';
import { boardsOf } from '../lowVoltage/demand';
import { panelsOf } from '../drawing/boards/board';
import { kinds, nameOf, type Element, type ElementKind } from '../model/element';
import type { ElementId } from '../model/fields';
import { ofKind, type Network } from '../model/network';

/** What is connected to a section at one place, up to the cable, transformer, consumer or busbar that it leads to. */
export interface Outlet {
  /** The first element that hangs on the busbar. */
  readonly key: ElementId;
  readonly section: ElementId;
  readonly panel: ElementId | null;
  /** Title of its panel, else of what it leads to. */
  readonly title: string;
  readonly side: 'in' | 'out' | 'coupler' | 'measuring';
  /** From the busbar on: switches, instrument transformers, with the relays that measure there or trip them. */
  readonly components: readonly ElementId[];
  readonly leadsTo: readonly ElementId[];
}

export interface Board {
  /** Its first section. */
  readonly id: ElementId;
  readonly name: string;
  readonly nominalKv: number;
  readonly sections: readonly ElementId[];
  readonly outlets: readonly Outlet[];
}

/** What stands inside of a panel. */
const inside: ReadonlySet<ElementKind> = new Set<ElementKind>([
  'switch',
  'currentTransformer',
  'voltageTransformer',
  'earthingSwitch',
]);
const sources: ReadonlySet<ElementKind> = new Set<ElementKind>([
  'networkFeeder',
  'synchronousMachine',
  'powerStationUnit',
  'converterSource',
  'doublyFedMachine',
  'battery',
]);

interface End {
  readonly element: ElementId;
  readonly terminal: number;
}

function neighboursIn(network: Network): (end: End) => readonly (End & { readonly along: number })[] {
  const map = new Map<string, (End & { along: number })[]>();
  const put = (a: End, b: End, along: number) => {
    const key = `${a.element}:${a.terminal}`;
    map.set(key, [...(map.get(key) ?? []), { ...b, along }]);
  };
  for (const { from, to } of ofKind(network, 'connection')) {
    put(from, to, from.at ?? 0);
    put(to, from, to.at ?? 0);
  }
  return ({ element, terminal }) => map.get(`${element}:${terminal}`) ?? [];
}

const known = new WeakMap<Network, readonly Board[]>();

/** All boards with something connected, by their names. */
export function boardsIn(network: Network): readonly Board[] {
  let boards = known.get(network);
  if (!boards) known.set(network, (boards = found(network)));
  return boards;
}

function found(network: Network): Board[] {
  const next = neighboursIn(network);
  const buses = ofKind(network, 'bus');
  const relaysAt = new Map<ElementId, ElementId[]>();
  for (const relay of ofKind(network, 'relay'))
    for (const id of [
      ...relay.inputs.map(({ element }) => element),
      ...relay.circuits.flatMap(({ breakers }) => breakers),
    ])
      if (id) relaysAt.set(id, [...new Set([...(relaysAt.get(id) ?? []), relay.id])]);
  // Of a circuit of low voltage what it supplies says more than its cable.
  const supplied = new Map(
    circuitsIn(network).flatMap(({ switches, ends }) => (switches[0] ? [[switches[0], ends] as const] : [])),
  );
  const walked = new Map<ElementId, Outlet[]>();
  const joined = new Map<ElementId, Set<ElementId>>(buses.map(({ id }) => [id, new Set([id])]));

  for (const bus of buses) {
    const outlets = [...next({ element: bus.id, terminal: 0 })]
      .sort((p, q) => p.along - q.along)
      .map((first) => outletFrom(network, next, bus.id, first, relaysAt, supplied));
    walked.set(bus.id, outlets);
    for (const { side, leadsTo } of outlets)
      if (side === 'coupler')
        for (const id of leadsTo) {
          const all = new Set([...joined.get(bus.id)!, ...joined.get(id)!]);
          for (const each of all) joined.set(each, all);
        }
  }
  const seen = new Set<ElementId>();
  return buses
    .flatMap((bus): Board[] => {
      if (seen.has(bus.id)) return [];
      const sections = buses.filter(({ id }) => joined.get(bus.id)!.has(id));
      for (const { id } of sections) seen.add(id);
      sections.sort((p, q) => p.x - q.x || p.name.localeCompare(q.name, 'en', { numeric: true }));
      const couplers = new Set<ElementId>();
      const outlets = sections.flatMap(({ id }) =>
        (walked.get(id) ?? []).filter(({ side, components }) => {
          // A coupler stands between two sections and counts once.
          if (side !== 'coupler') return true;
          const isNew = components.every((each) => !couplers.has(each));
          components.forEach((each) => couplers.add(each));
          return isNew;
        }),
      );
      if (outlets.length === 0) return [];
      return [
        {
          id: sections[0].id,
          name: commonName(sections.map(nameOf)),
          nominalKv: sections[0].nominalKv,
          sections: sections.map(({ id }) => id),
          outlets,
        },
      ];
    })
    .sort((p, q) => q.nominalKv - p.nominalKv || p.name.localeCompare(q.name, 'en', { numeric: true }));
}

/** "BRA 11 A" and "BRA 11 B" are "BRA 11". */
function commonName(names: readonly string[]): string {
  if (names.length === 1) return names[0];
  const [first] = names;
  let length = first.length;
  while (length > 0 && !names.every((each) => each.startsWith(first.slice(0, length)))) length--;
  const common = first.slice(0, length).replace(/[\s\-/]+$/, '');
  return common.length >= 3 ? common : names.join(', ');
}

function outletFrom(
  network: Network,
  next: ReturnType<typeof neighboursIn>,
  section: ElementId,
  first: End,
  relaysAt: ReadonlyMap<ElementId, readonly ElementId[]>,
  supplied: ReadonlyMap<ElementId, readonly ElementId[]>,
): Outlet {
  const components: ElementId[] = [];
  const leadsTo: End[] = [];
  const queue: End[] = [first];
  const passed = new Set<ElementId>([section]);
  while (queue.length > 0) {
    const at = queue.shift()!;
    const element = network.elements.get(at.element);
    if (!element || passed.has(element.id)) continue;
    passed.add(element.id);
    if (!inside.has(element.kind)) {
      leadsTo.push(at);
      continue;
    }
    components.push(element.id);
    if (kinds[element.kind].terminals === 2) queue.push(...next({ element: element.id, terminal: 1 - at.terminal }));
    queue.push(...next(at));
  }
  const ends = leadsTo.flatMap(({ element }) => network.elements.get(element) ?? []);
  const relays = [...new Set(components.flatMap((id) => relaysAt.get(id) ?? []))];
  const panel = panelsOf(network, section).find(({ members }) => members.includes(first.element)) ?? null;
  return {
    key: first.element,
    section,
    panel: panel?.id ?? null,
    title:
      panel?.name ??
      ((supplied.get(first.element)?.flatMap((id) => network.elements.get(id) ?? []) ?? ends).map(nameOf).join(', ') ||
        nameOf(network.elements.get(first.element)!)),
    side: sideOf(network, section, leadsTo, ends),
    components: [...components, ...relays],
    leadsTo: ends.map(({ id }) => id),
  };
}

function sideOf(
  network: Network,
  section: ElementId,
  leadsTo: readonly End[],
  ends: readonly Element[],
): Outlet['side'] {
  if (ends.length === 0) return 'measuring';
  if (ends.every(({ kind }) => kind === 'bus')) return 'coupler';
  if (ends.some(({ kind }) => sources.has(kind))) return 'in';
  // The lower side of a transformer feeds, its upper side is fed.
  if (leadsTo.some(({ terminal }, k) => /ransformer$/.test(ends[k].kind) && terminal > 0)) return 'in';
  const fedBy = boardsOf(network).fedBy.get(section);
  return fedBy && ends.some(({ id }) => fedBy.cables.includes(id) || id === fedBy.board) ? 'in' : 'out';
}

export interface BoardLink {
  readonly from: ElementId;
  readonly to: ElementId;
  /** The line or transformer by which it leaves the first. */
  readonly over: ElementId;
}

const grid: ReadonlySet<ElementKind> = new Set<ElementKind>(['networkFeeder']);

/** What current passes on its way from board to board. */
const between: ReadonlySet<ElementKind> = new Set<ElementKind>([
  ...inside,
  'line',
  'transformer',
  'threeWindingTransformer',
  'seriesReactor',
]);

/** How boards hang together, by whatever lies between them that is no busbar; `from` is the one nearer to the sources. */
export function boardLinks(network: Network): BoardLink[] {
  const boards = boardsIn(network);
  const next = neighboursIn(network);
  // The grid feeds, where there is one; generators of a plant feed into it.
  const steps = stepsFromSources(network, ofKind(network, 'networkFeeder').length > 0 ? grid : sources);
  const boardOf = new Map(boards.flatMap(({ id, sections }) => sections.map((section) => [section, id] as const)));
  const nearest = new Map(
    boards.map(({ id, sections }) => [id, Math.min(...sections.map((each) => steps.get(each) ?? Infinity))]),
  );
  const links = new Map<string, BoardLink>();
  for (const { id: from, outlets } of boards)
    for (const { leadsTo, side } of outlets) {
      if (side === 'coupler' || side === 'measuring') continue;
      for (const over of leadsTo)
        for (const to of boardsBehind(network, next, over, boardOf)) {
          const isNearer = (nearest.get(from) ?? 0) <= (nearest.get(to) ?? 0);
          // Each is met from both of its ends, and counts from the nearer one.
          if (to !== from && isNearer && !links.has(`${to} ${from} ${over}`))
            links.set(`${from} ${to} ${over}`, { from, to, over });
        }
    }
  return [...links.values()];
}

function boardsBehind(
  network: Network,
  next: ReturnType<typeof neighboursIn>,
  over: ElementId,
  boardOf: ReadonlyMap<ElementId, ElementId>,
): Set<ElementId> {
  const found = new Set<ElementId>();
  const passed = new Set<ElementId>();
  const queue = [over];
  while (queue.length > 0) {
    const id = queue.pop()!;
    if (passed.has(id)) continue;
    passed.add(id);
    const element = network.elements.get(id);
    if (element?.kind === 'bus') {
      const board = boardOf.get(id);
      if (board) found.add(board);
    } else if (element && between.has(element.kind))
      for (let terminal = 0; terminal < kinds[element.kind].terminals; terminal++)
        queue.push(...next({ element: id, terminal }).map((each) => each.element));
  }
  return found;
}
