/** Kinds of fault and their symmetrical components. IEC 60909-0:2016, 7.2 to 7.5. */
import { add, divide, multiply, polar, scale, zero, type Complex } from '../../linear/complex';

export const faultKinds = ['3ph', '2ph', '2phE', '1ph'] as const;
export type FaultKind = (typeof faultKinds)[number];

export const faultKindTitles: Readonly<Record<FaultKind, string>> = {
  '3ph': 'three-phase',
  '2ph': 'two-phase',
  '2phE': 'two-phase-earth',
  '1ph': 'single-phase-earth',
};

export const needsZeroSequence = (kind: FaultKind): boolean => kind === '1ph' || kind === '2phE';

/** Symmetrical components of a current, with phase L1 as reference, in amperes. */
export interface SequenceCurrents {
  readonly positive: Complex;
  readonly negative: Complex;
  readonly zero: Complex;
}

export const noCurrents: SequenceCurrents = { positive: zero, negative: zero, zero };

export interface PhaseCurrents {
  readonly l1: Complex;
  readonly l2: Complex;
  readonly l3: Complex;
  /** 3·I0, the sum of the phases. */
  readonly residual: Complex;
}

const a = polar(1, (2 * Math.PI) / 3);
const a2 = polar(1, (-2 * Math.PI) / 3);

export function toPhases({ positive, negative, zero: homopolar }: SequenceCurrents): PhaseCurrents {
  return {
    l1: add(homopolar, add(positive, negative)),
    l2: add(homopolar, add(multiply(a2, positive), multiply(a, negative))),
    l3: add(homopolar, add(multiply(a, positive), multiply(a2, negative))),
    residual: scale(homopolar, 3),
  };
}

/**
 * Components of the fault current for the equivalent source `e` (V, phase to neutral) behind Z1, Z2, Z0 (Ω).
 * z0 null: no earth path; an earth fault on one phase then gives no current, one on two phases that of the two-phase fault.
 * Faulted phases: L1 for '1ph'; L2 and L3 for '2ph' and '2phE'.
 */
export function faultComponents(
  kind: FaultKind,
  e: number,
  z1: Complex,
  z2: Complex,
  z0: Complex | null,
): SequenceCurrents {
  const source = { re: e, im: 0 };
  if (kind === '3ph') return { positive: divide(source, z1), negative: zero, zero };
  if (kind === '1ph') {
    if (!z0) return noCurrents;
    const each = divide(source, add(z1, add(z2, z0)));
    return { positive: each, negative: each, zero: each };
  }
  if (kind === '2ph' || !z0) {
    const positive = divide(source, add(z1, z2));
    return { positive, negative: scale(positive, -1), zero };
  }
  const denominator = add(multiply(z1, z2), add(multiply(z1, z0), multiply(z2, z0)));
  return {
    positive: divide(scale(add(z2, z0), e), denominator),
    negative: divide(scale(z0, -e), denominator),
    zero: divide(scale(z2, -e), denominator),
  };
}
