/** The same again: a feeder with everything on it once more, at the next free place of the same busbar. */
import type { Change } from '../model/changes';
import type { ElementId } from '../model/fields';
import type { Network } from '../model/network';
import { clearShift, feederOf } from './chain';
import { connectionsAt } from './splice';
import { putFragment, takeFragment } from './fragment';
import { boxOf, hull, isPlaced, snapToGrid } from './shapes';

/** Changes and the new elements; null when the symbol hangs on no busbar. A busbar too short is lengthened. */
export function duplicateFeeder(
  network: Network,
  id: ElementId,
  newId: () => ElementId,
): { changes: Change[]; ids: ElementId[] } | null {
  const feeder = feederOf(network, id);
  if (!feeder) return null;
  const { root, ids } = feeder;
  const fragment = takeFragment(network, ids);
  const corner = fragment && hull(fragment.elements.filter(isPlaced).map(boxOf));
  if (!fragment || !corner) return null;
  const shift = clearShift(network, ids);
  const at = { x: corner.x + shift, y: corner.y };
  const { changes, ids: copies, idOf } = putFragment(fragment, { network, newId, at, page: root.page });
  let furthest = root.length;
  const inside = new Set(ids);
  for (const connection of connectionsAt(network).get(root.id) ?? []) {
    const [own, other] =
      connection.from.element === root.id ? [connection.from, connection.to] : [connection.to, connection.from];
    if (!inside.has(other.element)) continue;
    const along = (own.at ?? root.length / 2) + shift;
    furthest = Math.max(furthest, along + 20);
    changes.push({
      op: 'add',
      element: {
        kind: 'connection',
        id: newId(),
        from: { ...own, at: along },
        to: { ...other, element: idOf.get(other.element)! },
      },
    });
  }
  if (furthest > root.length) changes.unshift({ op: 'update', element: { ...root, length: snapToGrid(furthest) } });
  return { changes, ids: copies };
}
