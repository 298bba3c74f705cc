/**
 * From drawing to electrical nodes: connections, closed switches and current transformers have no impedance and merge
 * terminals into nodes. What stands inside a node (its "wiring") is kept, because the current through a closed switch or
 * a CT follows from Kirchhoff's law there (see {@link throughCurrents} in `faults/wiring`).
 */
import { kinds, type Element } from './element';
import type { ElementId } from './fields';
import { ofKind, type Network } from './network';
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
  /** Node index of a terminal. */
  readonly nodeOf: ReadonlyMap<TerminalKey, number>;
  readonly problems: readonly Problem[];
}

const isThrough = (element: Element): element is Switch | CurrentTransformer =>
  element.kind === 'currentTransformer' || (element.kind === 'switch' && element.closed);

export function buildTopology(network: Network): Topology {
  const wires: Wire[] = [];
  for (const { id, from, to } of ofKind(network, 'connection'))
    wires.push({
      element: id,
      from: terminalKey(from.element, from.terminal),
      to: terminalKey(to.element, to.terminal),
    });
  const terminals: TerminalKey[] = [];
  for (const element of network.elements.values()) {
    for (let t = 0; t < kinds[element.kind].terminals; t++) terminals.push(terminalKey(element.id, t));
    if (isThrough(element))
      wires.push({ element: element.id, from: terminalKey(element.id, 0), to: terminalKey(element.id, 1) });
  }
  const { nodeOf, count } = merge(terminals, wires);

  const terminalsOf: TerminalKey[][] = Array.from({ length: count }, () => []);
  for (const [key, index] of nodeOf) terminalsOf[index].push(key);
  const wiresOf: Wire[][] = Array.from({ length: count }, () => []);
  for (const wire of wires) wiresOf[nodeOf.get(wire.from)!].push(wire);
  const busesOf: Bus[][] = Array.from({ length: count }, () => []);
  for (const bus of ofKind(network, 'bus')) busesOf[nodeOf.get(terminalKey(bus.id, 0))!].push(bus);

  const { levels, problems } = nominalLevels(network, nodeOf, busesOf);
  const nodes = terminalsOf.map((keys, index) => ({
    index,
    terminals: keys,
    wires: wiresOf[index],
    buses: busesOf[index],
    nominalKv: levels[index],
  }));
  return { nodes, nodeOf, problems };
}

/** Union–find over terminals; nodes are numbered in the order of their first terminal. */
function merge(terminals: readonly TerminalKey[], wires: readonly Wire[]) {
  const parent = new Map<TerminalKey, TerminalKey>(terminals.map((key) => [key, key]));
  const root = (key: TerminalKey): TerminalKey => {
    let at = key;
    while (parent.get(at) !== at) {
      const up = parent.get(at)!;
      parent.set(at, parent.get(up)!);
      at = up;
    }
    return at;
  };
  for (const wire of wires)
    if (parent.has(wire.from) && parent.has(wire.to)) parent.set(root(wire.from), root(wire.to));
  const numberOf = new Map<TerminalKey, number>();
  const nodeOf = new Map<TerminalKey, number>();
  for (const key of terminals) {
    const top = root(key);
    if (!numberOf.has(top)) numberOf.set(top, numberOf.size);
    nodeOf.set(key, numberOf.get(top)!);
  }
  return { nodeOf, count: numberOf.size };
}

function nominalLevels(network: Network, nodeOf: ReadonlyMap<TerminalKey, number>, busesOf: readonly Bus[][]) {
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

  const lines = [...ofKind(network, 'line'), ...ofKind(network, 'seriesReactor')].map((line) => ({
    line,
    a: nodeOf.get(terminalKey(line.id, 0))!,
    b: nodeOf.get(terminalKey(line.id, 1))!,
  }));
  for (let changed = true; changed;) {
    changed = false;
    for (const { a, b } of lines) {
      if (levels[a] === null && levels[b] !== null) [levels[a], changed] = [levels[b], true];
      if (levels[b] === null && levels[a] !== null) [levels[b], changed] = [levels[a], true];
    }
  }
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
    const node = nodeOf.get(terminalKey(id, terminal))!;
    levels[node] ??= kv;
  };
  for (const element of network.elements.values()) {
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
    } else if ('ratedKv' in element) suggest(element.id, 0, element.ratedKv);
  }
  return { levels, problems };
}
