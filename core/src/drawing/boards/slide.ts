/** Panels slid along their section of busbar: flush with their neighbours, each in a place of its own, with what stands in them. */
import type { Element, ElementOf } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { ofKind, type Network } from '../../model/network';
import type { Panel } from '../../model/sheet';
import { frontBelow, panelsOf } from './board';
import { closingCoupler, openingCoupler } from './room';
import { Obstacles } from '../wires/route';
import { isPlaced, snapToGrid } from '../shape/shapes';
import { connectionsAt } from '../wires/splice';

const snapReach = 25;

/** Where a dragged panel comes to stand: flush with a neighbour of the same board when it is near one. */
export function snappedPanel(network: Network, panel: Panel, x: number): number {
  let best = snapToGrid(x);
  let least = snapReach;
  for (const other of ofKind(network, 'panel')) {
    if (other.id === panel.id || other.page !== panel.page || Math.abs(other.y - panel.y) > 1) continue;
    for (const side of [-1, 1]) {
      const flush = other.x + (side * (other.width + panel.width)) / 2;
      if (Math.abs(flush - x) < least) [best, least] = [flush, Math.abs(flush - x)];
    }
  }
  return best;
}

/**
 * By how much panels move when some of them are slid along their sections: they stay within the section, and where they would stand on
 * others they take their places among them, all flush. Couplers stay.
 */
export function slid(network: Network, ids: readonly ElementId[], dx: number): ReadonlyMap<ElementId, number> {
  const held = new Set(ids);
  const buses = new Set(
    ids.flatMap((id) => {
      const element = network.elements.get(id);
      return element?.kind === 'panel' && element.type !== 'coupler' ? [element.bus] : [];
    }),
  );
  return new Map([...buses].flatMap((bus) => [...slidAlong(network, bus, held, dx)]));
}

function slidAlong(
  network: Network,
  id: ElementId,
  held: ReadonlySet<ElementId>,
  dx: number,
): ReadonlyMap<ElementId, number> {
  const bus = network.elements.get(id);
  if (bus?.kind !== 'bus') return new Map();
  const panels = panelsOf(network, id).filter(({ type }) => type !== 'coupler');
  const sliding = panels.filter((panel) => held.has(panel.id));
  const leftOf = ({ x, width }: Panel) => x - width / 2;
  const rightOf = ({ x, width }: Panel) => x + width / 2;
  const [opened, closed] = [openingCoupler(network, id), closingCoupler(network, id)];
  const begin = opened ? rightOf(opened) : bus.x;
  const end = closed ? leftOf(closed) : Infinity;
  const by = Math.min(Math.max(dx, begin - Math.min(...sliding.map(leftOf))), end - Math.max(...sliding.map(rightOf)));
  const target = (panel: Panel) => panel.x + (held.has(panel.id) ? by : 0);
  const order = [...panels.filter((panel) => !held.has(panel.id)), ...sliding].sort((p, q) => target(p) - target(q));
  const clear = order.every((panel, k) => {
    const next = order[k + 1];
    return !next || target(next) - target(panel) >= (panel.width + next.width) / 2 - 1;
  });
  if (clear) return new Map(sliding.map((panel) => [panel.id, by]));
  const moves = new Map<ElementId, number>();
  let left = Math.min(...panels.map(leftOf));
  for (const panel of order) {
    moves.set(panel.id, left - leftOf(panel));
    left += panel.width;
  }
  // Not onto what hangs on the bar without a panel.
  const own = new Set([id, ...panels.flatMap(({ members }) => members)]);
  const loose = new Obstacles([...network.elements.values()].filter((element) => !own.has(element.id)));
  const lies = panels.some((panel) => {
    const move = moves.get(panel.id)!;
    return move !== 0 && loose.within(frontBelow({ ...panel, x: panel.x + move }, bus)).length > 0;
  });
  return lies ? new Map() : moves;
}

/** How far a panel has to be slid to change places with its neighbour on one side; null when there is none. */
export function pastNeighbour(network: Network, panel: Panel, side: -1 | 1): number | null {
  const neighbour = panelsOf(network, panel.bus)
    .filter(({ id, type, x }) => id !== panel.id && type !== 'coupler' && side * (x - panel.x) > 0)
    .sort((p, q) => side * (p.x - q.x))[0];
  return neighbour ? neighbour.x - panel.x + side : null;
}

/** Moves panels with what stands in them; where their runs meet the busbar moves along, and the busbar reaches as far as its panels. */
export function movePanels(network: Network, moves: ReadonlyMap<ElementId, number>): Element[] {
  const moved = new Map<ElementId, Element>();
  const get = (id: ElementId) => moved.get(id) ?? network.elements.get(id);
  const touched = new Set<ElementId>();
  for (const [id, by] of moves) {
    const panel = network.elements.get(id);
    if (panel?.kind !== 'panel' || by === 0) continue;
    moved.set(id, { ...panel, x: panel.x + by });
    touched.add(panel.bus);
    for (const member of panel.members) {
      const element = get(member);
      if (!element || !isPlaced(element)) continue;
      moved.set(member, { ...element, x: element.x + by });
      for (const stored of connectionsAt(network).get(member) ?? []) {
        const connection = get(stored.id) as ElementOf<'connection'>;
        const along = (end: typeof connection.from) =>
          end.element === panel.bus ? { ...end, at: Math.max(0, (end.at ?? 0) + by) } : end;
        moved.set(connection.id, { ...connection, from: along(connection.from), to: along(connection.to) });
      }
    }
  }
  for (const id of touched) {
    const bus = get(id);
    if (bus?.kind !== 'bus') continue;
    const ends = ofKind(network, 'panel')
      .filter((panel) => panel.bus === id && panel.type !== 'coupler')
      .map((stored) => get(stored.id) as Panel)
      .map((panel) => panel.x + panel.width / 2 - bus.x);
    const length = snapToGrid(Math.max(bus.length, ...ends));
    if (length !== bus.length) moved.set(id, { ...bus, length });
  }
  return [...moved.values()];
}
