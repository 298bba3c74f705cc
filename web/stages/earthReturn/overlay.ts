'use client';

import { useMemo } from 'react';
import { useComputedColorScheme } from '@mantine/core';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { ElementId } from '@mesura/core/model/fields';
import { noOverlay, type Overlay } from '../../diagram/picture/overlay';
import { dark, light } from '../../theme/tokens';
import { useDetail } from './useDetail';
import { useEarth, useWorst } from './useEarth';

/** Rise of potential and split factor at busbars; of the fault that is looked into what comes over each line and back by its wires, and the potentials of the other stations. */
export function useEarthOverlay(shown: boolean): Overlay {
  const { value } = useEarth(shown);
  const worst = useWorst(value);
  const detail = useDetail(shown);
  const scheme = useComputedColorScheme('light');
  return useMemo(() => {
    if (!shown || !value) return noOverlay;
    const tokens = scheme === 'light' ? light : dark;
    const marks = new Map<ElementId, string>();
    const notes = new Map<ElementId, string>();
    const looked = detail.value?.ok ? detail.value.detail : null;
    for (const [bus, { figures }] of worst) {
      if (!figures) continue;
      if (figures.verdict !== 'met') marks.set(bus, figures.verdict === 'prove' ? tokens.fail : tokens.warn);
      if (!looked)
        notes.set(
          bus,
          `UE\u2009${formatNumber(figures.riseV, 3)}\u2009V, ${formatNumber(100 * figures.split, 3)}\u2009%`,
        );
    }
    if (looked) {
      // Stations go by the id of one of their busbars, lines by their own.
      for (const { key, riseV } of looked.figures.stations)
        notes.set(key as ElementId, `${formatNumber(riseV, 3)}\u2009V`);
      notes.set(looked.hub as ElementId, `UE\u2009${formatNumber(looked.figures.riseV, 4)}\u2009V`);
      const wires = new Map(looked.profiles.map((profile) => [profile.line, profile.wires]));
      const phases = new Map(looked.currents.map(({ line, ampere }) => [line, ampere]));
      for (const line of new Set([...wires.keys(), ...phases.keys()])) {
        const brings = phases.get(line) ?? looked.profiles.find((profile) => profile.line === line)!.phaseA;
        const back = (wires.get(line) ?? []).map(
          ({ name, ampere }) => `${name} ${formatNumber(ampere[0] ?? 0, 3)}\u2009A`,
        );
        const told = [...(brings < 0.1 ? [] : [`3I0 ${formatNumber(brings, 3)}\u2009A`]), ...back.slice(0, 2)];
        if (told.length > 0) notes.set(line as ElementId, told.join(', '));
      }
    }
    return { ...noOverlay, marks, notes };
  }, [shown, value, worst, detail.value, scheme]);
}
