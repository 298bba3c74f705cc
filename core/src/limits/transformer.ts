/**
 * What a transformer bears. IEEE C57.109, as remembered: thermal points in multiples of the rated current, and from a share of the largest through-fault current
 * on a mechanical line of constant I²t that ends at 2 s; which share, and whether at all, by category. IEC 60076-5, 4.1.3: the current of a short circuit at its
 * terminals for 2 s. Inrush is an industry convention, no limit of a standard.
 */
import { timeOn, type CurvePair } from '../protection/pointCurve';
import { usualWithstandS } from '../ratings/transformers';

export type Category = 'I' | 'II' | 'III' | 'IV';

/** Multiples of the rated current and seconds (IEEE C57.109, categories I and II, as remembered). */
export const thermalPoints: readonly CurvePair[] = [
  [2, 1800],
  [3, 300],
  [4.75, 60],
  [6.3, 30],
  [11.3, 10],
  [25, 2],
];

/** I²t at 25 times the rated current for 2 s. */
export const thermalK = 1250;

/** Three-phase transformers by rated power in kVA (IEEE C57.109, as remembered). */
export const categoryOf = (ratedKva: number): Category =>
  ratedKva <= 500 ? 'I' : ratedKva <= 5000 ? 'II' : ratedKva <= 30000 ? 'III' : 'IV';

/** From this share of the largest through-fault current on the mechanical line counts; null: it does not. */
export const mechanicalFrom: Readonly<Record<Category, number | null>> = { I: null, II: 0.7, III: 0.5, IV: 0.5 };

/** Largest through-fault current in multiples of the rated one; `zs`: of the network, where it may be counted (categories III and IV). */
export const largestThrough = (zt: number, zs = 0): number => 1 / (zt + zs);

export interface MechanicalLine {
  /** Multiples of the rated current. */
  readonly imax: number;
  /** Constant I²t. */
  readonly k: number;
  /** Its beginning, and the thermal line there. */
  readonly fromTimes: number;
  readonly fromS: number;
  readonly thermalS: number;
}

export function mechanicalLine(share: number, zt: number, zs = 0): MechanicalLine {
  const imax = largestThrough(zt, zs);
  const k = 2 * imax ** 2;
  const fromTimes = share * imax;
  return { imax, k, fromTimes, fromS: k / fromTimes ** 2, thermalS: thermalK / fromTimes ** 2 };
}

/**
 * Damage curve by category in multiples of the rated current; a category with a mechanical line takes it where faults are frequent. Ends at the largest
 * through-fault current.
 */
export function damageCurve(category: Category, zt: number, zs = 0, frequent = true): CurvePair[] {
  const counted = category === 'III' || category === 'IV' ? zs : 0;
  const imax = Math.min(largestThrough(zt, counted), 25);
  const share = mechanicalFrom[category];
  const mechanical = share !== null && (frequent || category === 'IV') ? mechanicalLine(share, zt, counted) : null;
  const end = mechanical ? Math.min(mechanical.fromTimes, imax) : imax;
  const thermal = thermalPoints.filter(([times]) => times < end);
  const curve: CurvePair[] = [...thermal, [end, thermalTime(end)]];
  if (mechanical) curve.push([mechanical.fromTimes, mechanical.fromS], [mechanical.imax, 2]);
  return curve;
}

/** On the thermal points, straight between them on log–log paper; beyond the last one at constant I²t. */
export function thermalTime(times: number): number {
  const [[first], [last]] = [thermalPoints[0], thermalPoints[thermalPoints.length - 1]];
  return times >= first && times <= last ? timeOn(thermalPoints, times) : thermalK / times ** 2;
}

/** Time of a point of the thermal table; null where there is none at this multiple. */
export const pointTime = (times: number): number | null => thermalPoints.find(([each]) => each === times)?.[1] ?? null;

/** IEC 60076-5: the current of a short circuit at its terminals over its rated one, for 2 s, and at constant I²t up to ten times as long. */
export function iecWithstand(timesRated: number, durationS = usualWithstandS): CurvePair[] {
  return [
    [timesRated / Math.sqrt(10), durationS * 10],
    [timesRated, durationS],
  ];
}

/** A line of constant I²t through one rated point: time at a current. */
export const energyTime = (withstandA: number, durationS: number, currentA: number): number =>
  durationS * (withstandA / currentA) ** 2;

/** Inrush of a transformer in multiples of its rated current, and the time that each lasts as heating; industry convention, typical. */
export const inrushPoints: readonly CurvePair[] = [
  [8, 0.1],
  [12, 0.1],
  [25, 0.01],
];
