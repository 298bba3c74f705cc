/**
 * The current of a circuit of resistance and reactance that is switched onto a sinusoidal voltage: √2·I·(sin(ωt + α − φ) − sin(α − φ)·e^(−t/τ)). Closed form;
 * the κ of IEC 60909 is a fit to its highest peak.
 */
import { highest, type Extreme } from './extreme';

export interface Circuit {
  /** Rms of the a.c. component, any unit. */
  readonly symmetrical: number;
  readonly rOverX: number;
  readonly frequencyHz: number;
  /** Phase of the voltage at the start, radians: nought at its zero. */
  readonly closingAngle: number;
}

/** Time constant of the d.c. component, in seconds. Infinite without resistance. */
export const timeConstant = ({ rOverX, frequencyHz }: Pick<Circuit, 'rOverX' | 'frequencyHz'>): number =>
  1 / (2 * Math.PI * frequencyHz * rOverX);

const omegaOf = ({ frequencyHz }: Circuit): number => 2 * Math.PI * frequencyHz;
/** Phase of the a.c. component at the start. */
const phaseOf = ({ rOverX, closingAngle }: Circuit): number => closingAngle - Math.atan2(1, rOverX);

/** D.c. component some seconds after the start. */
export const dcAt = (circuit: Circuit, t: number): number =>
  -Math.SQRT2 * circuit.symmetrical * Math.sin(phaseOf(circuit)) * Math.exp(-t / timeConstant(circuit));

export const currentAt = (circuit: Circuit, t: number): number =>
  Math.SQRT2 * circuit.symmetrical * Math.sin(omegaOf(circuit) * t + phaseOf(circuit)) + dcAt(circuit, t);

/** Largest current of either sign. It comes within the first period. */
export const peakOf = (circuit: Circuit): Extreme => highest((t) => currentAt(circuit, t), 1 / circuit.frequencyHz);

/** √(I² + idc²) at an instant. */
export const asymmetricAt = (circuit: Circuit, t: number): number => Math.hypot(circuit.symmetrical, dcAt(circuit, t));

/** Rms of the whole current over the period around an instant. */
export function rmsAround(circuit: Circuit, t: number): number {
  const period = 1 / circuit.frequencyHz;
  const tau = timeConstant(circuit);
  const from = t - period / 2;
  const dc = dcAt(circuit, from);
  const amplitude = Math.SQRT2 * circuit.symmetrical;
  const omega = omegaOf(circuit);
  const phase = omega * from + phaseOf(circuit);
  const squares = Number.isFinite(tau) ? (dc ** 2 * tau * -Math.expm1((-2 * period) / tau)) / 2 : dc ** 2 * period;
  // ∫ sin(ωt + ψ)·e^(−t/τ) over a whole period.
  const rate = 1 / tau;
  const cross =
    ((rate * Math.sin(phase) + omega * Math.cos(phase)) * -Math.expm1(-period * rate)) / (rate ** 2 + omega ** 2);
  return Math.sqrt(circuit.symmetrical ** 2 + (squares + 2 * amplitude * dc * cross) / period);
}

/** ∫idc²·dt over the first seconds, over I²·t: what m of IEC 60909-0 stands for. */
export function dcHeat(circuit: Circuit, durationS: number): number {
  const start = dcAt(circuit, 0) / circuit.symmetrical;
  const tau = timeConstant(circuit);
  if (!Number.isFinite(tau)) return start ** 2;
  return ((start ** 2 * tau) / 2 / durationS) * -Math.expm1((-2 * durationS) / tau);
}

/** Closing angle that gives the highest peak, by search; it is the zero of the voltage for every R/X. */
export function worstClosing(circuit: Omit<Circuit, 'closingAngle'>): {
  readonly angle: number;
  readonly peak: Extreme;
} {
  const peakAt = (closingAngle: number) => Math.abs(peakOf({ ...circuit, closingAngle }).value);
  const steps = 36;
  let best = 0;
  for (let k = -steps / 2; k < steps / 2; k++) {
    const angle = (k * Math.PI) / steps;
    if (peakAt(angle) > peakAt(best) * (1 + 1e-12)) best = angle;
  }
  const width = Math.PI / steps;
  const refined = highest((t) => peakAt(best - width + t), 2 * width, 8);
  const angle = Math.abs(refined.value) > peakAt(best) * (1 + 1e-9) ? best - width + refined.t : best;
  return { angle, peak: peakOf({ ...circuit, closingAngle: angle }) };
}
