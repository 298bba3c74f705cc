/** Lines that show, while something is dragged, what it stands in line with; within a small reach it is drawn into line. */
import { boxOf, isDrawn, type Placed } from '@mesura/core/drawing/shape/shapes';
import { adjustedBy, type Adjusted, type Scene } from './scene';

export interface Guide {
  readonly x1: number;
  readonly y1: number;
  readonly x2: number;
  readonly y2: number;
}

const room = 600;

/** The places with the element that is dragged moved into line, when something within `reach` stands there, and the lines to show. */
export function aligned(
  scene: Scene,
  lead: Placed,
  adjusted: Adjusted,
  reach: number,
): { by: { x: number; y: number }; guides: Guide[] } {
  const moved = adjustedBy(lead, adjusted);
  const box = boxOf(moved);
  const around = { x: box.x - room, y: box.y - room, width: box.width + 2 * room, height: box.height + 2 * room };
  let [bestX, bestY] = [
    { off: reach, other: null as Placed | null },
    { off: reach, other: null as Placed | null },
  ];
  for (const other of scene.within(around)) {
    if (adjusted.has(other.id) || !isDrawn(other) || other.kind === 'relay') continue;
    const [dx, dy] = [other.x - moved.x, other.y - moved.y];
    const near = Math.abs(dx) + Math.abs(dy);
    if (other.kind !== 'bus' && moved.kind !== 'bus' && Math.abs(dx) < Math.abs(bestX.off) + (bestX.other ? 0 : 1e-9))
      bestX = { off: dx, other };
    else if (other.kind === 'bus' && moved.kind === 'bus' && Math.abs(dx) < Math.abs(bestX.off))
      bestX = { off: dx, other };
    if (Math.abs(dy) < Math.abs(bestY.off) + (bestY.other ? 0 : 1e-9) && near > 0) bestY = { off: dy, other };
  }
  const by = { x: bestX.other ? bestX.off : 0, y: bestY.other ? bestY.off : 0 };
  const [x, y] = [moved.x + by.x, moved.y + by.y];
  const guides: Guide[] = [];
  if (bestX.other)
    guides.push({ x1: x, x2: x, y1: Math.min(y, bestX.other.y) - 40, y2: Math.max(y, bestX.other.y) + 40 });
  if (bestY.other)
    guides.push({ y1: y, y2: y, x1: Math.min(x, bestY.other.x) - 40, x2: Math.max(x, bestY.other.x) + 40 });
  return { by, guides };
}
