/**
 * The current of a synchronous generator short-circuited at its terminals out of no load: a.c. component by the subtransient and transient time constants,
 * d.c. component and second harmonic by that of the armature. Reactances saturated, in per unit of the rating.
 */
import { highest, type Extreme } from './extreme';

export interface GeneratorData {
  readonly xd: number;
  readonly xd1: number;
  readonly xd2: number;
  readonly xq2: number;
  /** Short-circuit time constants T″d and T′d, and that of the armature, in seconds. */
  readonly td2S: number;
  readonly td1S: number;
  readonly taS: number;
}

/** Rms of the a.c. component some seconds after the start, in multiples of the rated current at rated voltage before. */
export function acAt({ xd, xd1, xd2, td2S, td1S }: GeneratorData, t: number): number {
  return (1 / xd2 - 1 / xd1) * Math.exp(-t / td2S) + (1 / xd1 - 1 / xd) * Math.exp(-t / td1S) + 1 / xd;
}

/** Largest d.c. component of a phase. */
export const dcAt = ({ xd2, xq2, taS }: GeneratorData, t: number): number =>
  (Math.SQRT2 * Math.exp(-t / taS) * (1 / xd2 + 1 / xq2)) / 2;

/** In the phase whose d.c. component is largest; nought at the start, its first maximum positive. */
export function currentAt(data: GeneratorData, frequencyHz: number, t: number): number {
  const angle = 2 * Math.PI * frequencyHz * t;
  const second = (Math.SQRT2 * Math.exp(-t / data.taS) * (1 / data.xd2 - 1 / data.xq2)) / 2;
  return dcAt(data, t) - Math.SQRT2 * acAt(data, t) * Math.cos(angle) + second * Math.cos(2 * angle);
}

export const peakOf = (data: GeneratorData, frequencyHz: number): Extreme =>
  highest((t) => currentAt(data, frequencyHz, t), 1 / frequencyHz);

/** D.c. component over the peak of the a.c. component; above 1 the current has no zero. */
export const asymmetryAt = (data: GeneratorData, t: number): number => dcAt(data, t) / (Math.SQRT2 * acAt(data, t));
