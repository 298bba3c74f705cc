/** Kinds of fault and their symmetrical components. IEC 60909-0:2016, 7.2 to 7.5. */
import { add, divide, multiply, scale, zero, type Complex } from '../linear/complex';
import { a, a2, noCurrents, type SequenceCurrents } from '../sequence/components';

export const faultKinds = ['3ph', '2ph', '2phE', '1ph'] as const;
export type FaultKind = (typeof faultKinds)[number];

export const faultKindTitles: Readonly<Record<FaultKind, string>> = {
  '3ph': 'three-phase',
  '2ph': 'two-phase',
  '2phE': 'two-phase-earth',
  '1ph': 'single-phase-earth',
};

/** Where there is little room. */
export const shortKindTitles: Readonly<Record<FaultKind, string>> = {
  '3ph': '3-phase',
  '2ph': '2-phase',
  '2phE': '2-phase-earth',
  '1ph': '1-phase',
};

export const needsZeroSequence = (kind: FaultKind): boolean => kind === '1ph' || kind === '2phE';

/** Phases in order: 0 is L1. */
export type Phase = 0 | 1 | 2;
export const phaseNames = ['L1', 'L2', 'L3'] as const;

/** How a fault is made up beyond its kind. */
export interface FaultCondition {
  readonly kind: FaultKind;
  /** The odd phase: the faulted one of a single-phase fault, the sound one of a two-phase fault. */
  readonly odd: Phase;
  /** Impedance in ohms of each faulted phase up to their common point: the arc between two phases is twice this. */
  readonly phaseOhm: Complex;
  /** Impedance in ohms from the common point to earth. */
  readonly earthOhm: Complex;
}

export const solidFault = (kind: FaultKind): FaultCondition => ({ kind, odd: 0, phaseOhm: zero, earthOhm: zero });

/** A fault with a resistance in ohms: to earth of earth faults, in each phase of a three-phase one, between the phases of a two-phase one. */
export const resistiveFault = (kind: FaultKind, ohm: number): FaultCondition => {
  const isEarth = needsZeroSequence(kind);
  return {
    ...solidFault(kind),
    phaseOhm: { re: isEarth ? 0 : kind === '2ph' ? ohm / 2 : ohm, im: 0 },
    earthOhm: { re: isEarth ? ohm : 0, im: 0 },
  };
};

/** Phases that take part in the fault. */
export const faultedPhases = ({ kind, odd }: Pick<FaultCondition, 'kind' | 'odd'>): readonly Phase[] => {
  if (kind === '3ph') return [0, 1, 2];
  return kind === '1ph' ? [odd] : ([0, 1, 2] as const).filter((phase) => phase !== odd);
};

/** "L2–L3–E", "L1–E". */
export const phasesTitle = (condition: Pick<FaultCondition, 'kind' | 'odd'>): string =>
  [
    ...faultedPhases(condition).map((phase) => phaseNames[phase]),
    ...(needsZeroSequence(condition.kind) ? ['E'] : []),
  ].join('–');

/**
 * Components of the fault current for the equivalent source `e` (V, phase to neutral) behind Z1, Z2, Z0 (Ω), with the fault's own
 * impedances. z0 null: no earth path; an earth fault on one phase then gives no current, one on two phases that of the
 * two-phase fault.
 */
export function faultComponents(
  { kind, odd, phaseOhm, earthOhm }: FaultCondition,
  e: Complex,
  z1: Complex,
  z2: Complex,
  z0: Complex | null,
): SequenceCurrents {
  const own = add(z1, phaseOhm);
  if (kind === '3ph') return { positive: divide(e, own), negative: zero, zero };
  const back = add(z2, phaseOhm);
  const homopolar = z0 && add(z0, add(phaseOhm, scale(earthOhm, 3)));
  return turnedTo(odd, components(kind, e, own, back, homopolar));
}

function components(
  kind: Exclude<FaultKind, '3ph'>,
  e: Complex,
  z1: Complex,
  z2: Complex,
  z0: Complex | null,
): SequenceCurrents {
  if (kind === '1ph') {
    if (!z0) return noCurrents;
    const each = divide(e, add(z1, add(z2, z0)));
    return { positive: each, negative: each, zero: each };
  }
  if (kind === '2ph' || !z0) {
    const positive = divide(e, add(z1, z2));
    return { positive, negative: scale(positive, -1), zero };
  }
  const denominator = add(multiply(z1, z2), add(multiply(z1, z0), multiply(z2, z0)));
  return {
    positive: divide(multiply(add(z2, z0), e), denominator),
    negative: scale(divide(multiply(z0, e), denominator), -1),
    zero: scale(divide(multiply(z2, e), denominator), -1),
  };
}

/** Components of a fault found with L1 as its odd phase, for another odd phase; L1 stays the reference. */
function turnedTo(odd: Phase, { positive, negative, zero: homopolar }: SequenceCurrents): SequenceCurrents {
  if (odd === 0) return { positive, negative, zero: homopolar };
  const [forNegative, forZero] = odd === 1 ? [a, a2] : [a2, a];
  return { positive, negative: multiply(forNegative, negative), zero: multiply(forZero, homopolar) };
}
