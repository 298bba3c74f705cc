/**
 * Time–current characteristics of overcurrent functions.
 * IEC 60255-151:2009, 4.4.2 and Annex A: t = TM · (k / ((I/Is)^α − 1) + c); IEEE C37.112-2018, 4 uses the same form with A, p and B.
 */
import { timeOn } from '../pointCurve';
import type { CharacteristicName, OvercurrentFunction } from './schema';

export interface InverseConstants {
  readonly k: number;
  readonly alpha: number;
  readonly c: number;
}

export interface Characteristic {
  readonly title: string;
  /** Null for definite time, and where the function brings its own. */
  readonly constants: InverseConstants | null;
  readonly source: string;
  /** Constant of the dependent reset in seconds: IEEE C37.112, Table 1, as remembered. */
  readonly tr?: number;
}

export const characteristics: Readonly<Record<CharacteristicName, Characteristic>> = {
  definite: { title: 'Definite time', constants: null, source: 'IEC 60255-151, 4.4.1' },
  iecA: { title: 'IEC A, inverse', constants: { k: 0.14, alpha: 0.02, c: 0 }, source: 'IEC 60255-151, Annex A' },
  iecB: { title: 'IEC B, very inverse', constants: { k: 13.5, alpha: 1, c: 0 }, source: 'IEC 60255-151, Annex A' },
  iecC: { title: 'IEC C, extremely inverse', constants: { k: 80, alpha: 2, c: 0 }, source: 'IEC 60255-151, Annex A' },
  ieeeD: {
    title: 'IEEE D, moderately inverse',
    constants: { k: 0.0515, alpha: 0.02, c: 0.114 },
    source: 'IEEE C37.112, Table 1',
    tr: 4.85,
  },
  ieeeE: {
    title: 'IEEE E, very inverse',
    constants: { k: 19.61, alpha: 2, c: 0.491 },
    source: 'IEEE C37.112, Table 1',
    tr: 21.6,
  },
  ieeeF: {
    title: 'IEEE F, extremely inverse',
    constants: { k: 28.2, alpha: 2, c: 0.1217 },
    source: 'IEEE C37.112, Table 1',
    tr: 29.1,
  },
  longTime: {
    title: 'Long-time inverse',
    constants: { k: 120, alpha: 1, c: 0 },
    source: 'long-established, not lettered in IEC 60255-151',
  },
  own: { title: 'Own constants', constants: null, source: 'constants given' },
  points: { title: 'Own points', constants: null, source: 'points given' },
};

/** End of the dependent-time range: above this multiple of pickup the time stays (IEC 60255-151, 4.4.2, GD). */
export const dependentTimeLimit = 20;

/** Operating time in seconds at a multiple of pickup; Infinity up to and at the pickup itself. */
export function inverseTime(
  constants: InverseConstants,
  multiple: number,
  timeMultiplier: number,
  dependentTo: number | null = dependentTimeLimit,
): number {
  if (!(multiple > 1)) return Infinity;
  const within = Math.min(multiple, dependentTo ?? Infinity);
  // expm1 keeps the digits of small exponents close to pickup, where power − 1 would lose them.
  const excess = Math.expm1(constants.alpha * Math.log(within));
  return timeMultiplier * (constants.k / excess + constants.c);
}

type Settings = Pick<OvercurrentFunction, 'characteristic' | 'own' | 'points' | 'dependentTo'>;

/** Constants that a function's dependent time follows; null where it runs on definite time or a table. */
export const constantsOf = ({
  characteristic,
  own,
}: Pick<Settings, 'characteristic' | 'own'>): InverseConstants | null =>
  characteristic === 'own' ? own : characteristics[characteristic].constants;

/** Time of a function's dependent characteristic at time multiplier 1; null for definite time. */
export function unitTime(fn: Settings, multiple: number): number | null {
  const constants = constantsOf(fn);
  if (constants) return inverseTime(constants, multiple, 1, fn.dependentTo);
  if (fn.characteristic !== 'points' || !fn.points) return null;
  return multiple > 1 ? timeOn(fn.points, Math.min(multiple, fn.dependentTo ?? Infinity)) : Infinity;
}

/** Full reset from just before the trip, at a multiple below 1: tr·TM/(1 − M²), IEEE C37.112 as remembered; null without a constant. */
export function resetTime(tr: number | undefined, timeMultiplier: number, multiple: number): number | null {
  if (!tr || multiple >= 1) return null;
  return (timeMultiplier * tr) / (1 - multiple ** 2);
}

/** Time multiplier that gives `timeS` at a multiple of pickup; null where the characteristic gives no time there. */
export function timeMultiplierFor(fn: Settings, multiple: number, timeS: number): number | null {
  const one = unitTime(fn, multiple);
  return one !== null && Number.isFinite(one) && one > 0 ? timeS / one : null;
}
