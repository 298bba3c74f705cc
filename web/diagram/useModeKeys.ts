'use client';

import { useEffect } from 'react';
import { tools } from '@mesura/core/drawing/tools';
import { grid } from '@mesura/core/drawing/shapes';
import { isTyping } from '../desk/typing';
import { useProjectStore } from '../project/ProjectContext';
import { finishFeeder, joinThem, pasteAt, placeSymbol } from './edit';
import { idle, useDrawing, type Mode } from './drawingState';

const arrows: Record<string, { x: number; y: number }> = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: -1 },
  ArrowDown: { x: 0, y: 1 },
};

/** While something is being drawn the keys belong to it; what it does not know goes on to the others. */
export function useModeKeys(editable: boolean): void {
  const store = useProjectStore();
  useEffect(() => {
    if (!editable) return;
    const down = (event: KeyboardEvent) => {
      const { mode } = useDrawing.getState();
      if (mode.kind === 'idle' || isTyping() || event.ctrlKey || event.metaKey || event.altKey) return;
      if (!handled(event, mode)) return;
      event.preventDefault();
      event.stopImmediatePropagation();
    };
    const handled = (event: KeyboardEvent, mode: Mode): boolean => {
      const { set, cursor, view } = useDrawing.getState();
      if (event.key === 'Escape') {
        set({ mode: idle, cursor: null });
        return true;
      }
      if (mode.kind === 'feeder') return feederKey(event, mode);
      if (mode.kind === 'join') {
        if (event.key !== 'Enter') return false;
        const [to] = store.getState().selection;
        if (to && to !== mode.from && joinThem(store, mode.from, to)) set({ mode: idle });
        return true;
      }
      const way = arrows[event.key];
      const at = cursor ?? view?.centre() ?? { x: 0, y: 0 };
      if (way) {
        const step = event.shiftKey ? 5 * grid : grid;
        set({ cursor: { x: at.x + way.x * step, y: at.y + way.y * step } });
        return true;
      }
      if (event.key !== 'Enter') return false;
      if (mode.kind === 'place') placeSymbol(store, mode.tool, at);
      else if (mode.kind === 'stamp') pasteAt(store, mode.fragment, at, `Place ${mode.title}`);
      if (!event.shiftKey) set({ mode: idle, cursor: null });
      return true;
    };
    const feederKey = (event: KeyboardEvent, mode: Extract<Mode, { kind: 'feeder' }>): boolean => {
      const { set } = useDrawing.getState();
      if (event.key === 'Enter') finishFeeder(store);
      else if (event.key === 'Backspace') set({ mode: { ...mode, steps: mode.steps.slice(0, -1) } });
      else if (event.key === 'ArrowUp' || event.key === 'ArrowDown')
        set({ mode: { ...mode, start: { ...mode.start, heading: event.key === 'ArrowUp' ? 'up' : 'down' } } });
      else if ((event.key === 'ArrowLeft' || event.key === 'ArrowRight') && mode.start.at !== undefined)
        set({
          mode: {
            ...mode,
            start: { ...mode.start, at: Math.max(0, mode.start.at + (event.key === 'ArrowLeft' ? -grid : grid)) },
          },
        });
      else {
        const tool = tools.find((each) => each.key === event.key.toLowerCase());
        if (!tool) return false;
        set({ mode: { ...mode, steps: [...mode.steps, tool] } });
      }
      return true;
    };
    window.addEventListener('keydown', down, { capture: true });
    return () => window.removeEventListener('keydown', down, { capture: true });
  }, [store, editable]);
}
