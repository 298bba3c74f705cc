/** Places for what a file brings without any. Small networks are laid out by layers (`drawing/order`), large ones on a grid, neighbour beside neighbour. */
import { layered } from '../drawing/order/layered';
import { laidOut, layoutGraph } from '../drawing/order/layout';
import { boxOf, hull, isDrawn, isPlaced, snapToGrid, type Drawn } from '../drawing/shape/shapes';
import type { Element } from '../model/element';
import type { ElementId } from '../model/fields';
import { networkOf } from '../model/network';
import type { Brought } from './brought';

/** More symbols take the layered layout too long. */
const mostLayered = 700;

/** Gives every element of the file a place, where the file gave none. */
export async function arrange(brought: Brought): Promise<void> {
  if (brought.isPlaced) return besideNeighbours(brought);
  const drawn = brought.elements.map(({ element }) => element).filter(isDrawn);
  onGrid(brought, drawn);
  if (drawn.length > mostLayered || drawn.length === 0) return;
  const network = networkOf([
    ...brought.elements.map(({ element }) => element),
    ...brought.joints.map(([from, to], k): Element => ({ kind: 'connection', id: `j${k}` as ElementId, from, to })),
  ]);
  const graph = layoutGraph(network, null);
  const places = new Map(await layered(graph));
  for (const element of laidOut(network, graph, places)) brought.replace(element);
}

const cell = { width: 360, height: 300 } as const;

/** Busbars in rows in the order in which they are reached; branches between them, the rest below. */
function onGrid(brought: Brought, drawn: readonly Drawn[]): void {
  const byId = new Map(drawn.map((element) => [element.id, element]));
  const neighbours = new Map<ElementId, ElementId[]>();
  const link = (a: ElementId, b: ElementId) => {
    const list = neighbours.get(a);
    if (list) list.push(b);
    else neighbours.set(a, [b]);
  };
  for (const [from, to] of brought.joints) {
    link(from.element, to.element);
    link(to.element, from.element);
  }
  const order = reached(drawn, neighbours);
  const buses = order.filter((id) => byId.get(id)?.kind === 'bus');
  const columns = Math.max(1, Math.ceil(Math.sqrt(buses.length * 1.3)));
  const at = new Map<ElementId, { x: number; y: number }>();
  const taken = new Set<string>();
  buses.forEach((id, k) => {
    const row = Math.floor(k / columns);
    // There and back again, so that what follows stands beside.
    const column = row % 2 ? columns - 1 - (k % columns) : k % columns;
    const length = Math.min(280, Math.max(120, 40 * (neighbours.get(id)?.length ?? 0)));
    at.set(id, { x: column * cell.width, y: row * cell.height });
    brought.replace({
      ...(byId.get(id) as Extract<Drawn, { kind: 'bus' }>),
      x: column * cell.width,
      y: row * cell.height,
      length,
    });
  });
  for (const id of order) {
    const element = byId.get(id)!;
    if (element.kind === 'bus') continue;
    const ends = (neighbours.get(id) ?? []).flatMap((each) => at.get(each) ?? []);
    const wanted =
      ends.length === 0
        ? { x: 0, y: Math.ceil(buses.length / columns) * cell.height }
        : {
            x: ends.reduce((sum, { x }) => sum + x, 0) / ends.length + 40,
            y: ends.reduce((sum, { y }) => sum + y, 0) / ends.length + 80,
          };
    const place = nearestFree(taken, wanted);
    at.set(id, place);
    brought.replace({ ...element, ...place, turn: 0 } as Element);
  }
}

/** Elements in the order in which a walk from the sources reaches them. */
function reached(drawn: readonly Drawn[], neighbours: ReadonlyMap<ElementId, readonly ElementId[]>): ElementId[] {
  const seen = new Set<ElementId>();
  const order: ElementId[] = [];
  const isSource = ({ kind }: Drawn) =>
    kind === 'networkFeeder' || kind === 'powerStationUnit' || kind === 'synchronousMachine';
  const open = [...drawn.filter(isSource), ...drawn.filter(({ kind }) => kind === 'bus'), ...drawn];
  for (const { id } of open) {
    if (seen.has(id)) continue;
    seen.add(id);
    const queue = [id];
    for (let k = 0; k < queue.length; k++) {
      order.push(queue[k]);
      for (const next of neighbours.get(queue[k]) ?? [])
        if (!seen.has(next)) {
          seen.add(next);
          queue.push(next);
        }
    }
  }
  return order;
}

/** Those few that the file gives no place come to stand at what they are joined to. */
function besideNeighbours(brought: Brought): void {
  if (brought.unplaced.length === 0) return;
  const without = new Set(brought.unplaced);
  const byId = new Map(brought.elements.map(({ element }) => [element.id, element]));
  const taken = new Set<string>();
  const beside = new Map<ElementId, { x: number; y: number }>();
  for (const [from, to] of brought.joints)
    for (const [own, other] of [
      [from.element, to.element],
      [to.element, from.element],
    ]) {
      const found = without.has(own) && !without.has(other) ? byId.get(other) : undefined;
      if (found && isPlaced(found) && !beside.has(own)) beside.set(own, found);
    }
  for (const id of brought.unplaced) {
    const element = byId.get(id);
    if (!element || !isDrawn(element)) continue;
    const near = beside.get(id);
    const place = nearestFree(taken, near ? { x: near.x + 60, y: near.y + 80 } : { x: 0, y: 0 });
    brought.replace({ ...element, ...place } as Element);
  }
}

const slot = { width: 50, height: 70 } as const;

/** The nearest slot that nothing stands in, in growing squares. */
function nearestFree(taken: Set<string>, { x, y }: { x: number; y: number }): { x: number; y: number } {
  const [i, j] = [Math.round(x / slot.width), Math.round(y / slot.height)];
  for (let ring = 0; ; ring++)
    for (let a = -ring; a <= ring; a++)
      for (let b = -ring; b <= ring; b++) {
        if (Math.max(Math.abs(a), Math.abs(b)) !== ring) continue;
        const key = `${i + b},${j + a}`;
        // Rows of busbars stay clear.
        if (taken.has(key) || ((j + a) * slot.height) % cell.height < 40) continue;
        taken.add(key);
        return { x: snapToGrid((i + b) * slot.width), y: snapToGrid((j + a) * slot.height) };
      }
}

/** The elements with their corner at a place, by their own identifiers. */
export function movedTo(
  elements: readonly Element[],
  corner: { x: number; y: number },
): ReadonlyMap<ElementId, Element> {
  const box = hull(elements.filter(isPlaced).map(boxOf));
  const shift = box ? { x: snapToGrid(corner.x - box.x), y: snapToGrid(corner.y - box.y) } : { x: 0, y: 0 };
  return new Map(
    elements.map((element) => [
      element.id,
      isPlaced(element) ? ({ ...element, x: element.x + shift.x, y: element.y + shift.y } as Element) : element,
    ]),
  );
}
