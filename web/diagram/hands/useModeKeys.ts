'use client';

import { useEffect } from 'react';
import { grid } from '@mesura/core/drawing/shape/shapes';
import { isTyping } from '../../desk/typing';
import { useProjectStore } from '../../project/ProjectContext';
import { joinThem, pasteAt, placeSymbol } from './edit';
import { feederKey } from '../tools/feeder';
import { idle, useDrawing, type Mode } from '../drawingState';

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
      if (mode.kind === 'feeder') return feederKey(store, event.key);
      if (event.key === 'Escape') {
        set({ mode: idle, cursor: null });
        return true;
      }
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
    window.addEventListener('keydown', down, { capture: true });
    return () => window.removeEventListener('keydown', down, { capture: true });
  }, [store, editable]);
}
