/** A copied part or a template that waits to be put down. */
import type { Fragment } from '@mesura/core/drawing/parts/fragment';
import { boxOf, hull, isPlaced } from '@mesura/core/drawing/shape/shapes';
import { aimed } from './aim';
import type { DrawingTool } from './tool';

export interface Stamping {
  readonly kind: 'stamp';
  readonly fragment: Fragment;
  readonly title: string;
}

export const stampTool: DrawingTool<Stamping> = {
  aims: true,
  on: (held, event, hand) =>
    aimed(held, event, hand.cursor, (at) => hand.stamp(held.fragment, at, `Place ${held.title}`), { onSymbols: false }),
  hint: ({ title }) => ({ text: `Click to place: ${title}. Arrow keys and Enter do the same; Esc leaves it.` }),
  ghost({ fragment }, at) {
    const box = hull(fragment.elements.filter(isPlaced).map(boxOf));
    return box && { ...box, ...at };
  },
};
