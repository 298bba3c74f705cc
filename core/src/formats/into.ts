/** Where on the page something new comes to stand. */
import { boxOf, hull, isPlaced } from '../drawing/shape/shapes';
import type { Into } from './format';

/** Clear of everything that stands on the page. */
export function placeFor({ network, at, page }: Into): { x: number; y: number } {
  if (at) return at;
  const box = hull(
    [...network.elements.values()]
      .filter(isPlaced)
      .filter((each) => (each.page ?? undefined) === page)
      .map(boxOf),
  );
  return box ? { x: box.x, y: box.y + box.height + 100 } : { x: 100, y: 100 };
}
