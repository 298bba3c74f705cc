/**
 * Duties of breakers rated by IEEE C37.04 and C37.06 (application guides C37.010 and C37.13) and of moulded-case breakers. S factors, the close-and-latch
 * factor and test power factors are recalled.
 */
import { asymmetry, exactPeak, halfCyclePeak, lowVoltageFactors, remoteFactor } from '../faults/c37/factors';

/** Peak of close and latch over the symmetrical current (IEEE C37.06 since 2000: 2.6; 2.7 before). */
export const closeAndLatchFactor = 2.6;
/** Total rms of close and latch over the symmetrical current (C37.06 before 1987). */
export const momentaryFactor = 1.6;

export interface Interrupting {
  /** Multiplying factor, at least 1, and as it comes out. */
  readonly factor: number;
  readonly unclippedFactor: number;
  /** E/X times the factor. */
  readonly duty: number;
  /** The short way of C37.010: E/X stays within 80 % of the rating, and no factor is asked for. */
  readonly within80Percent: boolean;
  /** Below this X/R the rating includes the asymmetry; null where S is 1. */
  readonly plainUpTo: number | null;
}

/** Interrupting duty of a breaker rated on symmetrical current, remote sources (IEEE C37.010). */
export function interruptingDuty(
  eOverX: number,
  xOverR: number,
  rated: number,
  breaker: { readonly partingCycles: number; readonly s: number },
): Interrupting {
  const unclippedFactor = remoteFactor(xOverR, breaker);
  const factor = Math.max(unclippedFactor, 1);
  const { partingCycles, s } = breaker;
  return {
    factor,
    unclippedFactor,
    duty: eOverX * factor,
    within80Percent: eOverX <= 0.8 * rated,
    plainUpTo: s > 1 ? (-4 * Math.PI * partingCycles) / Math.log((s ** 2 - 1) / 2) : null,
  };
}

/** Total-current rating: the rms that is broken with its d.c. component (C37.5, C37.010). */
export const totalInterrupting = (eOverX: number, xOverR: number, partingCycles: number): number =>
  eOverX * asymmetry(xOverR, partingCycles);

export interface CloseAndLatch {
  /** With the factor of the standard. */
  readonly duty: number;
  /** The highest peak at this X/R. */
  readonly exactPeak: number;
  readonly momentaryRms: number;
  /** Total rms after half a cycle over the symmetrical current, and the peak after half a cycle over it. */
  readonly rmsFactor: number;
  readonly peakFactor: number;
}

export const closeAndLatch = (eOverX: number, xOverR: number, factor = closeAndLatchFactor): CloseAndLatch => ({
  duty: factor * eOverX,
  exactPeak: eOverX * exactPeak(xOverR),
  momentaryRms: momentaryFactor * eOverX,
  rmsFactor: asymmetry(xOverR, 0.5),
  peakFactor: halfCyclePeak(xOverR),
});

/** X/R of a power factor. */
export const xOverROf = (powerFactor: number): number => Math.tan(Math.acos(powerFactor));

/** Duty factor of a low-voltage power circuit breaker (IEEE C37.13, table 3). */
export const lowVoltageFactor = (xOverR: number, fused: boolean): number =>
  lowVoltageFactors(xOverR)[fused ? 'fused' : 'unfused'];

/** Test power factor of a moulded-case breaker by its rating in kA: the upper end of each range. */
export const mouldedTestPowerFactor = (ratedKa: number): number => (ratedKa <= 10 ? 0.5 : ratedKa <= 20 ? 0.3 : 0.2);

export interface MouldedFactor {
  /** Ratio of the half-cycle peaks, at least 1. */
  readonly factor: number;
  /** Ratio of the highest peaks, as it comes out. */
  readonly exactRatio: number;
}

/** Duty factor of a moulded-case breaker in a circuit of a lower power factor than it was tested in. */
export function mouldedFactor(xOverR: number, testPowerFactor: number): MouldedFactor {
  const tested = xOverROf(testPowerFactor);
  return {
    factor: Math.max(halfCyclePeak(xOverR) / halfCyclePeak(tested), 1),
    exactRatio: exactPeak(xOverR) / exactPeak(tested),
  };
}
