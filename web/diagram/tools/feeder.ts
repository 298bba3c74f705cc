/** A feeder drawn by single keys: begun at a busbar or a free end, step by step, stored as one change. */
import { chainChanges, drawChain, type ChainStart } from '@mesura/core/drawing/feeder/chain';
import { boxOf, grid, isDrawn } from '@mesura/core/drawing/shape/shapes';
import { tools, type Tool } from '@mesura/core/drawing/shape/tools';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { withElements, type Network } from '@mesura/core/model/network';
import { newId } from '../../project/newId';
import type { DrawingTool, Hand, Hint, Next } from './tool';

export interface DrawingFeeder {
  readonly kind: 'feeder';
  readonly start: ChainStart;
  readonly steps: readonly Tool[];
  /** Of its elements; filled as they are drawn, so that a symbol stays the same one from step to step. */
  readonly ids: ElementId[];
}

/** Symbols that come next most often. */
const usual = ['k', 'd', 'f', 'c', 'r', 'l', 't', 'b', 'm', 'o', 'g'];
/** Room for the next symbol, in drawing units. */
const next = 50;

const chainOf = ({ start, steps, ids }: DrawingFeeder, network: Network) =>
  drawChain(network, start, steps, (k) => (ids[k] ??= newId()));

function finished(held: DrawingFeeder, hand: Hand): Next<DrawingFeeder> {
  const chain = chainOf(held, hand.network);
  const drawn = chain.elements.filter(isDrawn).map(({ id }) => id);
  // What is refused stays in hand, to be mended.
  const done = drawn.length === 0 || hand.draw(chainChanges(chain), 'Draw feeder', drawn);
  return { held: done ? null : held };
}

export const feederTool: DrawingTool<DrawingFeeder> = {
  on(held, event, hand) {
    if (event.on !== 'key') return null;
    const { start, steps } = held;
    switch (event.key) {
      case 'Escape':
        return { held: null };
      case 'Enter':
        return finished(held, hand);
      case 'Backspace':
        return { held: { ...held, steps: steps.slice(0, -1) } };
      case 'ArrowUp':
      case 'ArrowDown':
        return { held: { ...held, start: { ...start, heading: event.key === 'ArrowUp' ? 'up' : 'down' } } };
      case 'ArrowLeft':
      case 'ArrowRight': {
        // From where it stands now, which may be further along than where it was begun.
        const { at } = chainOf(held, hand.network);
        if (at === undefined) return { held };
        const along = Math.max(0, at + (event.key === 'ArrowLeft' ? -grid : grid));
        return { held: { ...held, start: { ...start, free: false, at: along } } };
      }
      default: {
        const key = event.key.toLowerCase();
        // Symbols of direct current have the letters of the others, with Shift.
        const tool =
          (event.shift && tools.find((each) => each.key === `shift+${key}`)) || tools.find((each) => each.key === key);
        return tool ? { held: { ...held, steps: [...steps, tool] } } : null;
      }
    }
  },

  hint(held, network): Hint {
    const { start, steps } = held;
    const { reason } = chainOf(held, network);
    const from = network.elements.get(start.element);
    const drawn =
      steps.length === 0 ? 'press the keys of its symbols' : steps.map((tool) => tool.title.toLowerCase()).join(', ');
    return {
      lead: `Feeder from ${from ? nameOf(from) : '–'}`,
      text: `${start.heading === 'up' ? ' (upward)' : ''}: ${drawn}${reason ? ` – ${reason}` : ''}`,
      wrong: Boolean(reason),
      keys: [
        ...usual.map((key) => ({
          press: key,
          sign: key.toUpperCase(),
          title: tools.find((tool) => tool.key === key)!.title.toLowerCase(),
        })),
        start.heading === 'down'
          ? { press: 'ArrowUp', sign: '↑', title: 'upward' }
          : { press: 'ArrowDown', sign: '↓', title: 'downward' },
        { press: 'Backspace', sign: '⌫', title: 'take back' },
        { press: 'Enter', sign: 'Enter', title: 'done' },
        { press: 'Escape', sign: 'Esc', title: 'leave' },
      ],
    };
  },

  draft(held, network) {
    if (held.steps.length === 0) return network;
    const { elements, updates } = chainOf(held, network);
    return withElements(network, [...updates, ...elements]);
  },

  follow(held, network) {
    const { start } = held;
    const origin = network.elements.get(start.element);
    const { elements, at = 0 } = chainOf(held, network);
    const last = elements.filter(isDrawn).at(-1) ?? origin;
    if (!last || !isDrawn(last)) return null;
    const box =
      last === origin && last.kind === 'bus' ? { x: last.x + at, y: last.y, width: 0, height: 0 } : boxOf(last);
    return { ...box, y: start.heading === 'up' ? box.y - next : box.y, height: box.height + next };
  },
};
