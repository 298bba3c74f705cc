/**
 * Duties of high-voltage breakers by IEC 62271-100: the d.c. component of the breaking current at contact parting, and the making peak. The factors of the
 * making current are recalled, not verified.
 */
import { peakFactor } from '../faults/iec60909/peak';

/** Rated d.c. time constant where none is given, in milliseconds (IEC 62271-100, 5.102). */
export const standardTimeConstantMs = 45;

/** Time constant of the d.c. component of a network, in milliseconds. */
export const networkTimeConstantMs = (xOverR: number, frequencyHz: number): number =>
  (1000 * xOverR) / (2 * Math.PI * frequencyHz);

/** D.c. component over the peak of the a.c. component, a time after the fault. */
export const dcShare = (timeMs: number, timeConstantMs: number): number => Math.exp(-timeMs / timeConstantMs);

/** Total rms of an a.c. component with a d.c. component of this share of its peak. */
export const asymmetrical = (symmetrical: number, share: number): number => symmetrical * Math.sqrt(1 + 2 * share ** 2);

export interface DcDuty {
  readonly networkTimeConstantMs: number;
  /** Shares of the peak of the a.c. component at contact parting: of the network, and that the breaker is rated for. */
  readonly duty: number;
  readonly rated: number;
  /** Total rms that is broken, and that the breaker is rated for, in the unit of the currents. */
  readonly dutyAsymmetric: number;
  readonly ratedAsymmetric: number;
}

/** The d.c. component at contact parting against the rated one, by percentage and by total current (IEC 62271-100, 5.101 and 5.102). */
export function dcDuty(at: {
  readonly partingMs: number;
  readonly timeConstantMs: number;
  readonly xOverR: number;
  readonly frequencyHz: number;
  readonly breaking: number;
  readonly rated: number;
}): DcDuty {
  const network = networkTimeConstantMs(at.xOverR, at.frequencyHz);
  const [duty, rated] = [dcShare(at.partingMs, network), dcShare(at.partingMs, at.timeConstantMs)];
  return {
    networkTimeConstantMs: network,
    duty,
    rated,
    dutyAsymmetric: asymmetrical(at.breaking, duty),
    ratedAsymmetric: asymmetrical(at.rated, rated),
  };
}

/** Rated making peak over rated breaking current (IEC 62271-100, 5.103): 2.5 at 50 Hz, 2.6 at 60 Hz, 2.7 for time constants above 45 ms. */
export const makingFactor = (frequencyHz: number, timeConstantMs: number): number =>
  timeConstantMs > standardTimeConstantMs ? 2.7 : frequencyHz > 55 ? 2.6 : 2.5;

/** Peak of a fault by IEC 60909-0, 8.1.1: κ·√2·Ik″. */
export const peakOf = (symmetrical: number, rOverX: number): number => Math.SQRT2 * peakFactor(rOverX) * symmetrical;
