/**
 * From drawing to electrical nodes: connections, closed switches and current transformers have no impedance and merge
 * terminals into nodes. What stands inside a node (its "wiring") is kept, because the current through a closed switch or
 * a CT follows from Kirchhoff's law there (see {@link throughCurrents} in `faults/wiring`).
 */
import { kinds, type Element } from './element';
import type { ElementId } from './fields';
import { elementsByKind, ofKind, type Network } from './network';
import type { Bus, CurrentTransformer, Switch } from './switching';
import type { Problem } from './problem';

/** A terminal as text, `element:index`. */
export type TerminalKey = string;
export const terminalKey = (element: ElementId, terminal: number): TerminalKey => `${element}:${terminal}`;

/** A join without impedance between two terminals; `element` is the connection, the switch or the CT itself. */
export interface Wire {
  readonly element: ElementId;
  readonly from: TerminalKey;
  readonly to: TerminalKey;
}

export interface Node {
  readonly index: number;
  readonly terminals: readonly TerminalKey[];
  readonly wires: readonly Wire[];
  readonly buses: readonly Bus[];
  /** Nominal voltage in kV: of its buses, else reached through lines, else a rated voltage; null when nothing tells. */
  readonly nominalKv: number | null;
}

export interface Topology {
  readonly nodes: readonly Node[];
  /** Node index of an element's terminal; undefined when there is none. */
  nodeAt(element: ElementId, terminal: number): number | undefined;
  /** The same by key; made when first asked for. */
  readonly nodeOf: ReadonlyMap<TerminalKey, number>;
  readonly problems: readonly Problem[];
}

const isThrough = (element: Element): element is Switch | CurrentTransformer =>
  element.kind === 'currentTransformer' || (element.kind === 'switch' && element.closed);

/** Terminals are numbered one after the other, element by element; text keys are made only for whoever asks for them. */
export function buildTopology(network: Network): Topology {
  const firstTerminal = new Map<ElementId, number>();
  const owner: ElementId[] = [];
  for (const [kind, elements] of elementsByKind(network)) {
    const { terminals } = kinds[kind];
    if (terminals > 0)
      for (const { id } of elements) {
        firstTerminal.set(id, owner.length);
        for (let t = 0; t < terminals; t++) owner.push(id);
      }
  }
  const numberOf = (element: ElementId, terminal: number): number => {
    const first = firstTerminal.get(element);
    if (first === undefined || !(terminal >= 0) || owner[first + terminal] !== element) return -1;
    return first + terminal;
  };
  const wires = wiresOf(network, numberOf);
  const { nodeOf, count } = merge(owner.length, wires);

  const nodeAt = (element: ElementId, terminal: number): number | undefined => {
    const number = numberOf(element, terminal);
    return number < 0 ? undefined : nodeOf[number];
  };
  const busesOf: Bus[][] = Array.from({ length: count }, () => []);
  for (const bus of ofKind(network, 'bus')) busesOf[nodeAt(bus.id, 0)!].push(bus);
  const { levels, problems } = nominalLevels(network, nodeAt, busesOf);

  const keyOf = (number: number): TerminalKey => terminalKey(owner[number], number - firstTerminal.get(owner[number])!);
  const terminalsAt = grouped(count, nodeOf);
  const wiresAt = grouped(
    count,
    wires.from.map((number) => nodeOf[number]),
  );
  const wireOf = (k: number): Wire => ({
    element: wires.element[k],
    from: keyOf(wires.from[k]),
    to: keyOf(wires.to[k]),
  });
  const nodes = busesOf.map(
    (buses, index) =>
      new LazyNode(
        index,
        buses,
        levels[index],
        () => terminalsAt(index).map(keyOf),
        () => wiresAt(index).map(wireOf),
      ),
  );
  let byKey: Map<TerminalKey, number> | null = null;
  return {
    nodes,
    nodeAt,
    get nodeOf() {
      return (byKey ??= new Map(owner.map((_, number) => [keyOf(number), nodeOf[number]])));
    },
    problems,
  };
}

/** Keys and wires are text for a handful of nodes that somebody looks into, not for all. */
class LazyNode implements Node {
  private keys: TerminalKey[] | null = null;
  private joins: Wire[] | null = null;

  constructor(
    readonly index: number,
    readonly buses: readonly Bus[],
    readonly nominalKv: number | null,
    private readonly makeTerminals: () => TerminalKey[],
    private readonly makeWires: () => Wire[],
  ) {}

  get terminals(): readonly TerminalKey[] {
    return (this.keys ??= this.makeTerminals());
  }

  get wires(): readonly Wire[] {
    return (this.joins ??= this.makeWires());
  }
}

interface Wires {
  readonly element: ElementId[];
  /** Numbers of terminals. */
  readonly from: number[];
  readonly to: number[];
}

/** Connections, then closed switches and current transformers; what ends nowhere is left out. */
function wiresOf(network: Network, numberOf: (element: ElementId, terminal: number) => number): Wires {
  const wires: Wires = { element: [], from: [], to: [] };
  const put = (element: ElementId, from: number, to: number) => {
    if (from < 0 || to < 0) return;
    wires.element.push(element);
    wires.from.push(from);
    wires.to.push(to);
  };
  for (const { id, from, to } of ofKind(network, 'connection'))
    put(id, numberOf(from.element, from.terminal), numberOf(to.element, to.terminal));
  for (const kind of ['switch', 'currentTransformer'] as const)
    for (const element of ofKind(network, kind))
      if (isThrough(element)) put(element.id, numberOf(element.id, 0), numberOf(element.id, 1));
  return wires;
}

