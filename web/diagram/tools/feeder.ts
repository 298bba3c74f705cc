/** A feeder drawn by single keys: begun at a busbar or a free end, step by step, stored as one change; and the same once more. */
import { chainChanges, drawChain, startAt, type ChainStart } from '@mesura/core/drawing/feeder/chain';
import { duplicateFeeder } from '@mesura/core/drawing/feeder/duplicate';
import { grid, isDrawn } from '@mesura/core/drawing/shape/shapes';
import { tools, type Tool } from '@mesura/core/drawing/shape/tools';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import { newId } from '../../project/newId';
import type { ProjectStore } from '../../project/store';
import { idle, useDrawing } from '../drawingState';
import { choose, report, tell } from '../hands/edit';

/** The same feeder once more: of the symbol selected, or the one drawn last. */
export function sameAgain(store: ProjectStore): void {
  const { network, selection, commit } = store.getState();
  const { lastFeeder } = useDrawing.getState();
  const chosen = selection.find((id) => {
    const element = network.elements.get(id);
    return element && isDrawn(element) && element.kind !== 'bus';
  });
  // What was drawn in one go is repeated in one go, whichever of its symbols is selected.
  const [first] = lastFeeder.filter((id) => network.elements.has(id));
  const id = chosen !== undefined && !lastFeeder.includes(chosen) ? chosen : first;
  const made = id && duplicateFeeder(network, id, newId);
  if (!made) return tell('Nothing to repeat', 'Select a symbol of a feeder that hangs on a busbar, or draw one first.');
  if (report(commit(made.changes, 'Same feeder again'))) {
    choose(store, made.ids);
    useDrawing.getState().set({ lastFeeder: made.ids });
  }
}

/** Begins a feeder at what is selected: a bus, or the free terminal of a symbol. */
export function beginFeeder(store: ProjectStore, from?: ElementId, at?: number): void {
  const { network, selection } = store.getState();
  const id = from ?? selection[0];
  const start = id === undefined ? null : startAt(network, id, at);
  if (!start) return tell('A feeder needs a beginning', 'Select a bus, or a symbol with a free terminal.');
  useDrawing.getState().set({ mode: { kind: 'feeder', start, steps: [], ids: [] } });
}

export const chainOf = (network: Network, start: ChainStart, steps: readonly Tool[], ids: ElementId[]) =>
  drawChain(network, start, steps, (k) => (ids[k] ??= newId()));

export function finishFeeder(store: ProjectStore): void {
  const { mode, set } = useDrawing.getState();
  if (mode.kind !== 'feeder') return;
  const { network, commit, select } = store.getState();
  const chain = chainOf(network, mode.start, mode.steps, mode.ids);
  const drawn = chain.elements.filter(isDrawn);
  if (drawn.length === 0) return set({ mode: idle });
  // What is refused stays in hand, to be mended.
  if (!report(commit(chainChanges(chain), 'Draw feeder'))) return;
  set({ mode: idle, lastFeeder: drawn.map(({ id }) => id) });
  select([drawn[drawn.length - 1].id]);
}

/** One more symbol on the feeder in hand; false when none is being drawn. */
export function addStep(tool: Tool): boolean {
  const { mode, set } = useDrawing.getState();
  if (mode.kind !== 'feeder') return false;
  set({ mode: { ...mode, steps: [...mode.steps, tool] } });
  return true;
}

/** What a key does to the feeder in hand, whether pressed or clicked in the hint; false for a key that means nothing there. */
export function feederKey(store: ProjectStore, key: string): boolean {
  const { mode, set } = useDrawing.getState();
  if (mode.kind !== 'feeder') return false;
  const { start } = mode;
  switch (key) {
    case 'Escape':
      set({ mode: idle });
      return true;
    case 'Enter':
      finishFeeder(store);
      return true;
    case 'Backspace':
      set({ mode: { ...mode, steps: mode.steps.slice(0, -1) } });
      return true;
    case 'ArrowUp':
    case 'ArrowDown':
      set({ mode: { ...mode, start: { ...start, heading: key === 'ArrowUp' ? 'up' : 'down' } } });
      return true;
    case 'ArrowLeft':
    case 'ArrowRight': {
      // From where it stands now, which may be further along than where it was begun.
      const { at } = chainOf(store.getState().network, start, mode.steps, mode.ids);
      if (at !== undefined)
        set({
          mode: {
            ...mode,
            start: { ...start, free: false, at: Math.max(0, at + (key === 'ArrowLeft' ? -grid : grid)) },
          },
        });
      return true;
    }
    default: {
      const tool = tools.find((each) => each.key === key.toLowerCase());
      return tool !== undefined && addStep(tool);
    }
  }
}
