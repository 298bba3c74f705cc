'use client';

import { useEffect } from 'react';
import { hull, boxOf, isPlaced } from '@mesura/core/drawing/shape/shapes';
import { readFragment } from '@mesura/core/drawing/parts/fragment';
import { isTyping } from '../../desk/typing';
import { useProjectStore } from '../../project/ProjectContext';
import { tell } from '../../desk/report';
import { boundsOf } from './choosing';
import { copied, pasteAt, removeSelected } from './putting';
import { useDrawing } from '../drawingState';

/** Copy, cut and paste through the clipboard of the machine: within a project and between projects. */
export function useClipboard(editable: boolean): void {
  const store = useProjectStore();
  useEffect(() => {
    const copy = (event: ClipboardEvent) => {
      // Text that is marked on the page is copied as text, and a bench may have answered already.
      if (event.defaultPrevented || isTyping() || !event.clipboardData || String(window.getSelection() ?? '') !== '')
        return;
      const text = copied(store);
      if (text === null) return;
      event.clipboardData.setData('text/plain', text);
      event.preventDefault();
      if (event.type === 'cut' && editable) removeSelected(store);
    };
    const paste = (event: ClipboardEvent) => {
      if (event.defaultPrevented || isTyping() || !editable || !event.clipboardData) return;
      const text = event.clipboardData.getData('text/plain');
      if (!text.includes('mesura-fragment')) return;
      event.preventDefault();
      const read = readFragment(text);
      if (!read.ok) return tell('This cannot be pasted', read.problems[0].message);
      const size = hull(read.fragment.elements.filter(isPlaced).map(boxOf));
      const { network, selection } = store.getState();
      // Beside what is selected (the original, as a rule); else in the middle of the view.
      const beside = boundsOf(network, selection);
      const { cursor, view } = useDrawing.getState();
      const middle = view?.centre() ?? { x: 0, y: 0 };
      const at = beside
        ? { x: beside.x + beside.width + 40, y: beside.y }
        : (cursor ?? { x: middle.x - (size?.width ?? 0) / 2, y: middle.y - (size?.height ?? 0) / 2 });
      pasteAt(store, read.fragment, at, 'Paste');
    };
    document.addEventListener('copy', copy);
    document.addEventListener('cut', copy);
    document.addEventListener('paste', paste);
    return () => {
      document.removeEventListener('copy', copy);
      document.removeEventListener('cut', copy);
      document.removeEventListener('paste', paste);
    };
  }, [store, editable]);
}
