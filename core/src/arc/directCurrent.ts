/**
 * Arcs of direct current: the arc from a source of fixed voltage behind a resistance, by three methods, and what it radiates in open air or out of an enclosure. Volts, ohms, amperes, mm,
 * seconds, J/cm².
 */
import { boundaryEnergy } from './ieee2018';

export const directMethods = ['maxpower', 'stokes', 'paukert'] as const;
export type DirectMethod = (typeof directMethods)[number];

export interface DirectArc {
  readonly currentA: number;
  readonly voltageV: number;
  readonly resistanceOhm: number;
  readonly powerW: number;
}

const arcOf = (currentA: number, voltageV: number): DirectArc => ({
  currentA,
  voltageV,
  resistanceOhm: voltageV / currentA,
  powerW: voltageV * currentA,
});

/** D. R. Doan 2010; NFPA 70E, D.5 (as remembered): the arc takes half of the voltage and half of the bolted current. */
export const largestPower = (volts: number, ohm: number): DirectArc => arcOf(volts / (2 * ohm), volts / 2);

/** Least current at which the arc of Stokes and Oppenlander burns, in amperes. */
export const transitionA = (gapMm: number): number => 10 + 0.2 * gapMm;

/** A. D. Stokes, W. T. Oppenlander 1991 (as remembered): volts of an arc. */
export const stokesVoltage = (gapMm: number, currentA: number): number => (20 + 0.534 * gapMm) * currentA ** 0.12;

/** Current at which circuit and arc agree, whether an arc can burn at it or not, in amperes. */
export function stokesRoot(volts: number, ohm: number, gapMm: number): number {
  return falling((i) => volts - ohm * i - stokesVoltage(gapMm, i), volts / ohm);
}

/** Null where the circuit cannot sustain an arc. */
export function stokes(volts: number, ohm: number, gapMm: number): DirectArc | null {
  const currentA = stokesRoot(volts, ohm, gapMm);
  return currentA < transitionA(gapMm) ? null : arcOf(currentA, stokesVoltage(gapMm, currentA));
}

/** Volts of an arc by c·I^n, below and from 100 A. */
export interface PaukertRow {
  readonly gapMm: number;
  readonly low: readonly [number, number];
  readonly high: readonly [number, number];
}

/** J. Paukert 1993 as tabulated by R. F. Ammerman et al. 2010, as remembered; the row of 5 mm jumps by 23 % at 100 A. */
export const paukertRows: readonly PaukertRow[] = [
  { gapMm: 1, low: [36.32, -0.124], high: [13.04, 0.098] },
  { gapMm: 5, low: [71.39, -0.186], high: [14.13, 0.211] },
  { gapMm: 10, low: [105.25, -0.239], high: [16.68, 0.163] },
  { gapMm: 20, low: [153.63, -0.278], high: [20.11, 0.19] },
  { gapMm: 50, low: [262.02, -0.31], high: [28.35, 0.194] },
  { gapMm: 100, low: [481.2, -0.35], high: [34.18, 0.241] },
  { gapMm: 200, low: [662.34, -0.283], high: [52.63, 0.264] },
];

/** Volts of an arc; between tabulated gaps straight in the gap. Null beyond the table. */
export function paukertVoltage(gapMm: number, currentA: number): number | null {
  const at = ({ low, high }: PaukertRow) => {
    const [c, n] = currentA < 100 ? low : high;
    return c * currentA ** n;
  };
  const k = paukertRows.findIndex((row) => row.gapMm >= gapMm);
  if (k < 0 || gapMm < paukertRows[0].gapMm) return null;
  const upper = paukertRows[k];
  if (upper.gapMm === gapMm) return at(upper);
  const lower = paukertRows[k - 1];
  const share = (gapMm - lower.gapMm) / (upper.gapMm - lower.gapMm);
  return at(lower) + share * (at(upper) - at(lower));
}

/** Null beyond the table, and where the circuit cannot sustain an arc. */
export function paukert(volts: number, ohm: number, gapMm: number): DirectArc | null {
  if (paukertVoltage(gapMm, 1000) === null) return null;
  const left = (i: number) => volts - ohm * i - paukertVoltage(gapMm, i)!;
  const bolted = volts / ohm;
  // From the largest power on the branch of stable arcs, each side of the step at 100 A by itself.
  const stable = (from: number, to: number): number | null => {
    if (from >= to) return null;
    const steps = 400;
    let high = to;
    for (let k = 1; k <= steps; k++) {
      const low = to * (from / to) ** (k / steps);
      if (left(low) >= 0) return bisected(left, low, high);
      high = low;
    }
    return null;
  };
  const currentA = stable(100, bolted) ?? stable(1, Math.min(bolted, 100 * (1 - 1e-12)));
  return currentA === null ? null : arcOf(currentA, paukertVoltage(gapMm, currentA)!);
}

