'use client';

import { useMemo } from 'react';
import { useComputedColorScheme } from '@mantine/core';
import { conditionChanges } from '@mesura/core/model/conditionEdit';
import type { Condition } from '@mesura/core/model/condition';
import type { ElementId } from '@mesura/core/model/fields';
import { useCondition } from '../../desk/condition';
import { noOverlay, type Overlay } from '../../diagram/picture/overlay';
import { dark, light } from '../../theme/tokens';

/** What a condition changes, marked on the drawing and said beside the symbol. */
export function useConditionOverlay(shown: boolean): Overlay {
  const condition = useCondition();
  const scheme = useComputedColorScheme('light');
  const color = (scheme === 'light' ? light : dark).warn;
  return useMemo(() => (shown ? overlayOf(condition, color) : noOverlay), [shown, condition, color]);
}

export function overlayOf(condition: Condition, color: string): Overlay {
  const marks = new Map<ElementId, string>();
  const notes = new Map<ElementId, string>();
  for (const { element, text } of conditionChanges(condition)) {
    marks.set(element, color);
    notes.set(element, [notes.get(element), text].filter(Boolean).join(', '));
  }
  return { ...noOverlay, marks, notes };
}
