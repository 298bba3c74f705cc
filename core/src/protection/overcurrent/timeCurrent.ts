/** Overcurrent functions as operating time over current, phase, residual or negative sequence. */
import { exactly, never, ownInput, type Band, type InputRating, type Quantity, type TimeCurrent } from '../family';
import { characteristics, dependentTimeLimit, inverseTime } from './characteristics';
import type { OvercurrentFunction } from './schema';

/** What a function measures, by its number. */
export const quantityOf = ({ code }: Pick<OvercurrentFunction, 'code'>): Quantity =>
  code === '46' ? 'negative' : code.endsWith('N') ? 'residual' : 'phase';

/** High-set functions run on definite time whatever their characteristic field says. */
export const isDefinite = (fn: Pick<OvercurrentFunction, 'code' | 'characteristic'>): boolean =>
  fn.characteristic === 'definite' || isHighSet(fn);

export const isHighSet = ({ code }: Pick<OvercurrentFunction, 'code'>): boolean => code === '50' || code === '50N';

/**
 * Dependent times count from this multiple of pickup: below it a relay may or may not operate and its time grows without bound
 * (IEC 60255-151, 4.4.2: the effective range begins above the setting).
 */
export const assuredMultiple = 1.1;

/** In primary amperes through the rating of the input. */
export function timeCurrentOf(fn: OvercurrentFunction, { primaryA }: InputRating): TimeCurrent {
  const pickupA = fn.pickup * primaryA;
  const definite = isDefinite(fn);
  const { constants } = characteristics[fn.characteristic];
  return {
    fn,
    code: fn.code,
    input: fn.input ?? ownInput,
    quantity: quantityOf(fn),
    pickupA,
    assuredA: definite ? pickupA : assuredMultiple * pickupA,
    cornersA: [1, assuredMultiple, dependentTimeLimit].map((multiple) => multiple * pickupA),
    at: (currentA): Band => {
      if (!(currentA > pickupA)) return never;
      return exactly(definite ? fn.delayS : inverseTime(constants!, currentA / pickupA, fn.timeMultiplier));
    },
  };
}
