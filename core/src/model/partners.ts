/** What tests have shown for two types of switches together. */
import type { ElementId } from './fields';
import type { Partner } from './library';
import { find, type Network } from './network';

/** What is listed for the types of two switches, the lower one's own type naming the upper one's; null where nothing is. */
export function partnerOf(network: Network, below: ElementId, above: ElementId): Partner | null {
  const typeOf = (id: ElementId) => find(network, 'switch', id)?.entry;
  const upper = typeOf(above);
  const lower = find(network, 'libraryEntry', (typeOf(below) ?? null) as ElementId | null);
  return (upper && lower?.partners?.find(({ entry }) => entry === upper)) || null;
}
