import type { ElementId } from '../../model/fields';
import type { Network } from '../../model/network';
import { panelsOf, sectionsOf } from './board';

/** Everything that moves when these are taken: panels with what stands in them, boards with all their sections and panels. */
export function movedWith(network: Network, ids: Iterable<ElementId>): Set<ElementId> {
  const all = new Set(ids);
  for (const id of [...all])
    if (network.elements.get(id)?.kind === 'bus')
      for (const section of sectionsOf(network, id)) {
        all.add(section);
        for (const panel of panelsOf(network, section)) all.add(panel.id);
      }
  for (const id of [...all]) {
    const element = network.elements.get(id);
    if (element?.kind === 'panel') for (const member of element.members) all.add(member);
  }
  return all;
}
