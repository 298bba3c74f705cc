'use client';

import { useEffect } from 'react';
import { isTyping } from '../../desk/typing';
import { useProjectStore } from '../../project/ProjectContext';
import { happened } from './hand';

/** While something is held the keys belong to it; what it does not know goes on to the others. */
export function useToolKeys(editable: boolean): void {
  const store = useProjectStore();
  useEffect(() => {
    if (!editable) return;
    const down = (event: KeyboardEvent) => {
      if (isTyping() || event.ctrlKey || event.metaKey || event.altKey) return;
      if (!happened(store, { on: 'key', key: event.key, shift: event.shiftKey })) return;
      event.preventDefault();
      event.stopImmediatePropagation();
    };
    window.addEventListener('keydown', down, { capture: true });
    return () => window.removeEventListener('keydown', down, { capture: true });
  }, [store, editable]);
}