export function directArc(method: DirectMethod, volts: number, ohm: number, gapMm: number): DirectArc | null {
  if (method === 'maxpower') return largestPower(volts, ohm);
  return method === 'stokes' ? stokes(volts, ohm, gapMm) : paukert(volts, ohm, gapMm);
}

/** How an enclosure throws back what the arc radiates: E = k·W/(a² + d²). R. Wilkins 2004, as remembered. */
export interface Box {
  readonly aMm: number;
  readonly k: number;
}

export const boxes = {
  panelboard: { aMm: 100, k: 0.127 },
  lowVoltageSwitchgear: { aMm: 400, k: 0.312 },
  mediumVoltageSwitchgear: { aMm: 950, k: 0.416 },
} as const satisfies Record<string, Box>;
export type BoxKind = keyof typeof boxes;

/** Energy on a surface from the work of an arc: over a sphere in open air, else out of the box. */
export const radiated = (workJ: number, distanceMm: number, box: Box | null): number =>
  box ? (100 * box.k * workJ) / (box.aMm ** 2 + distanceMm ** 2) : (100 * workJ) / (4 * Math.PI * distanceMm ** 2);

/** Distance at which it comes to the energy of the boundary, in mm; 0 where it does nowhere. */
export const directBoundary = (workJ: number, box: Box | null, energy = boundaryEnergy): number =>
  box
    ? Math.sqrt(Math.max((100 * box.k * workJ) / energy - box.aMm ** 2, 0))
    : Math.sqrt((100 * workJ) / (4 * Math.PI * energy));

/** The energy by the rounded constant 0.01 of D. R. Doan 2010 (as remembered), in cal/cm²; a box threefold. */
export const roundedEnergyCal = (volts: number, ohm: number, seconds: number, distanceMm: number): number =>
  (0.01 * volts * (volts / (2 * ohm)) * seconds) / (distanceMm / 10) ** 2;
export const boxMultiplier = 3;

/** A source as a voltage behind a resistance, until its device opens. */
export interface DirectSource {
  readonly volts: number;
  readonly ohm: number;
  readonly opensS: number;
}

export interface DirectStage {
  readonly fromS: number;
  readonly toS: number;
  readonly volts: number;
  readonly ohm: number;
  readonly arc: DirectArc | null;
}

/** Sources in parallel that open one after the other: the arc of each stage; it ends where no arc can burn. */
export function directStages(method: DirectMethod, sources: readonly DirectSource[], gapMm: number): DirectStage[] {
  const times = [0, ...new Set(sources.map(({ opensS }) => opensS))].sort((p, q) => p - q);
  const stages: DirectStage[] = [];
  for (let k = 0; k + 1 < times.length; k++) {
    const [fromS, toS] = [times[k], times[k + 1]];
    const closed = sources.filter(({ opensS }) => opensS > fromS);
    const siemens = closed.reduce((sum, { ohm }) => sum + 1 / ohm, 0);
    const volts = closed.reduce((sum, each) => sum + each.volts / each.ohm, 0) / siemens;
    const arc = directArc(method, volts, 1 / siemens, gapMm);
    stages.push({ fromS, toS, volts, ohm: 1 / siemens, arc });
    if (!arc) break;
  }
  return stages;
}

export const workOf = (stages: readonly DirectStage[]): number =>
  stages.reduce((sum, { fromS, toS, arc }) => sum + (arc ? arc.powerW * (toS - fromS) : 0), 0);

/** Work of an arc whose current rises through an inductance, in J: L·di/dt = V − R·i − v(i), fourth-order Runge–Kutta. */
export function risingWork(
  {
    volts,
    ohm,
    henry,
    gapMm,
  }: { readonly volts: number; readonly ohm: number; readonly henry: number; readonly gapMm: number },
  startA: number,
  seconds: number,
  steps = 20_000,
): { readonly workJ: number; readonly endA: number } {
  const slope = (i: number) => (volts - ohm * i - stokesVoltage(gapMm, i)) / henry;
  const power = (i: number) => stokesVoltage(gapMm, i) * i;
  const h = seconds / steps;
  let [i, workJ] = [startA, 0];
  for (let k = 0; k < steps; k++) {
    const a = slope(i);
    const b = slope(i + (h * a) / 2);
    const c = slope(i + (h * b) / 2);
    const d = slope(i + h * c);
    const next = i + (h * (a + 2 * b + 2 * c + d)) / 6;
    // The middle of the step by the cubic through both ends.
    const middle = (i + next) / 2 + (h * (a - slope(next))) / 8;
    workJ += (h * (power(i) + 4 * power(middle) + power(next))) / 6;
    i = next;
  }
  return { workJ, endA: i };
}

/** Root of a function that falls from 0 on, below `most`. */
const falling = (of: (x: number) => number, most: number): number => bisected(of, 1e-12, most);

/** Root between a place where the function is not negative and one where it is. */
function bisected(of: (x: number) => number, low: number, high: number): number {
  for (let k = 0; k < 200 && high - low > 1e-15 * high; k++) {
    const middle = (low + high) / 2;
    if (of(middle) >= 0) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
