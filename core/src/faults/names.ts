/** Names of elements and nodes for workings and tables. */
import { nameOf } from '../model/element';
import { nameIn, type Network } from '../model/network';
import type { Place } from './solution/solve';
import type { ElementId } from '../model/fields';
import type { Assembly } from '../assembly/assemble';

export interface Names {
  element(id: ElementId): string;
  node(index: number): string;
}

export const nodeNames = (assembly: Assembly): Names => ({
  element: (id) => nameOf(assembly.network.elements.get(id)!),
  node: (index) => nodeLabel(assembly, index),
});

/** "FER-BRA 1 at 40 %", "BRA 33". */
export const placeIn = (network: Network, place: Place): string =>
  place.at === 'line'
    ? `${nameIn(network, place.element)} at ${Number((100 * place.fraction).toPrecision(3))} %`
    : nameIn(network, place.element);

/** Name of the bus there, or of the element at whose end it is. */
export function nodeLabel({ topology, innerNodes, network }: Assembly, index: number): string {
  const inner = innerNodes[index - topology.nodes.length];
  if (inner) return `star point of ${nameOf(network.elements.get(inner.element)!)}`;
  const node = topology.nodes[index];
  if (node.buses[0]) return node.buses[0].name;
  const key = node.terminals[0];
  // Left empty where switches closed.
  if (key === undefined) return `node ${index}`;
  const element = network.elements.get(key.slice(0, key.lastIndexOf(':')) as ElementId);
  return element ? `end of ${nameOf(element)}` : `node ${index}`;
}
