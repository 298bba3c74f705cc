/** Room on a page for something that belongs to what stands there already. */
import type { ElementId } from '../../model/fields';
import type { Network } from '../../model/network';
import { BoxIndex } from '../shape/boxIndex';
import { boxOf, endPoint, grid, hull, isDrawn, isPlaced, snapToGrid, type Placed } from '../shape/shapes';
import type { Point } from '../shape/terminals';

/** Distance kept from everything else, in drawing units. */
const clearance = 20;
const step = 2 * grid;

/**
 * The page on which most of some elements stand, and the free place for a box of a size that lies nearest to them; beside, rather than
 * above or below. Where none of them stands on the drawing: the first page.
 */
export function roomBeside(
  network: Network,
  ids: readonly ElementId[],
  size: { readonly width: number; readonly height: number },
): { page: ElementId | null; at: Point } {
  const meant = ids.flatMap((id): Placed[] => {
    const element = network.elements.get(id);
    return element && isPlaced(element) ? [element] : [];
  });
  const counts = new Map<ElementId | null, number>();
  for (const { page } of meant) counts.set(page ?? null, (counts.get(page ?? null) ?? 0) + 1);
  const page = [...counts].sort((p, q) => q[1] - p[1])[0]?.[0] ?? null;
  const here = [...network.elements.values()].filter(
    (element): element is Placed => isPlaced(element) && (element.page ?? null) === page,
  );
  const taken = new BoxIndex(here, boxOf);
  for (const run of runsOn(network, page)) taken.add(here[0], run);
  const whole = hull(here.map(boxOf));
  if (!whole) return { page, at: { x: 0, y: 0 } };
  const middle = hull(meant.filter((element) => (element.page ?? null) === page).map(boxOf)) ?? whole;
  const [width, height] = [size.width + 2 * clearance, size.height + 2 * clearance];
  const centre = { x: middle.x + middle.width / 2, y: middle.y + middle.height / 2 };
  let best = { x: whole.x + whole.width, y: snapToGrid(centre.y - height / 2) };
  let least = Infinity;
  for (let x = snapToGrid(whole.x - width); x <= whole.x + whole.width; x += step)
    for (let y = snapToGrid(whole.y - height); y <= whole.y + whole.height; y += step) {
      const away = Math.hypot(
        Math.max(middle.x - x - width, 0, x - middle.x - middle.width),
        // Beside is where the eye looks for it.
        2 * Math.abs(y + height / 2 - centre.y),
      );
      if (away >= least || taken.overlapsAny({ x, y, width, height })) continue;
      [best, least] = [{ x, y }, away];
    }
  return { page, at: { x: snapToGrid(best.x + clearance), y: snapToGrid(best.y + clearance) } };
}

/** About where connections of a page run: from end to end with one corner, either way. */
function* runsOn(network: Network, page: ElementId | null) {
  for (const connection of network.elements.values()) {
    if (connection.kind !== 'connection') continue;
    const [a, b] = [connection.from, connection.to].map((end) => {
      const element = network.elements.get(end.element);
      return element && isDrawn(element) && (element.page ?? null) === page ? endPoint(element, end).at : null;
    });
    if (!a || !b) continue;
    yield {
      x: Math.min(a.x, b.x),
      y: Math.min(a.y, b.y),
      width: Math.abs(a.x - b.x) + 1,
      height: Math.abs(a.y - b.y) + 1,
    };
  }
}
