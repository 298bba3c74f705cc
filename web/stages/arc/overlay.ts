'use client';

import { useMemo } from 'react';
import { useComputedColorScheme } from '@mantine/core';
import { caloriesOf } from '@mesura/core/arc/clothing';
import { decidingCase } from '@mesura/core/arc/study';
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
  const { limitCal } = useProject((state) => settingsOf(state.network).arc);
  const scheme = useComputedColorScheme('light');
  return useMemo(() => {
    if (!shown || !value) return noOverlay;
    const tokens = scheme === 'light' ? light : dark;
    const most = new Map<ElementId, number>();
    for (const { spot, worst } of value)
      if (worst) most.set(spot.bus, Math.max(most.get(spot.bus) ?? 0, caloriesOf(decidingCase(worst).energy)));
    const marks = new Map<ElementId, string>();
    const notes = new Map<ElementId, string>();
    for (const [id, cal] of most) {
      notes.set(id, `${formatNumber(cal, 3)}\u2009cal/cm²`);
      if (cal > limitCal) marks.set(id, tokens.fail);
      else if (cal > limitCal / 2) marks.set(id, tokens.warn);
    }
    return { ...noOverlay, marks, notes };
  }, [shown, value, limitCal, scheme]);
}
