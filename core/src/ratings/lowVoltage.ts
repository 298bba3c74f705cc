/** Low-voltage breakers (IEC 60947-2, tables 2 and 3) and boards (IEC 61439-1, table 7). The tables are recalled; their n fits the peak at the test power factor. */

export interface TestCircuit {
  /** Peak over rms value of the prospective current. */
  readonly n: number;
  readonly powerFactor: number;
}

/** Up to each rated ultimate short-circuit breaking capacity, in kA. */
const makingTable: readonly (TestCircuit & { upTo: number })[] = [
  { upTo: 3, powerFactor: 0.9, n: 1.42 },
  { upTo: 4.5, powerFactor: 0.8, n: 1.47 },
  { upTo: 6, powerFactor: 0.7, n: 1.5 },
  { upTo: 10, powerFactor: 0.5, n: 1.7 },
  { upTo: 20, powerFactor: 0.3, n: 2 },
  { upTo: 50, powerFactor: 0.25, n: 2.1 },
  { upTo: Infinity, powerFactor: 0.2, n: 2.2 },
];

/** Up to each rms value of the short-circuit current, in kA. */
const boardTable: readonly (TestCircuit & { upTo: number })[] = [
  { upTo: 5, powerFactor: 0.7, n: 1.5 },
  { upTo: 10, powerFactor: 0.5, n: 1.7 },
  { upTo: 20, powerFactor: 0.3, n: 2 },
  { upTo: 50, powerFactor: 0.25, n: 2.1 },
  { upTo: Infinity, powerFactor: 0.2, n: 2.2 },
];

const rowAt = (table: typeof makingTable, kA: number): TestCircuit => table.find(({ upTo }) => kA <= upTo)!;

/** Least ratio Icm/Icu of a breaker, and the power factor it is tested at (IEC 60947-2, table 2). */
export const makingRatio = (icuKa: number): TestCircuit => rowAt(makingTable, icuKa);

/** Ratio Ipk/Icw of a board (IEC 61439-1, table 7). */
export const boardPeakRatio = (icwKa: number): TestCircuit => rowAt(boardTable, icwKa);

/** Power factor of a short circuit from R/X. */
export const powerFactorOf = (rOverX: number): number => rOverX / Math.hypot(rOverX, 1);

/** Least rated short-time withstand current of a breaker for selectivity by delay, in kA (IEC 60947-2, table 3). */
export const leastShortTimeKa = (ratedA: number): number => (ratedA > 2500 ? 30 : Math.max((12 * ratedA) / 1000, 5));
