/** The other end of a connection is looked for. */
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import type { DrawingTool } from './tool';

export interface Joining {
  readonly kind: 'join';
  readonly from: ElementId;
}

export const joinTool: DrawingTool<Joining> = {
  on(held, event, hand) {
    if (event.on === 'symbol') {
      if (event.id === held.from) return null;
      hand.join(held.from, event.id);
      return { held: null };
    }
    if (event.on !== 'key') return null;
    if (event.key === 'Escape') return { held: null, cursor: null };
    if (event.key !== 'Enter') return null;
    const [to] = hand.selection;
    // By keys the next one can be tried at once; a click on the wrong one ends it.
    return to && to !== held.from && hand.join(held.from, to) ? { held: null } : { held };
  },
  hint: ({ from }, network) => {
    const element = network.elements.get(from);
    return {
      text: `Connect ${element ? nameOf(element) : '–'} to: click the other, or go there with Alt and arrow keys and press Enter. Esc leaves it.`,
    };
  },
};
