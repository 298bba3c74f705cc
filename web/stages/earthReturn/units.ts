'use client';

import type { ShownUnit } from '../../card/ObjectFields';
import { settingsOf } from '@mesura/core/model/network';
import { useProject } from '../../project/ProjectContext';

/** Stored in metres and ohms; shown in feet and miles where the project asks for it. */
const imperial: Readonly<Record<string, ShownUnit>> = {
  m: { unit: 'ft', factor: 1 / 0.3048 },
  km: { unit: 'mi', factor: 1 / 1.609344 },
  mm: { unit: 'in', factor: 1 / 25.4 },
  'Ω/km': { unit: 'Ω/mi', factor: 1.609344 },
  'mm²': { unit: 'kcmil', factor: 4000 / (Math.PI * 25.4 ** 2) },
};

export function useShownUnit(): (unit: string) => ShownUnit {
  const units = useProject((state) => settingsOf(state.network).earthReturn.units);
  return units === 'imperial' ? imperialUnit : metricUnit;
}

export const imperialUnit = (unit: string): ShownUnit => imperial[unit] ?? metricUnit(unit);
const metricUnit = (unit: string): ShownUnit => ({ unit, factor: 1 });
