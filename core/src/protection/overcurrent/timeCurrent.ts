/** Overcurrent functions as operating time over current, phase, residual or negative sequence. */
import {
  exactly,
  never,
  ownInput,
  type Band,
  type InputRating,
  type Quantity,
  type SeenCurrents,
  type TimeCurrent,
} from '../family';
import { constantsOf, unitTime } from './characteristics';
import { directedCurrent } from './direction';
import type { FunctionCode, OvercurrentFunction } from './schema';

const residualCodes: ReadonlySet<FunctionCode> = new Set(['51N', '50N', '51G', '50G', '67N']);
const highSets: ReadonlySet<FunctionCode> = new Set(['50', '50N', '50G']);

/** What a function measures, by its number. */
export const quantityOf = ({ code }: Pick<OvercurrentFunction, 'code'>): Quantity =>
  code === '46' ? 'negative' : residualCodes.has(code) ? 'residual' : 'phase';

/** High-set functions and the supervision of a start run on definite time whatever their characteristic field says. */
export const isDefinite = (fn: Pick<OvercurrentFunction, 'code' | 'characteristic' | 'own' | 'points'>): boolean =>
  isFixed(fn) || (constantsOf(fn) === null && !(fn.characteristic === 'points' && fn.points));

export const isFixed = ({ code }: Pick<OvercurrentFunction, 'code'>): boolean => highSets.has(code) || code === '48';

/**
 * Dependent times count from this multiple of pickup: below it a relay may or may not operate and its time grows without bound
 * (IEC 60255-151, 4.4.2: the effective range begins above the setting).
 */
export const assuredMultiple = 1.1;

/** Below this voltage, in per unit, the pickup of a voltage-restrained function falls no further. */
const leastRestraint = 0.25;

/** What the voltage makes of the pickup: restrained in proportion to it between 25 % and 100 %; controlled by a step. `voltage`: per unit of the rated one. */
export function pickupFactor(setting: NonNullable<OvercurrentFunction['voltage']>, voltage: number): number {
  if (setting.mode === 'restrained') return Math.min(1, Math.max(leastRestraint, voltage));
  return voltage < setting.belowPercent / 100 ? setting.factor : 1;
}

/** In primary amperes through the rating of the input. */
export function timeCurrentOf(fn: OvercurrentFunction, { primaryA }: InputRating): TimeCurrent {
  const pickupA = fn.pickup * primaryA;
  const definite = isDefinite(fn);
  const bends = [
    1,
    assuredMultiple,
    ...(fn.dependentTo === null ? [] : [fn.dependentTo]),
    ...(definite ? [] : tableBends(fn)),
  ];
  return {
    fn,
    code: fn.code,
    input: fn.input ?? ownInput,
    quantity: quantityOf(fn),
    pickupA,
    assuredA: pickupA * (definite ? 1 : Math.max(assuredMultiple, ...tableBends(fn).slice(0, 1))),
    cornersA: bends.map((multiple) => multiple * pickupA),
    at: (currentA): Band => {
      if (!(currentA > pickupA)) return never;
      const timeS = definite ? fn.delayS : fn.timeMultiplier * unitTime(fn, currentA / pickupA)!;
      // A table has no time left of its first point.
      return timeS === Infinity ? never : exactly(timeS);
    },
    accuracy: { share: fn.errorPercent / 100, fixedS: fn.errorS, overshootS: fn.overshootS },
    clears: false,
    ...(fn.operations === 'fast' && { fast: true }),
    ...((fn.direction || fn.voltage) && { measure: (seen: SeenCurrents) => effectiveCurrent(fn, seen) }),
  };
}

const tableBends = ({ characteristic, points }: OvercurrentFunction) =>
  characteristic === 'points' && points ? points.map(([multiple]) => multiple) : [];

/** The current that counts: in the direction looked into, and raised by as much as the voltage lowers the pickup. */
export function effectiveCurrent(fn: OvercurrentFunction, seen: SeenCurrents): number {
  const current = fn.direction ? directedCurrent(fn.direction, quantityOf(fn), seen) : seen[`${quantityOf(fn)}A`];
  if (!fn.voltage) return current;
  const voltage = seen.vectors?.leastVoltage;
  return voltage === undefined || voltage === null ? current : current / pickupFactor(fn.voltage, voltage);
}
