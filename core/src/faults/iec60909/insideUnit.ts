/** Nodes between generator and transformer of a power-station unit, and in the auxiliaries behind it. */
import type { ElementId } from '../../model/fields';
import type { Assembly } from '../../assembly/assemble';

/** The unit on whose generator side each node lies: reached from its terminal 1 without passing through it, and not from its HV side. */
export function nodesInsideUnits({ units, topology, positive }: Assembly): Map<number, ElementId> {
  const inside = new Map<number, ElementId>();
  if (units.length === 0) return inside;
  const neighbours = new Map<number, { to: number; element: ElementId }[]>();
  for (const { element, a, b } of positive.series)
    for (const [from, to] of [
      [a, b],
      [b, a],
    ]) {
      const list = neighbours.get(from);
      if (list) list.push({ to, element });
      else neighbours.set(from, [{ to, element }]);
    }
  for (const id of units) {
    const [hv, generator] = [0, 1].map((terminal) => topology.nodeAt(id, terminal)!);
    const reached = new Set([generator]);
    for (const at of reached)
      for (const { to, element } of neighbours.get(at) ?? []) if (element !== id) reached.add(to);
    for (const node of reached.has(hv) ? [generator] : reached) if (!inside.has(node)) inside.set(node, id);
  }
  return inside;
}
