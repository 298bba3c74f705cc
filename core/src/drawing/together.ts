import type { ElementId } from '../model/fields';
import type { Network } from '../model/network';
import { panelsOf } from './board';

/** Everything that moves when these are taken: panels with what stands in them, boards with their panels. */
export function movedWith(network: Network, ids: Iterable<ElementId>): Set<ElementId> {
  const all = new Set(ids);
  for (const id of [...all])
    if (network.elements.get(id)?.kind === 'bus') for (const panel of panelsOf(network, id)) all.add(panel.id);
  for (const id of [...all]) {
    const element = network.elements.get(id);
    if (element?.kind === 'panel') for (const member of element.members) all.add(member);
  }
  return all;
}
