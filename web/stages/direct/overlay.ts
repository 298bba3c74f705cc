'use client';

import { useMemo } from 'react';
import { useComputedColorScheme } from '@mantine/core';
import { formatNumber } from '@mesura/core/fields/quantity';
import { isBelow } from '@mesura/core/direct/study';
import type { ElementId } from '@mesura/core/model/fields';
import { noOverlay, type Overlay } from '../../diagram/picture/overlay';
import { dark, light } from '../../theme/tokens';
import { useDirect } from './useDirect';

/** Largest peak and lowest voltage at boards and loads; loads below their lowest voltage in red. */
export function useDirectOverlay(shown: boolean): Overlay {
  const { value } = useDirect(shown);
  const scheme = useComputedColorScheme('light');
  return useMemo(() => {
    if (!shown || !value) return noOverlay;
    const tokens = scheme === 'light' ? light : dark;
    const marks = new Map<ElementId, string>();
    const notes = new Map<ElementId, string>();
    for (const row of value.rows) {
      const volts = row.lowest && `${formatNumber(row.lowest.volts, 4)}\u2009V`;
      const peak = row.largest && `${formatNumber(row.largest.fault.peakA / 1000, 3)}\u2009kA`;
      notes.set(row.element, [volts, peak].filter(Boolean).join(', '));
      if (isBelow(row)) marks.set(row.element, tokens.fail);
    }
    return { ...noOverlay, marks, notes };
  }, [shown, value, scheme]);
}
