/** Symmetrical components of three-phase quantities and the phases they stand for; phase L1 is the reference. */
import { add, multiply, polar, scale, zero, type Complex } from '../linear/complex';

export interface SequenceValues {
  readonly positive: Complex;
  readonly negative: Complex;
  readonly zero: Complex;
}

/** In amperes. */
export type SequenceCurrents = SequenceValues;

export const noCurrents: SequenceCurrents = { positive: zero, negative: zero, zero };

export interface PhaseCurrents {
  readonly l1: Complex;
  readonly l2: Complex;
  readonly l3: Complex;
  /** 3·I0, the sum of the phases. */
  readonly residual: Complex;
}

/** e^(j120°) and its square. */
export const a = polar(1, (2 * Math.PI) / 3);
export const a2 = polar(1, (-2 * Math.PI) / 3);

export function toPhases({ positive, negative, zero: homopolar }: SequenceValues): PhaseCurrents {
  // Most of a table is three-phase faults.
  if (negative === zero && homopolar === zero)
    return { l1: positive, l2: multiply(a2, positive), l3: multiply(a, positive), residual: zero };
  return {
    l1: add(homopolar, add(positive, negative)),
    l2: add(homopolar, add(multiply(a2, positive), multiply(a, negative))),
    l3: add(homopolar, add(multiply(a, positive), multiply(a2, negative))),
    residual: scale(homopolar, 3),
  };
}

export function toComponents(l1: Complex, l2: Complex, l3: Complex): SequenceValues {
  const third = (p: Complex, q: Complex, r: Complex) => scale(add(p, add(q, r)), 1 / 3);
  return {
    positive: third(l1, multiply(a, l2), multiply(a2, l3)),
    negative: third(l1, multiply(a2, l2), multiply(a, l3)),
    zero: third(l1, l2, l3),
  };
}

export const addComponents = (p: SequenceValues, q: SequenceValues): SequenceValues => ({
  positive: add(p.positive, q.positive),
  negative: add(p.negative, q.negative),
  zero: add(p.zero, q.zero),
});

export const scaleComponents = (p: SequenceValues, factor: number): SequenceValues => ({
  positive: scale(p.positive, factor),
  negative: scale(p.negative, factor),
  zero: scale(p.zero, factor),
});

/** Components seen from a node whose positive sequence lags by `lag` radians more: forward in the positive, backward in the negative sequence (IEC 60909-0, 5.3.2). */
export const turned = ({ positive, negative, zero: homopolar }: SequenceValues, lag: number): SequenceValues =>
  lag === 0
    ? { positive, negative, zero: homopolar }
    : { positive: multiply(positive, polar(1, -lag)), negative: multiply(negative, polar(1, lag)), zero: homopolar };
