/**
 * Factors of IEEE C37.010 and C37.13 between symmetrical and asymmetrical currents. The remote factors and the S factors are recalled, not verified; the
 * local ones are derived here, see {@link localFactor}.
 */

/** Total rms over symmetrical rms, some cycles after the fault: √(1 + 2·e^(−4π·C/(X/R))). */
export const asymmetry = (xOverR: number, cycles: number): number =>
  Math.sqrt(1 + 2 * Math.exp((-4 * Math.PI * cycles) / xOverR));

/** First peak over symmetrical rms, taken half a cycle after the fault: √2·(1 + e^(−π/(X/R))). */
export const halfCyclePeak = (xOverR: number): number => Math.SQRT2 * (1 + Math.exp(-Math.PI / xOverR));

/** The highest peak that any instant of the fault can give, over symmetrical rms, from the current of an R–L circuit at voltage zero. */
export function exactPeak(xOverR: number): number {
  const phi = Math.atan(xOverR);
  const current = (angle: number) => Math.SQRT2 * (Math.sin(angle - phi) + Math.sin(phi) * Math.exp(-angle / xOverR));
  // The peak lies between a quarter and a whole half-wave after voltage zero; golden section.
  let [low, high] = [Math.PI / 2, (3 * Math.PI) / 2];
  const golden = (Math.sqrt(5) - 1) / 2;
  for (let k = 0; k < 80; k++) {
    const width = golden * (high - low);
    if (current(high - width) < current(low + width)) low = high - width;
    else high = low + width;
  }
  return current((low + high) / 2);
}

export interface BreakerClass {
  readonly ratedCycles: number;
  /** Contact parting after the fault, in cycles. */
  readonly partingCycles: number;
  /** Asymmetry that the symmetrical rating includes. */
  readonly s: number;
}

/** Breakers rated on symmetrical current: contact parting in cycles and the asymmetry S their rating includes (ANSI C37.06 before 1999). */
export const breakerClasses: readonly BreakerClass[] = [
  { ratedCycles: 8, partingCycles: 4, s: 1 },
  { ratedCycles: 5, partingCycles: 3, s: 1.1 },
  { ratedCycles: 3, partingCycles: 2, s: 1.2 },
  { ratedCycles: 2, partingCycles: 1.5, s: 1.3 },
];

/** Multiplying factor for remote sources, whose a.c. component does not decay. Below 1 it is taken as 1 by the caller. */
export const remoteFactor = (xOverR: number, { partingCycles, s }: Pick<BreakerClass, 'partingCycles' | 's'>): number =>
  asymmetry(xOverR, partingCycles) / s;

/** Multiplying factor for local sources whose a.c. component has decayed to `remaining` of its first value; the standard gives curves, this is the current they stand for. */
export const localFactor = (
  xOverR: number,
  { partingCycles, s }: Pick<BreakerClass, 'partingCycles' | 's'>,
  remaining: number,
): number => Math.sqrt(remaining ** 2 + 2 * Math.exp((-4 * Math.PI * partingCycles) / xOverR)) / s;

/** X/R of the circuits that low-voltage breakers are tested in: power factor 15 % unfused, 20 % fused. IEEE C37.13. */
const testXOverR = (powerFactor: number) => Math.tan(Math.acos(powerFactor));

/** Multiplying factors of low-voltage power circuit breakers, at least 1. IEEE C37.13. */
export function lowVoltageFactors(xOverR: number): { unfused: number; fused: number } {
  return {
    unfused: Math.max(halfCyclePeak(xOverR) / halfCyclePeak(testXOverR(0.15)), 1),
    fused: Math.max(asymmetry(xOverR, 0.5) / asymmetry(testXOverR(0.2), 0.5), 1),
  };
}
