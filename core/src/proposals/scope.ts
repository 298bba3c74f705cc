/** Which devices a proposal is about. */
import { pairsFrom } from '../grading/chain';
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import type { Network } from '../model/network';
import { stationsOf } from '../model/stations';
import { devicesOf } from '../protection/device';
import type { Studies } from '../studies/studies';

/** A device and all that follow it towards the sources, in any of the conditions. */
export function pathOf(studies: Studies, conditions: readonly Condition[], from: ElementId): ReadonlySet<ElementId> {
  const above = new Map<ElementId, ElementId[]>();
  for (const { downstream, upstream } of pairsFrom(studies, conditions))
    above.set(downstream, [...(above.get(downstream) ?? []), upstream]);
  const found = new Set<ElementId>([from]);
  for (const id of found) for (const next of above.get(id) ?? []) found.add(next);
  return found;
}

/** All devices of a station; none where there is no such station. */
export const devicesAt = (network: Network, station: ElementId): ElementId[] => {
  const elements = stationsOf(network).find(({ id }) => id === station)?.elements;
  return devicesOf(network).flatMap(({ id }) => (elements?.has(id) ? [id] : []));
};
