/**
 * The topology after some switches have opened or closed, found around them alone: nodes that come apart keep their number where most of
 * a node stays and get new ones after all others; of nodes that are joined all but one are left empty.
 */
import type { ElementId } from './fields';
import type { Network } from './network';
import type { Switch } from './switching';
import { levelByRating, terminalKey, type Node, type TerminalKey, type Topology, type Wire } from './topology';

export interface Rewiring {
  readonly topology: Topology;
  /** New nodes of the terminals that have one: by element, then by terminal. */
  readonly moved: ReadonlyMap<ElementId, ReadonlyMap<number, number>>;
  /** How many nodes there are more than before. */
  readonly added: number;
}

const parsed = (key: TerminalKey): [ElementId, number] => {
  const at = key.lastIndexOf(':');
  return [key.slice(0, at) as ElementId, Number(key.slice(at + 1))];
};

/** `toggled`: switches as drawn, each in the other position now. Null where voltage levels would have to be found anew. */
export function rewiredTopology(before: Topology, network: Network, toggled: readonly Switch[]): Rewiring | null {
  const nodes = before.nodes.slice();
  const moved = new Map<ElementId, Map<number, number>>();
  const opened = new Set<ElementId>(toggled.filter(({ closed }) => closed).map(({ id }) => id));
  for (const cluster of clustersOf(before, toggled)) {
    const joins = toggled
      .filter(({ id, closed }) => !closed && cluster.has(before.nodeAt(id, 0)!))
      .map(({ id }): Wire => ({ element: id, from: terminalKey(id, 0), to: terminalKey(id, 1) }));
    const olds = [...cluster].map((index) => before.nodes[index]);
    const kv = olds[0].nominalKv;
    if (kv === null || olds.some(({ nominalKv, buses }) => nominalKv !== kv || buses.some((b) => b.nominalKv !== kv)))
      return null;
    const wires = [...olds.flatMap((node) => node.wires), ...joins].filter(({ element }) => !opened.has(element));
    const oldOf = new Map(olds.flatMap((node) => node.terminals.map((key) => [key, node.index] as const)));
    const buses = olds.flatMap((node) => node.buses);
    const free = new Set(cluster);
    for (const terminals of piecesOf([...oldOf.keys()], wires)) {
      const own = new Set(terminals);
      const index = numberFor(terminals, oldOf, free) ?? nodes.length;
      const here = buses.filter(({ id }) => own.has(terminalKey(id, 0)));
      const level = here.length > 0 ? kv : levelWithoutBus(before, network, terminals, cluster, kv);
      if (level === undefined) return null;
      free.delete(index);
      nodes[index] = {
        index,
        terminals,
        wires: wires.filter(({ from }) => own.has(from)),
        buses: here,
        nominalKv: level,
      };
      for (const key of terminals) {
        if (oldOf.get(key) === index) continue;
        const [element, terminal] = parsed(key);
        moved.set(element, (moved.get(element) ?? new Map()).set(terminal, index));
      }
    }
    for (const index of free) nodes[index] = { index, terminals: [], wires: [], buses: [], nominalKv: null };
  }
  return { topology: withNodes(before, nodes, moved), moved, added: nodes.length - before.nodes.length };
}

/** Nodes at the switches, together where a switch that closes joins them. */
function clustersOf(topology: Topology, toggled: readonly Switch[]): Set<number>[] {
  const clusters: Set<number>[] = [];
  for (const { id } of toggled) {
    const at = [topology.nodeAt(id, 0)!, topology.nodeAt(id, 1)!];
    const known = clusters.filter((cluster) => at.some((node) => cluster.has(node)));
    const all = new Set([...at, ...known.flatMap((cluster) => [...cluster])]);
    for (const cluster of known) clusters.splice(clusters.indexOf(cluster), 1);
    clusters.push(all);
  }
  return clusters;
}

/** Terminals that wires hold together; the largest piece first. */
function piecesOf(terminals: readonly TerminalKey[], wires: readonly Wire[]): TerminalKey[][] {
  const next = new Map<TerminalKey, TerminalKey[]>(terminals.map((key) => [key, []]));
  for (const { from, to } of wires) {
    next.get(from)?.push(to);
    next.get(to)?.push(from);
  }
  const seen = new Set<TerminalKey>();
  const pieces: TerminalKey[][] = [];
  for (const start of terminals) {
    if (seen.has(start)) continue;
    seen.add(start);
    const piece = [start];
    for (const key of piece)
      for (const other of next.get(key)!)
        if (!seen.has(other)) {
          seen.add(other);
          piece.push(other);
        }
    pieces.push(piece);
  }
  return pieces.sort((p, q) => q.length - p.length);
}

/** The number, among those left, of the node that most of a piece comes from. */
function numberFor(
  terminals: readonly TerminalKey[],
  oldOf: ReadonlyMap<TerminalKey, number>,
  free: ReadonlySet<number>,
): number | undefined {
  const count = new Map<number, number>();
  for (const key of terminals) {
    const old = oldOf.get(key)!;
    if (free.has(old)) count.set(old, (count.get(old) ?? 0) + 1);
  }
  return [...count].sort((p, q) => q[1] - p[1])[0]?.[0] ?? [...free][0];
}

/**
 * The level of a piece without a bus, as a topology made anew finds it: through a line from a node whose level stays, else what is rated there. Null where
 * nothing tells; undefined where it is another one than before, or where that takes a wider look.
 */
function levelWithoutBus(
  topology: Topology,
  network: Network,
  terminals: readonly TerminalKey[],
  cluster: ReadonlySet<number>,
  kv: number,
): number | null | undefined {
  let told = false;
  let rated = true;
  for (const key of terminals) {
    const [id, terminal] = parsed(key);
    const element = network.elements.get(id)!;
    switch (element.kind) {
      case 'line':
      case 'seriesReactor': {
        const far = topology.nodeAt(id, 1 - terminal)!;
        if (!cluster.has(far) && topology.nodes[far].buses[0]?.nominalKv === kv) return kv;
        return undefined;
      }
      case 'transformer':
        told = true;
        rated &&= (terminal === 0 ? element.hvKv : element.lvKv) === kv;
        break;
      case 'switch':
      case 'currentTransformer':
      case 'voltageTransformer':
        break;
      default: {
        const own = levelByRating(element);
        if (own === null) return undefined;
        told = true;
        rated &&= own === kv;
      }
    }
  }
  if (!told) return null;
  return rated ? kv : undefined;
}

function withNodes(
  before: Topology,
  nodes: readonly Node[],
  moved: ReadonlyMap<ElementId, ReadonlyMap<number, number>>,
): Topology {
  let byKey: ReadonlyMap<TerminalKey, number> | null = null;
  return {
    nodes,
    nodeAt: (element, terminal) => moved.get(element)?.get(terminal) ?? before.nodeAt(element, terminal),
    get nodeOf() {
      return (byKey ??= new Map([
        ...before.nodeOf,
        ...[...moved].flatMap(([element, at]) =>
          [...at].map(([terminal, node]) => [terminalKey(element, terminal), node] as const),
        ),
      ]));
    },
    problems: before.problems,
  };
}
