/**
 * High-impedance schemes: current transformers of one ratio in parallel over a relay with a stabilising resistor. It must not trip while one of them is wholly saturated and the
 * others drive the through-fault current through its winding and leads. IEEE C37.234, as remembered.
 */
export interface HighImpedance {
  /** Symmetrical current of the largest fault outside, in primary amperes. */
  readonly throughFaultA: number;
  readonly primaryA: number;
  readonly secondaryA: number;
  readonly windingOhm: number;
  /** Of one way; the loop has two. */
  readonly leadOhm: number;
  /** At which the relay operates, in secondary amperes. */
  readonly relayA: number;
  readonly relayOhm: number;
  readonly ctCount: number;
  /** Each current transformer's own at the stabilising voltage, and what a varistor takes there. */
  readonly magnetisingA: number;
  readonly varistorA: number;
  readonly kneeV: number;
}

export interface Stabilised {
  readonly stabilisingV: number;
  readonly resistorOhm: number;
  /** Twice the stabilising voltage. */
  readonly requiredKneeV: number;
  readonly kneeHolds: boolean;
  /** From which fault current inside on it operates, in primary amperes. */
  readonly operatingA: number;
  /** What the fault inside would drive without saturation, and the peak of what it really gives. */
  readonly unlimitedV: number;
  readonly peakV: number;
  readonly varistorNeeded: boolean;
}

/** Peak voltage that cables and relay bear without a varistor, in volts; common practice. */
export const bornePeakV = 3000;

export function stabilised(given: HighImpedance): Stabilised {
  const { throughFaultA, primaryA, secondaryA, windingOhm, leadOhm, relayA, relayOhm, kneeV } = given;
  const turns = primaryA / secondaryA;
  const secondaryFaultA = throughFaultA / turns;
  const loopOhm = windingOhm + 2 * leadOhm;
  const stabilisingV = secondaryFaultA * loopOhm;
  const resistorOhm = stabilisingV / relayA - relayOhm;
  const unlimitedV = secondaryFaultA * (loopOhm + resistorOhm + relayOhm);
  const peakV = unlimitedV > kneeV ? 2 * Math.sqrt(2 * kneeV * (unlimitedV - kneeV)) : Math.SQRT2 * unlimitedV;
  return {
    stabilisingV,
    resistorOhm,
    requiredKneeV: 2 * stabilisingV,
    kneeHolds: kneeV >= 2 * stabilisingV,
    operatingA: turns * (relayA + given.ctCount * given.magnetisingA + given.varistorA),
    unlimitedV,
    peakV,
    varistorNeeded: peakV > bornePeakV,
  };
}
