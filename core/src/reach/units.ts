/** Impedances as people give them: primary and secondary ohms, percent of the line, per unit of the project's base. */
import { magnitude } from '../linear/complex';
import type { ReachRow } from './plan';

export const ohmUnits = ['primary', 'secondary', 'percent', 'perUnit'] as const;
export type OhmUnit = (typeof ohmUnits)[number];

/** What one primary ohm comes to in a unit, at an end; null where it is not known there: no voltage transformer, no impedance of the line. */
export function perPrimaryOhm(
  unit: OhmUnit,
  row: Pick<ReachRow, 'relay' | 'figures' | 'nominalKv'>,
  baseMva: number,
): number | null {
  switch (unit) {
    case 'primary':
      return 1;
    case 'secondary':
      return row.relay?.secondary ?? null;
    case 'percent': {
      const own = row.figures.own.value ? magnitude(row.figures.own.value) : 0;
      return own > 0 ? 100 / own : null;
    }
    case 'perUnit':
      return baseMva / row.nominalKv ** 2;
  }
}
