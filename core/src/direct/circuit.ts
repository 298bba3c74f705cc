/** A battery and what it feeds as one loop: currents, drops, times of fuses and magnetic releases on the rise of the current. Volts, ohms, amperes, seconds. */

export interface BatteryString {
  readonly cells: number;
  readonly cellV: number;
  readonly cellOhm: number;
  readonly connectorOhmPerCell: number;
  readonly strings: number;
}

export const batteryVoltage = ({ cells, cellV }: BatteryString): number => cells * cellV;

export const batteryOhm = ({ cells, cellOhm, connectorOhmPerCell, strings }: BatteryString): number =>
  (cells * (cellOhm + connectorOhmPerCell)) / strings;

/** Annealed copper, IEC 60228, at 20 °C. */
export const copper = { rho20: 0.017241, alpha: 0.00393 } as const;

/** Go and return of a cable, in ohms. `rho20` in Ω·mm²/m. */
export const loopOhm = (
  lengthM: number,
  sectionMm2: number,
  celsius: number,
  { rho20, alpha } = copper as { rho20: number; alpha: number },
): number => ((2 * lengthM * rho20) / sectionMm2) * (1 + alpha * (celsius - 20));

/** Voltage at a load of constant power behind a resistance, the upper solution; null where the loop cannot carry it. */
export function voltageAtPower(volts: number, ohm: number, watts: number): number | null {
  const root = volts ** 2 - 4 * ohm * watts;
  return root < 0 ? null : (volts + Math.sqrt(root)) / 2;
}

/** Current after a time on an exponential rise to `finalA`. */
export const risen = (finalA: number, tauS: number, t: number): number => finalA * (1 - Math.exp(-t / tauS));

/** ∫i² of it, in A²s. */
export const squareOf = (finalA: number, tauS: number, t: number): number =>
  finalA ** 2 * (t - 2 * tauS * (1 - Math.exp(-t / tauS)) + (tauS / 2) * (1 - Math.exp((-2 * t) / tauS)));

/** When ∫i² has come to a value. */
export function timeOfSquare(finalA: number, tauS: number, i2t: number): number {
  let [low, high] = [0, i2t / finalA ** 2 + 2 * tauS];
  for (let k = 0; k < 200 && high - low > 1e-15 * high; k++) {
    const middle = (low + high) / 2;
    if (squareOf(finalA, tauS, middle) < i2t) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** When the rising current comes to a value; Infinity where it never does. */
export const timeOfCurrent = (finalA: number, tauS: number, currentA: number): number =>
  finalA > currentA ? -tauS * Math.log(1 - currentA / finalA) : Infinity;

/** Longest cable at whose end a release still sees its pick-up, in metres; 0 where not even the battery alone gives it. */
export const longestCable = (volts: number, sourceOhm: number, pickupA: number, ohmPerM: number): number =>
  Math.max((volts / pickupA - sourceOhm) / ohmPerM, 0);
