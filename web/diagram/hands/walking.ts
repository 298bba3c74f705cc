/** The way through the drawing by keyboard. */
import { boxOf, isPlaced } from '@mesura/core/drawing/shape/shapes';
import type { Point } from '@mesura/core/drawing/shape/terminals';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import { useDesk } from '../../desk/deskState';
import type { ProjectStore } from '../../project/store';

/** The nearest symbol in a direction from what is selected: the way through the drawing by keyboard. */
export function neighbour(
  network: Network,
  page: ElementId | null,
  from: ElementId | null,
  way: Point,
  centre: Point,
): ElementId | null {
  const start = from ? network.elements.get(from) : undefined;
  const origin = start && isPlaced(start) ? boxOf(start) : { ...centre, width: 0, height: 0 };
  const at = { x: origin.x + origin.width / 2, y: origin.y + origin.height / 2 };
  let best: ElementId | null = null;
  let least = Infinity;
  for (const element of network.elements.values()) {
    if (!isPlaced(element) || element.id === from || (element.page ?? null) !== page) continue;
    const box = boxOf(element);
    // The nearest point of its box: a long busbar is near along its whole length.
    const p = {
      x: Math.min(Math.max(at.x, box.x), box.x + box.width),
      y: Math.min(Math.max(at.y, box.y), box.y + box.height),
    };
    const [dx, dy] = [p.x - at.x, p.y - at.y];
    const along = dx * way.x + dy * way.y;
    const aside = Math.abs(dx * way.y) + Math.abs(dy * way.x);
    if (start && along <= 1) continue;
    const away = start ? along + 2 * aside : Math.hypot(dx, dy);
    if (away < least) [best, least] = [element.id, away];
  }
  return best;
}

export function selectAll(store: ProjectStore): void {
  const { page } = useDesk.getState();
  const { network, select } = store.getState();
  select(
    [...network.elements.values()]
      .filter((element) => isPlaced(element) && (element.page ?? null) === page)
      .map(({ id }) => id),
  );
}
