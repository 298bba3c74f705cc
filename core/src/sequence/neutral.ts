/** Impedances between neutral and earth: they carry 3 I0, so the zero sequence sees them threefold. */
import type { Neutral } from '../model/fields';
import { impedance, type Impedance, type Shunt } from './stamp';

/** 3·ZN in ohms; null for an isolated neutral. */
export function tripledNeutral(neutral: Neutral): Impedance | null {
  switch (neutral.earthing) {
    case 'isolated':
      return null;
    case 'solid':
      return impedance(0, 0);
    case 'resistor':
      return impedance(3 * neutral.rOhm, 0);
    default:
      return impedance(3 * neutral.rOhm, 3 * neutral.xOhm);
  }
}

export const isEarthed = (neutral: Neutral): boolean => neutral.earthing !== 'isolated';

/** Role of the path to earth: a network with coils only is resonant-earthed, and its line capacitances carry the earth fault. */
export const earthRole = (neutral: Neutral): Shunt['role'] => (neutral.earthing === 'coil' ? 'coil' : 'earth');

/** Sum of impedances in series. */
export const inSeries = (...parts: Impedance[]): Impedance =>
  parts.reduce((a, b) => impedance(a.rOhm + b.rOhm, a.xOhm + b.xOhm, a.rPeakOhm + b.rPeakOhm));
