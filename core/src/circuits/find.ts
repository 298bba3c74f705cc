/** Circuits of low-voltage boards as they stand in a network: from a busbar through switches and a cable to what is supplied. */
import type { Element, ElementKind } from '../model/element';
import type { ElementId } from '../model/fields';
import { find, nameIn, ofKind, type Network } from '../model/network';

/** From a board to one of the ends of a circuit, in order. */
export interface Way {
  readonly end: ElementId;
  /** Switches and cables. */
  readonly run: readonly ElementId[];
  readonly cables: readonly ElementId[];
}

/** A way from a board to consumers, or to another board. */
export interface FoundCircuit {
  readonly board: ElementId;
  readonly ways: readonly Way[];
  /** Switches in line from the board on. */
  readonly switches: readonly ElementId[];
  /** Cables in line from the board on; most have one. */
  readonly cables: readonly ElementId[];
  /** What is supplied in the end; of a feeder the next board. */
  readonly ends: readonly ElementId[];
  readonly isFeeder: boolean;
}

/** Voltage up to which a board is one of low voltage, kV. */
const lowKv = 1;
const through: ReadonlySet<ElementKind> = new Set(['switch', 'currentTransformer', 'line']);
const consumers: ReadonlySet<ElementKind> = new Set(['load', 'asynchronousMotor', 'staticDrive', 'rectifier', 'shunt']);
const sources: ReadonlySet<ElementKind> = new Set([
  'networkFeeder',
  'synchronousMachine',
  'powerStationUnit',
  'converterSource',
  'doublyFedMachine',
]);

interface End {
  readonly element: ElementId;
  readonly terminal: number;
}

const keyOf = ({ element, terminal }: End): string => `${element}:${terminal}`;

/** Who is connected to a terminal; connections may branch. */
function joined(network: Network): (end: End) => readonly End[] {
  const map = new Map<string, End[]>();
  const put = (a: End, b: End) => {
    const list = map.get(keyOf(a));
    if (list) list.push(b);
    else map.set(keyOf(a), [b]);
  };
  for (const { from, to } of ofKind(network, 'connection')) {
    put(from, to);
    put(to, from);
  }
  return (end) => map.get(keyOf(end)) ?? [];
}

/** Steps from the nearest source to each element, whatever switches stand at; `from`: kinds that count as one. */
export function stepsFromSources(
  network: Network,
  from: ReadonlySet<ElementKind> = sources,
): ReadonlyMap<ElementId, number> {
  const beside = new Map<ElementId, ElementId[]>();
  for (const { from, to } of ofKind(network, 'connection'))
    for (const [a, b] of [
      [from.element, to.element],
      [to.element, from.element],
    ]) {
      const list = beside.get(a);
      if (list) list.push(b);
      else beside.set(a, [b]);
    }
  const steps = new Map<ElementId, number>();
  let front = [...network.elements.values()].filter(({ kind }) => from.has(kind)).map(({ id }) => id);
  for (let step = 0; front.length > 0; step++) {
    for (const id of front) steps.set(id, step);
    front = [...new Set(front.flatMap((id) => beside.get(id) ?? []))].filter((id) => !steps.has(id));
  }
  return steps;
}

const known = new WeakMap<Network, readonly FoundCircuit[]>();
/** Looked at last: most networks differ from the one before by a value. */
let last: { readonly network: Network; readonly circuits: readonly FoundCircuit[] } | null = null;

/** Of all low-voltage boards, by the name of the board and of the first switch. Ways back to where a board is fed from are none. */
export function circuitsIn(network: Network): readonly FoundCircuit[] {
  let circuits = known.get(network);
  if (!circuits) {
    circuits = last && isWiredAlike(last.network, network) ? last.circuits : found(network);
    known.set(network, circuits);
  }
  last = { network, circuits };
  return circuits;
}

/** Whether two networks have the same elements by the same names, joined in the same way. */
function isWiredAlike(p: Network, q: Network): boolean {
  if (p.elements.size !== q.elements.size) return false;
  for (const [id, element] of q.elements) {
    const before = p.elements.get(id);
    if (before === element) continue;
    if (before?.kind !== element.kind || element.kind === 'connection') return false;
    if ('name' in element && element.name !== (before as typeof element).name) return false;
    if (
      element.kind === 'bus' &&
      (element.nominalKv !== (before as typeof element).nominalKv ||
        element.system !== (before as typeof element).system)
    )
      return false;
  }
  return true;
}

function found(network: Network): FoundCircuit[] {
  const next = joined(network);
  const steps = stepsFromSources(network);
  const isLow = (element: Element | undefined): boolean =>
    element?.kind === 'bus' && element.system === 'ac' && element.nominalKv <= lowKv;
  const boards = ofKind(network, 'bus').filter(isLow);
  const circuits = boards.flatMap((board) =>
    next({ element: board.id, terminal: 0 }).flatMap((first): FoundCircuit[] => {
      const switches: ElementId[] = [];
      const cables: ElementId[] = [];
      const ends: ElementId[] = [];
      const ways: Way[] = [];
      let isOther = false;
      const passed = new Set<ElementId>([board.id]);
      type On = Omit<Way, 'end'> & { readonly at: End };
      const queue: On[] = [{ at: first, run: [], cables: [] }];
      while (queue.length > 0) {
        const on = queue.shift()!;
        const { at } = on;
        const element = network.elements.get(at.element);
        if (!element || passed.has(element.id)) continue;
        passed.add(element.id);
        if (consumers.has(element.kind) || isLow(element)) {
          ends.push(element.id);
          ways.push({ end: element.id, run: on.run, cables: on.cables });
          // Others at the same joint.
          if (!isLow(element)) queue.push(...next(at).map((each) => ({ ...on, at: each })));
        } else if (through.has(element.kind)) {
          if (element.kind === 'switch') switches.push(element.id);
          if (element.kind === 'line') cables.push(element.id);
          const onward = {
            run: element.kind === 'currentTransformer' ? on.run : [...on.run, element.id],
            cables: element.kind === 'line' ? [...on.cables, element.id] : on.cables,
          };
          queue.push(
            ...next({ element: element.id, terminal: 1 - at.terminal }).map((each) => ({ ...onward, at: each })),
          );
          // Others at the same joint, beside the way in.
          queue.push(...next(at).map((each) => ({ ...on, at: each })));
        } else if (element.kind !== 'voltageTransformer' && element.kind !== 'earthingSwitch') isOther = true;
      }
      if (isOther || ends.length === 0) return [];
      const isFeeder = ends.some((id) => isLow(network.elements.get(id)));
      // Towards the sources, or between two boards that are fed alike: not a circuit of this board.
      const own = steps.get(board.id) ?? Infinity;
      if (isFeeder && ends.some((id) => isLow(network.elements.get(id)) && (steps.get(id) ?? Infinity) <= own))
        return [];
      return [{ board: board.id, ways, switches, cables, ends, isFeeder }];
    }),
  );
  const nameOf = ({ board, switches, ends }: FoundCircuit): string =>
    `${nameIn(network, board)} ${nameIn(network, switches.at(0) ?? ends[0])}`;
  return circuits.sort((p, q) => nameOf(p).localeCompare(nameOf(q), 'en', { numeric: true }));
}

/** The cable that decides what a circuit carries and loses: the longest. */
export const mainCable = (network: Network, { cables }: FoundCircuit): ElementId | null =>
  cables.reduce<ElementId | null>((longest, id) => {
    const length = (each: ElementId | null) => find(network, 'line', each)?.lengthKm ?? 0;
    return length(id) > length(longest) ? id : longest;
  }, null);
