/** The same again: a feeder with everything on it once more, at the next free place of the same section of busbar. */
import type { Change } from '../../model/changes';
import type { ElementOf } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { ofKind, withElements, type Network } from '../../model/network';
import type { Panel } from '../../model/sheet';
import { frontBelow } from '../boards/board';
import { around, feederOf, firstClear, pitch, reaching } from './chain';
import { connectionsAt } from '../wires/splice';
import { FreeNames, putFragment, takeFragment } from '../parts/fragment';
import { leftOf, sectionEnd } from '../boards/room';
import { boxOf, hull, isDrawn, isPlaced, snapToGrid } from '../shape/shapes';

/**
 * Changes and the new elements; null when the symbol hangs on no busbar. A feeder in a panel gets a panel again, flush with the last of its
 * section where there is room. A busbar too short is lengthened; what stands beyond the end of the section makes room.
 */
export function duplicateFeeder(
  network: Network,
  id: ElementId,
  newId: () => ElementId,
): { changes: Change[]; ids: ElementId[] } | null {
  const feeder = feederOf(network, id);
  if (!feeder) return null;
  const { root: bar, ids } = feeder;
  const inside = new Set(ids);
  const panel = panelOf(network, bar.id, inside);
  const boxes = ids.flatMap((each) => {
    const element = network.elements.get(each);
    return element && isDrawn(element) ? [around(boxOf(element))] : [];
  });
  if (panel) boxes.push(frontBelow(panel, bar));
  const shift = firstClear(
    leftOf(network, bar.page, sectionEnd(network, bar)),
    boxes,
    panel ? flushShift(network, panel) : pitch,
  );

  const runs = (connectionsAt(network).get(bar.id) ?? []).flatMap(({ from, to }) => {
    const [own, other] = from.element === bar.id ? [from, to] : [to, from];
    return inside.has(other.element) ? [{ own, other, along: (own.at ?? bar.length / 2) + shift }] : [];
  });
  const furthest = Math.max(...runs.map(({ along }) => along));
  const room = reaching(
    network,
    bar,
    furthest,
    boxes.map((box) => ({ ...box, x: box.x + shift })),
  );
  const updates = new Map(room.map((element) => [element.id, element]));
  const roomy = withElements(network, room);
  const root = roomy.elements.get(bar.id) as ElementOf<'bus'>;

  const fragment = takeFragment(network, ids);
  const corner = fragment && hull(fragment.elements.filter(isPlaced).map(boxOf));
  if (!fragment || !corner) return null;
  const at = { x: corner.x + shift, y: corner.y };
  const { changes, ids: copies, idOf } = putFragment(fragment, { network: roomy, newId, at, page: root.page });
  for (const { own, other, along } of runs)
    changes.push({
      op: 'add',
      element: {
        kind: 'connection',
        id: newId(),
        from: { ...own, at: along },
        to: { ...other, element: idOf.get(other.element)! },
      },
    });
  if (panel) {
    const x = panel.x + shift;
    const copy: Panel = {
      ...panel,
      id: newId(),
      name: new FreeNames(network.elements.values()).next(panel.name),
      x,
      members: panel.members.flatMap((member) => idOf.get(member) ?? []),
    };
    changes.push({ op: 'add', element: copy });
    const reach = snapToGrid(x + panel.width / 2 - root.x);
    if (reach > root.length) updates.set(root.id, { ...root, length: reach });
  }
  return {
    changes: [...[...updates.values()].map((element): Change => ({ op: 'update', element })), ...changes],
    ids: copies,
  };
}

/** The panel on this busbar in which a feeder begins; a coupler is none. */
const panelOf = (network: Network, bus: ElementId, feeder: ReadonlySet<ElementId>): Panel | undefined =>
  ofKind(network, 'panel').find(
    (panel) => panel.bus === bus && panel.type !== 'coupler' && panel.members.some((member) => feeder.has(member)),
  );

/** How far a copy of a panel stands from it when it is flush with the last one of the section. */
function flushShift(network: Network, panel: Panel): number {
  const ends = ofKind(network, 'panel')
    .filter(({ bus, type }) => bus === panel.bus && type !== 'coupler')
    .map(({ x, width }) => x + width / 2);
  return Math.max(...ends) - (panel.x - panel.width / 2);
}