/** Union–find over terminals; nodes are numbered in the order of their first terminal. */
function merge(terminals: number, { from, to }: Wires): { nodeOf: Int32Array; count: number } {
  const parent = Int32Array.from({ length: terminals }, (_, k) => k);
  const root = (k: number): number => {
    while (parent[k] !== k) k = parent[k] = parent[parent[k]];
    return k;
  };
  for (let k = 0; k < from.length; k++) parent[root(from[k])] = root(to[k]);
  const nodeOf = new Int32Array(terminals);
  const numberOf = new Int32Array(terminals).fill(-1);
  let count = 0;
  for (let k = 0; k < terminals; k++) {
    const top = root(k);
    if (numberOf[top] < 0) numberOf[top] = count++;
    nodeOf[k] = numberOf[top];
  }
  return { nodeOf, count };
}

/** Indices with the same group, in order. */
function grouped(count: number, groupOf: ArrayLike<number>): (group: number) => number[] {
  const start = new Int32Array(count + 1);
  for (let k = 0; k < groupOf.length; k++) start[groupOf[k] + 1]++;
  for (let g = 0; g < count; g++) start[g + 1] += start[g];
  const next = start.slice(0, count);
  const member = new Int32Array(groupOf.length);
  for (let k = 0; k < groupOf.length; k++) member[next[groupOf[k]]++] = k;
  return (group) => [...member.subarray(start[group], start[group + 1])];
}

type NodeAt = (element: ElementId, terminal: number) => number | undefined;

function nominalLevels(network: Network, nodeAt: NodeAt, busesOf: readonly Bus[][]) {
  const problems: Problem[] = [];
  const levels: (number | null)[] = busesOf.map((buses) => {
    const odd = buses.find((bus) => bus.nominalKv !== buses[0].nominalKv);
    if (odd)
      problems.push({
        severity: 'error',
        code: 'level.mixed',
        message: `${odd.name} (${odd.nominalKv} kV) is joined without a transformer to ${buses[0].name} (${buses[0].nominalKv} kV)`,
        element: odd.id,
        field: 'nominalKv',
      });
    return buses[0]?.nominalKv ?? null;
  });

  const ways = [...ofKind(network, 'line'), ...ofKind(network, 'seriesReactor'), ...ofKind(network, 'directCable')];
  const lines = ways.map((line) => ({
    line,
    a: nodeAt(line.id, 0)!,
    b: nodeAt(line.id, 1)!,
  }));
  const spread = (joints: readonly { readonly a: number; readonly b: number }[]) => {
    for (let changed = true; changed;) {
      changed = false;
      for (const { a, b } of joints) {
        if (levels[a] === null && levels[b] !== null) [levels[a], changed] = [levels[b], true];
        if (levels[b] === null && levels[a] !== null) [levels[b], changed] = [levels[a], true];
      }
    }
  };
  spread(lines);
  // What a switch cuts off stays on its level: a fault there does not become another one when it opens.
  const opened = ofKind(network, 'switch').flatMap((element) => {
    const [a, b] = [nodeAt(element.id, 0), nodeAt(element.id, 1)];
    return !isThrough(element) && a !== undefined && b !== undefined ? [{ a, b }] : [];
  });
  if (opened.length > 0) spread([...lines, ...opened]);
  for (const { line, a, b } of lines)
    if (levels[a] !== null && levels[b] !== null && levels[a] !== levels[b])
      problems.push({
        severity: 'error',
        code: 'level.line',
        message: `${line.name} joins ${levels[a]} kV and ${levels[b]} kV`,
        element: line.id,
      });

  // A node without a bus, such as the run between a breaker and a transformer, takes the rated voltage that ends there.
  const suggest = (id: ElementId, terminal: number, kv: number) => {
    const node = nodeAt(id, terminal)!;
    levels[node] ??= kv;
  };
  for (const [kind, elements] of elementsByKind(network)) {
    if (kind === 'connection' || kind === 'bus' || kind === 'line') continue;
    for (const element of elements)
      if (element.kind === 'transformer') {
        suggest(element.id, 0, element.hvKv);
        suggest(element.id, 1, element.lvKv);
      } else if (element.kind === 'threeWindingTransformer') {
        suggest(element.id, 0, element.hvKv);
        suggest(element.id, 1, element.mvKv);
        suggest(element.id, 2, element.lvKv);
      } else if (element.kind === 'powerStationUnit') {
        suggest(element.id, 0, element.transformer.hvKv);
        suggest(element.id, 1, element.generator.ratedKv);
      } else {
        const own = levelByRating(element);
        if (own !== null) suggest(element.id, 0, own);
      }
  }
  return { levels, problems };
}

/** Rated voltage that says on which level an element stands, in kV; switchgear and boards may stand on any up to theirs. */
export const levelByRating = (element: Element): number | null =>
  'ratedKv' in element && element.kind !== 'switch' && element.kind !== 'bus' ? element.ratedKv : null;
