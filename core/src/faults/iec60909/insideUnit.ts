/** Whether a node lies between generator and transformer of a power-station unit, or in the auxiliaries behind it. */
import type { ElementId } from '../../model/fields';
import { ofKind } from '../../model/network';
import { terminalKey } from '../../model/topology';
import type { Assembly } from '../../assembly/assemble';

/** The unit on whose generator side the node lies: reached from its terminal 1 without passing through it, and not from its HV side. */
export function unitAround({ network, topology, positive }: Assembly, node: number): ElementId | null {
  for (const unit of ofKind(network, 'powerStationUnit')) {
    const [hv, generator] = [0, 1].map((terminal) => topology.nodeOf.get(terminalKey(unit.id, terminal))!);
    if (node === generator) return unit.id;
    if (node === hv) continue;
    const neighbours = new Map<number, number[]>();
    for (const { element, a, b } of positive.series) {
      if (element === unit.id) continue;
      neighbours.set(a, [...(neighbours.get(a) ?? []), b]);
      neighbours.set(b, [...(neighbours.get(b) ?? []), a]);
    }
    const reached = new Set([generator]);
    for (const at of reached) for (const next of neighbours.get(at) ?? []) reached.add(next);
    if (reached.has(node) && !reached.has(hv)) return unit.id;
  }
  return null;
}
