'use client';

import { useMemo } from 'react';
import { useComputedColorScheme } from '@mantine/core';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { ElementId } from '@mesura/core/model/fields';
import { noOverlay, type Overlay } from '../../diagram/picture/overlay';
import { dark, light } from '../../theme/tokens';
import { useCircuits } from './useCircuits';
import { useCircuitsState } from './state';

/** Design current at cables, smallest fault current and time at what they supply, load of each phase at boards. */
export function useCircuitOverlay(shown: boolean): Overlay {
  const { value } = useCircuits(shown);
  const chosen = useCircuitsState((state) => state.chosen);
  const scheme = useComputedColorScheme('light');
  return useMemo(() => {
    if (!shown || !value) return noOverlay;
    const tokens = scheme === 'light' ? light : dark;
    const marks = new Map<ElementId, string>();
    const notes = new Map<ElementId, string>();
    for (const row of value.rows) {
      const colour = row.verdict === 'short' ? tokens.fail : row.verdict === 'doubtful' ? tokens.warn : null;
      const own = [...row.switches, ...row.cables.map(({ element }) => element)];
      if (colour) for (const id of own) marks.set(id, colour);
      if (row.key === chosen) for (const id of own) marks.set(id, tokens.accent);
      for (const { element, designA } of row.cables) notes.set(element, `Ib\u2009${formatNumber(designA, 3)}\u2009A`);
      const { endEarth } = row;
      if (endEarth)
        notes.set(
          endEarth.end,
          `${formatNumber(endEarth.ampere, 3)}\u2009A, ${row.cleared.timeS === null ? 'not cut off' : `${formatNumber(row.cleared.timeS, 2)}\u2009s`}`,
        );
    }
    for (const { board, phasesA } of value.boards)
      notes.set(board, `${phasesA.map((each) => formatNumber(each, 3)).join(' / ')}\u2009A`);
    return { ...noOverlay, marks, notes };
  }, [shown, value, chosen, scheme]);
}
