/** Impedances between neutral and earth: they carry 3 I0, so the zero sequence sees them threefold. */
import type { Neutral } from '../model/fields';
import { impedance, type Impedance } from './stamp';

/** 3·ZN in ohms; null for an isolated neutral. */
export function tripledNeutral(neutral: Neutral): Impedance | null {
  if (neutral.earthing === 'isolated') return null;
  if (neutral.earthing === 'solid') return impedance(0, 0);
  return impedance(3 * neutral.rOhm, 3 * neutral.xOhm);
}

/** Sum of impedances in series. */
export const inSeries = (...parts: Impedance[]): Impedance =>
  parts.reduce((a, b) => impedance(a.rOhm + b.rOhm, a.xOhm + b.xOhm, a.rPeakOhm + b.rPeakOhm));
