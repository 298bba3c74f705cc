/** What may be connected to what: asked while a connection is being drawn, so that a wrong one is refused before it is made. */
import { kinds, nameOf, type Element } from './element';
import type { ElementId } from './fields';
import { ofKind, type Network } from './network';
import { levelByRating, type Topology } from './topology';

export interface Terminal {
  readonly element: ElementId;
  readonly terminal: number;
}

/** Rated and nominal voltages that meet may differ by this much (a 10.5 kV winding at an 11 kV bus). */
const voltageTolerance = 0.25;

/** Null when the two terminals may be joined, otherwise why not. */
export function whyNotConnect(network: Network, topology: Topology, from: Terminal, to: Terminal): string | null {
  const [a, b] = [network.elements.get(from.element), network.elements.get(to.element)];
  if (!a || !b) return 'one end does not exist';
  if (a.id === b.id) return 'both ends are the same element';
  for (const [element, end] of [
    [a, from],
    [b, to],
  ] as const) {
    if (end.terminal >= kinds[element.kind].terminals) return `${nameOf(element)} has no such terminal`;
    if (element.kind !== 'bus' && isTaken(network, end))
      return `this terminal of ${nameOf(element)} is taken; branch off at a bus`;
  }
  if (
    topology.nodeAt(a.id, from.terminal) === topology.nodeAt(b.id, to.terminal) &&
    a.kind === 'bus' &&
    b.kind === 'bus'
  )
    return 'these buses are joined already';
  const [p, q] = [levelAt(topology, a, from.terminal), levelAt(topology, b, to.terminal)];
  if (p !== null && q !== null && Math.abs(p - q) > voltageTolerance * Math.max(p, q))
    return `${p} kV and ${q} kV do not go together without a transformer`;
  return null;
}

const isTaken = (network: Network, end: Terminal): boolean =>
  ofKind(network, 'connection').some(({ from, to }) =>
    [from, to].some((other) => other.element === end.element && other.terminal === end.terminal),
  );

function levelAt(topology: Topology, element: Element, terminal: number): number | null {
  if (element.kind === 'transformer') return terminal === 0 ? element.hvKv : element.lvKv;
  const own = levelByRating(element);
  if (own !== null) return own;
  const node = topology.nodeAt(element.id, terminal);
  return node === undefined ? null : topology.nodes[node].nominalKv;
}
