/** What is put down at a cursor: by a click, or by arrow keys and Enter; Shift keeps it in hand, Escape puts it away. */
import { grid } from '@mesura/core/drawing/shape/shapes';
import type { Point } from '@mesura/core/drawing/shape/terminals';
import type { Next, ToolEvent } from './tool';

const arrows: Readonly<Record<string, Point>> = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: -1 },
  ArrowDown: { x: 0, y: 1 },
};
/** Steps of the grid with Shift. */
const far = 5;

export function aimed<Held>(
  held: Held,
  event: ToolEvent,
  cursor: Point,
  put: (at: Point) => void,
  { onSymbols }: { onSymbols: boolean },
): Next<Held> | null {
  const down = (at: Point, keep: boolean): Next<Held> => {
    put(at);
    return keep ? { held } : { held: null, cursor: null };
  };
  if (event.on === 'sheet') return down(event.at, event.shift);
  if (event.on === 'symbol') return onSymbols ? down(event.at, false) : null;
  if (event.key === 'Escape') return { held: null, cursor: null };
  if (event.key === 'Enter') return down(cursor, event.shift);
  const way = arrows[event.key];
  if (!way) return null;
  const step = event.shift ? far * grid : grid;
  return { held, cursor: { x: cursor.x + way.x * step, y: cursor.y + way.y * step } };
}
