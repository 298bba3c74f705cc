/**
 * Where a switch or a current transformer cuts the wiring of its node: the current through it is what the elements on one side put in, by Kirchhoff's law.
 * Undetermined in a ring of closed switches, where no cut parts the node.
 */
import { kinds } from '../model/element';
import type { ElementId } from '../model/fields';
import type { Network } from '../model/network';
import type { Node, TerminalKey, Topology } from '../model/topology';
import { hasSequenceModel } from '../sequence/models';

export interface Cut {
  readonly node: number;
  /** 0: what the elements on the side of terminal 0 put in flows from terminal 0 to 1; 1: the other way. */
  readonly side: 0 | 1;
  /** Everything on that side. */
  readonly keys: ReadonlySet<TerminalKey>;
  /** Of it, terminals of elements that may carry current. */
  readonly carrying: readonly { readonly key: TerminalKey; readonly element: ElementId; readonly terminal: number }[];
}

const cuts = new WeakMap<Topology, Map<ElementId, Cut | null>>();

/** The cut at a closed switch or a current transformer; null where it is open, not in the network, or in a ring. Found once. */
export function cutAt(network: Network, topology: Topology, element: ElementId): Cut | null {
  let known = cuts.get(topology);
  if (!known) cuts.set(topology, (known = new Map()));
  let cut = known.get(element);
  if (cut === undefined) known.set(element, (cut = findCut(network, topology, element)));
  return cut;
}

function findCut(network: Network, topology: Topology, element: ElementId): Cut | null {
  const index = topology.nodeAt(element, 0);
  if (index === undefined || index !== topology.nodeAt(element, 1)) return null;
  const node = topology.nodes[index];
  const [first, second] = [`${element}:0`, `${element}:1`];
  const neighbours = neighboursIn(node);
  if (!neighbours.get(first)?.some(({ by }) => by === element)) return null;
  const keys = sideOf(first, element, neighbours);
  if (keys.has(second)) return null;
  const other = new Set(node.terminals.filter((key) => !keys.has(key)));
  const [own, far] = [carryingOf(network, keys), carryingOf(network, other)];
  // The shorter sum.
  return own.length <= far.length
    ? { node: index, side: 0, keys, carrying: own }
    : { node: index, side: 1, keys: other, carrying: far };
}

interface Neighbour {
  readonly key: TerminalKey;
  readonly by: ElementId;
}

const wirings = new WeakMap<Node, ReadonlyMap<TerminalKey, readonly Neighbour[]>>();

/** What each terminal of a node is wired to. */
export function neighboursIn(node: Node): ReadonlyMap<TerminalKey, readonly Neighbour[]> {
  let wiring = wirings.get(node);
  if (!wiring) {
    const made = new Map<TerminalKey, Neighbour[]>();
    const put = (from: TerminalKey, to: Neighbour) => {
      const list = made.get(from);
      if (list) list.push(to);
      else made.set(from, [to]);
    };
    for (const { element, from, to } of node.wires) {
      put(from, { key: to, by: element });
      put(to, { key: from, by: element });
    }
    wirings.set(node, (wiring = made));
  }
  return wiring;
}

function sideOf(
  start: TerminalKey,
  without: ElementId,
  neighbours: ReadonlyMap<TerminalKey, readonly Neighbour[]>,
): Set<TerminalKey> {
  const reached = new Set([start]);
  for (const key of reached)
    for (const { key: next, by } of neighbours.get(key) ?? []) if (by !== without) reached.add(next);
  return reached;
}

const carryingOf = (network: Network, keys: ReadonlySet<TerminalKey>): Cut['carrying'] =>
  [...keys].flatMap((key) => {
    const [element, terminal] = splitKey(key);
    const kind = network.elements.get(element)?.kind;
    return kind && hasSequenceModel(kind) && kinds[kind].terminals > 0 ? [{ key, element, terminal }] : [];
  });

export const splitKey = (key: TerminalKey): [ElementId, number] => {
  const at = key.lastIndexOf(':');
  return [key.slice(0, at) as ElementId, Number(key.slice(at + 1))];
};
