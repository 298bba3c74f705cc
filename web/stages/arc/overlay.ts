'use client';

import { useMemo } from 'react';
import { useComputedColorScheme } from '@mantine/core';
import { arcLines } from '@mesura/core/arc/table';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { ElementId } from '@mesura/core/model/fields';
import { settingsOf } from '@mesura/core/model/network';
import { noOverlay, type Overlay } from '../../diagram/picture/overlay';
import { useProject } from '../../project/ProjectContext';
import { dark, light } from '../../theme/tokens';
import { useArc } from './useArc';

/** The largest energy of each busbar; above the limit of the project in red, near it in amber. */
export function useArcOverlay(shown: boolean): Overlay {
  const { value } = useArc(shown);
  const network = useProject((state) => state.network);
  const { limitCal } = settingsOf(network).arc;
  const scheme = useComputedColorScheme('light');
  return useMemo(() => {
    if (!shown || !value) return noOverlay;
    const tokens = scheme === 'light' ? light : dark;
    const most = new Map<ElementId, number>();
    for (const { bus, worst } of arcLines(network, value))
      if (worst) most.set(bus, Math.max(most.get(bus) ?? 0, worst.cal));
    const marks = new Map<ElementId, string>();
    const notes = new Map<ElementId, string>();
    for (const [id, cal] of most) {
      notes.set(id, `${formatNumber(cal, 3)}\u2009cal/cm²`);
      if (cal > limitCal) marks.set(id, tokens.fail);
      else if (cal > limitCal / 2) marks.set(id, tokens.warn);
    }
    return { ...noOverlay, marks, notes };
  }, [shown, value, network, limitCal, scheme]);
}
