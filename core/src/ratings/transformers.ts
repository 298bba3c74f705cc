/** Ability of transformers to withstand short circuit: IEC 60076-5, clause 4. Limits and least impedances are recalled. */

export type WindingMetal = 'copper' | 'aluminium';

/** Constants of the average winding temperature, and the highest it may reach in °C in oil (IEC 60076-5, 4.1.4 and 4.1.5). */
export const winding: Readonly<Record<WindingMetal, { offset: number; constant: number; limitC: number }>> = {
  copper: { offset: 235, constant: 106000, limitC: 250 },
  aluminium: { offset: 225, constant: 45700, limitC: 200 },
};

/** Duration of the current for thermal withstand where none is agreed, in seconds (IEC 60076-5, 4.1.3). */
export const usualWithstandS = 2;

/** Average winding temperature in °C after a current density in A/mm² over some seconds; the standard's formula (IEC 60076-5, 4.1.5). */
export function windingTemperature(metal: WindingMetal, initialC: number, density: number, durationS: number): number {
  const { offset, constant } = winding[metal];
  return initialC + (2 * (initialC + offset)) / (constant / (density ** 2 * durationS) - 1);
}

/** The same from the heat balance that the formula approximates: resistance in proportion to the temperature. */
export function windingTemperatureExact(
  metal: WindingMetal,
  initialC: number,
  density: number,
  durationS: number,
): number {
  const { offset, constant } = winding[metal];
  return (initialC + offset) * Math.exp((2 * density ** 2 * durationS) / constant) - offset;
}

/** Current of a short circuit at the terminals over the rated one: 1/(uk + SrT/S) with the network behind it (IEC 60076-5, 4.1.2). */
export const timesRated = (ukPercent: number, ratedMva: number, systemMva: number): number =>
  1 / (ukPercent / 100 + ratedMva / systemMva);

/** Up to each rated power in kVA: the least short-circuit impedance in percent (IEC 60076-5, table 1). */
const leastImpedance = [
  [630, 4],
  [1250, 5],
  [2500, 6],
  [6300, 7],
  [25000, 8],
  [40000, 10],
  [63000, 11],
  [Infinity, 12.5],
] as const;

/** In percent. */
export const leastImpedancePercent = (ratedKva: number): number =>
  leastImpedance.find(([upTo]) => ratedKva <= upTo)![1];

/** k·√2 as an approximation of the first peak: √2·(1 + e^(−(φ + π/2)·R/X)·sin φ) (IEC 60076-5, 4.2.3). */
export function peakRatio(xOverR: number): number {
  const phi = Math.atan(xOverR);
  return Math.SQRT2 * (1 + Math.exp(-(phi + Math.PI / 2) / xOverR) * Math.sin(phi));
}
