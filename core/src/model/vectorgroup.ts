/** Vector groups after IEC 60076-1, 7: "Dyn11" = HV delta, LV star with neutral, LV lags HV by 11 × 30°. */

export type Winding = 'D' | 'Y' | 'YN' | 'Z' | 'ZN';

export interface VectorGroup {
  hv: Winding;
  lv: Winding;
  /** Clock number 0…11: the LV voltage lags the HV voltage by this many times 30°. */
  clock: number;
}

const pattern = /^(D|YN|Y|ZN|Z)(d|yn|y|zn|z)(\d{1,2})$/;

/** Reads a vector group; null when it is not one, or when its clock number cannot be had with these windings. */
export function parseVectorGroup(text: string): VectorGroup | null {
  const match = pattern.exec(text.trim());
  if (!match) return null;
  const hv = match[1] as Winding;
  const lv = match[2].toUpperCase() as Winding;
  const clock = Number(match[3]);
  if (clock > 11) return null;
  // Star–star, delta–delta and delta–zigzag give even clock numbers, all other couples odd ones.
  const shifting = (winding: Winding) => winding === 'Y' || winding === 'YN';
  const isOdd = shifting(hv) !== shifting(lv);
  return clock % 2 === (isOdd ? 1 : 0) ? { hv, lv, clock } : null;
}

/** True when the winding brings out a neutral that can be earthed. */
export const hasNeutral = (winding: Winding): boolean => winding === 'YN' || winding === 'ZN';
