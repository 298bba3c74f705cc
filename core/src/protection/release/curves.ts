/**
 * The bands of a release (IEC 60947-2, terms as remembered): from when on the breaker may open, to when it has certainly cleared. Overload: t = tr·(6·Ir/I)²
 * within its tolerance, from 1.05·Ir on, certainly from 1.3·Ir on (7.2.1.2.4). Short-time: after tsd at the earliest; by I²t that delay stands at 10·Ir
 * and grows below it. Tolerances are the function's own.
 */
import { never, ownInput, type Band, type Quantity, type TimeCurrent } from '../family';
import type { ReleaseFunction, ReleasePart } from './schema';

/** Conventional currents of the overload release, in multiples of its setting: does not trip, trips. */
export const conventional = { holds: 1.05, trips: 1.3 } as const;
/** Time that a delayed release takes beyond its shortest, before the breaker opens; typical. */
const delaySpreadS = 0.05;
/** Multiple of Ir at which an I²t delay stands as set. */
const i2tAt = 10;

export const partCodes: Readonly<Record<ReleasePart, string>> = {
  longTime: 'Ir',
  shortTime: 'Isd',
  instantaneous: 'Ii',
  earthFault: 'Ig',
};

const share = (percent: number) => percent / 100;

export function releaseCurves(fn: ReleaseFunction): readonly TimeCurrent[] {
  return fn.parts.map((part) => partCurve(fn, part));
}

function partCurve(fn: ReleaseFunction, part: ReleasePart): TimeCurrent {
  const { pickupA, from, to, at, corners = [], quantity = 'phase' } = shapes[part](fn);
  return {
    fn,
    part,
    code: partCodes[part],
    input: fn.input ?? ownInput,
    quantity,
    pickupA: pickupA * from,
    assuredA: pickupA * to,
    cornersA: [pickupA * from, pickupA * to, ...corners],
    at: (currentA) => {
      if (!(currentA > pickupA * from)) return never;
      const { earliestS, latestS } = at(currentA);
      return { earliestS, latestS: currentA > pickupA * to ? latestS + fn.clearingS : Infinity };
    },
    accuracy: null,
    clears: true,
    remembered: 'IEC 60947-2, 7.2.1.2.4 (as remembered); delays typical',
  };
}

interface Shape {
  /** Setting in amperes. */
  readonly pickupA: number;
  /** Multiples of it from which on it may, and certainly does operate. */
  readonly from: number;
  readonly to: number;
  /** From when on it may open, and by when it has been released. */
  at(currentA: number): Band;
  readonly corners?: readonly number[];
  readonly quantity?: Quantity;
}

const shapes: Readonly<Record<ReleasePart, (fn: ReleaseFunction) => Shape>> = {
  longTime: (fn) => {
    const ir = fn.ir * fn.ratedA;
    const nominal = (currentA: number) => fn.trS * ((6 * ir) / currentA) ** 2;
    const off = share(fn.trTolerancePercent);
    return {
      pickupA: ir,
      from: conventional.holds,
      to: conventional.trips,
      at: (currentA) => ({ earliestS: nominal(currentA) * (1 - off), latestS: nominal(currentA) * (1 + off) }),
    };
  },
  shortTime: (fn) => {
    const ir = fn.ir * fn.ratedA;
    const pickupA = fn.isd * ir;
    const grows = (currentA: number) => (fn.shortTime === 'i2t' ? Math.max(1, ((i2tAt * ir) / currentA) ** 2) : 1);
    return {
      pickupA,
      ...within(fn.isdTolerancePercent),
      at: (currentA) => {
        const holds = fn.tsdS * grows(currentA);
        return { earliestS: holds, latestS: holds + delaySpreadS };
      },
      corners: fn.shortTime === 'i2t' ? [i2tAt * ir] : [],
    };
  },
  instantaneous: (fn) => ({
    pickupA: fn.ii * fn.ratedA,
    ...within(fn.iiTolerancePercent),
    at: () => ({ earliestS: 0, latestS: 0 }),
  }),
  earthFault: (fn) => ({
    pickupA: fn.ig * fn.ratedA,
    ...within(fn.isdTolerancePercent),
    at: () => ({ earliestS: fn.tgS, latestS: fn.tgS + delaySpreadS }),
    quantity: 'residual',
  }),
};

const within = (percent: number) => ({ from: 1 - share(percent), to: 1 + share(percent) });
