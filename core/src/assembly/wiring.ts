/**
 * Currents through what has no impedance: closed switches, current transformers, connections. Inside a node they follow from
 * Kirchhoff's current law alone as long as the wiring is a tree; in a closed ring of switches they are not determined.
 */
import type { ElementId } from '../model/fields';
import type { Node, TerminalKey, Wire } from '../model/topology';
import { addComponents, noCurrents, scaleComponents, type SequenceCurrents } from '../sequence/components';

/**
 * Current through each wire of a node, from its `from` to its `to` end; absent where a ring leaves it open.
 * `injected`: currents out of elements into the node; `drawn`: the fault current and its terminal, when it is in this node.
 */
export function throughCurrents(
  node: Node,
  injected: ReadonlyMap<TerminalKey, SequenceCurrents>,
  drawn?: { at: TerminalKey; current: SequenceCurrents },
): Map<ElementId, SequenceCurrents> {
  const surplus = new Map<TerminalKey, SequenceCurrents>();
  for (const key of node.terminals) surplus.set(key, injected.get(key) ?? noCurrents);
  if (drawn)
    surplus.set(drawn.at, addComponents(surplus.get(drawn.at) ?? noCurrents, scaleComponents(drawn.current, -1)));

  const wiresAt = new Map<TerminalKey, Set<Wire>>();
  for (const key of node.terminals) wiresAt.set(key, new Set());
  for (const wire of node.wires) {
    wiresAt.get(wire.from)!.add(wire);
    wiresAt.get(wire.to)!.add(wire);
  }
  const result = new Map<ElementId, SequenceCurrents>();
  const leaves = node.terminals.filter((key) => wiresAt.get(key)!.size === 1);
  for (let k = 0; k < leaves.length; k++) {
    const leaf = leaves[k];
    const wire = [...wiresAt.get(leaf)!][0];
    if (!wire) continue;
    const other = wire.from === leaf ? wire.to : wire.from;
    const flow = surplus.get(leaf)!;
    result.set(wire.element, wire.from === leaf ? flow : scaleComponents(flow, -1));
    surplus.set(other, addComponents(surplus.get(other)!, flow));
    wiresAt.get(leaf)!.delete(wire);
    wiresAt.get(other)!.delete(wire);
    if (wiresAt.get(other)!.size === 1) leaves.push(other);
  }
  return result;
}
