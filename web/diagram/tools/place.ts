/** A symbol, or a note, that waits to be put down. */
import { FreeNames } from '@mesura/core/drawing/parts/fragment';
import { boxOf, busHeight } from '@mesura/core/drawing/shape/shapes';
import { made, type Tool } from '@mesura/core/drawing/shape/tools';
import type { ElementId } from '@mesura/core/model/fields';
import { aimed } from './aim';
import type { DrawingTool } from './tool';

export interface Placing {
  readonly kind: 'place';
  /** Null stands for a note. */
  readonly tool: Tool | null;
}

export const placeTool: DrawingTool<Placing> = {
  aims: true,
  // A symbol clicked onto another goes beside it or into its run; a note does not.
  on: (held, event, hand) =>
    aimed(held, event, hand.cursor, (at) => hand.place(held.tool, at), { onSymbols: held.tool !== null }),
  hint: ({ tool }) => ({
    text: `Click to place: ${tool?.title ?? 'Note'}; on a connection it goes into it. Arrow keys and Enter do the same. Shift keeps the tool, Esc leaves it.`,
  }),
  ghost({ tool }, at) {
    if (!tool) return { ...at, width: 60, height: 18 };
    const sample = made(tool, 'ghost' as ElementId, new FreeNames([]), null, { x: at.x, y: at.y });
    const box = boxOf(sample);
    return sample.kind === 'bus' ? { ...box, height: busHeight } : box;
  },
};
