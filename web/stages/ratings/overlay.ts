'use client';

import { useMemo } from 'react';
import { useComputedColorScheme } from '@mantine/core';
import { worstRatings } from '@mesura/core/checks/ratings';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { ElementId } from '@mesura/core/model/fields';
import { useChecks } from '../../desk/findings';
import { noOverlay, type Overlay } from '../../diagram/picture/overlay';
import { dark, light } from '../../theme/tokens';

/** Marginal and failing devices in their colours, with the share of the rating that is used. */
export function useRatingsOverlay(shown: boolean): Overlay {
  const { value } = useChecks();
  const scheme = useComputedColorScheme('light');
  const checks = value?.checks;
  return useMemo(() => {
    if (!shown || !checks) return noOverlay;
    const tokens = scheme === 'light' ? light : dark;
    const marks = new Map<ElementId, string>();
    const notes = new Map<ElementId, string>();
    for (const [id, { verdict, duty }] of worstRatings(checks)) {
      if (verdict !== 'short' && verdict !== 'doubtful') continue;
      marks.set(id, verdict === 'short' ? tokens.fail : tokens.warn);
      notes.set(id, `${formatNumber(duty.utilisationPercent, 3)}\u2009%`);
    }
    return { ...noOverlay, marks, notes };
  }, [shown, checks, scheme]);
}
