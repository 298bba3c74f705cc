/**
 * Vector groups after IEC 60076-1, 7: "Dyn11" = HV delta, LV star with neutral, LV lags HV by 11 × 30°; "YNyn0d5" with a third winding;
 * "a" for the lower winding of an autotransformer.
 */

export type Winding = 'D' | 'Y' | 'YN' | 'Z' | 'ZN' | 'A';

export interface VectorGroup {
  hv: Winding;
  lv: Winding;
  /** Clock number 0…11: the LV voltage lags the HV voltage by this many times 30°. */
  clock: number;
}

export interface VectorGroup3 {
  windings: readonly [Winding, Winding, Winding];
  /** Lag of each winding behind the first, in steps of 30°. */
  clocks: readonly [0, number, number];
}

const pattern = /^(D|YN|Y|ZN|Z)(d|yn|y|zn|z|a)(\d{1,2})$/;
const pattern3 = /^(D|YN|Y)(d|yn|y|a)(\d{1,2})(d|yn|y)(\d{1,2})$/;

/** Reads a vector group; null when it is not one, or when its clock number cannot be had with these windings. */
export function parseVectorGroup(text: string): VectorGroup | null {
  const match = pattern.exec(text.trim());
  if (!match) return null;
  const hv = match[1] as Winding;
  const lv = match[2].toUpperCase() as Winding;
  const clock = Number(match[3]);
  return fits(hv, lv, clock) ? { hv, lv, clock } : null;
}

/** Reads the vector group of a three-winding transformer; windings in the order HV, MV, LV. */
export function parseVectorGroup3(text: string): VectorGroup3 | null {
  const match = pattern3.exec(text.trim());
  if (!match) return null;
  const windings = [match[1], match[2].toUpperCase(), match[4].toUpperCase()] as [Winding, Winding, Winding];
  const clocks = [0, Number(match[3]), Number(match[5])] as const;
  return fits(windings[0], windings[1], clocks[1]) && fits(windings[0], windings[2], clocks[2])
    ? { windings, clocks }
    : null;
}

/** Star–star, delta–delta and delta–zigzag give even clock numbers, all other couples odd ones; an autotransformer does not turn. */
function fits(hv: Winding, lv: Winding, clock: number): boolean {
  if (clock > 11) return false;
  if (lv === 'A') return hv === 'YN' && clock === 0;
  const isStar = (winding: Winding) => winding === 'Y' || winding === 'YN' || winding === 'A';
  return clock % 2 === (isStar(hv) !== isStar(lv) ? 1 : 0);
}

/** True when the winding brings out a neutral that can be earthed. */
export const hasNeutral = (winding: Winding): boolean => winding === 'YN' || winding === 'ZN';
