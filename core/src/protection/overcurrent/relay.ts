/** A relay as a function of primary current: its functions with the ratio of their CT, and the time to trip. */
import type { CurrentTransformer } from '../../model/switching';
import type { OvercurrentFunction, Relay } from '../../model/protection';
import { characteristics, inverseTime } from './characteristics';

export type Measured = 'phase' | 'earth';

/** What a function measures: phase currents, or the residual current 3·I0. */
export const measures = (fn: Pick<OvercurrentFunction, 'code'>): Measured =>
  fn.code.endsWith('N') ? 'earth' : 'phase';

/** A function in primary amperes. */
export interface PrimaryFunction {
  readonly source: OvercurrentFunction;
  readonly measured: Measured;
  readonly pickupA: number;
}

export interface PrimaryRelay {
  readonly relay: Relay;
  readonly functions: readonly PrimaryFunction[];
}

/** Functions in use, in primary amperes through the CT. */
export function primaryRelay(relay: Relay, ct: CurrentTransformer): PrimaryRelay {
  const functions = relay.functions
    .filter((fn) => fn.enabled)
    .map((fn) => ({ source: fn, measured: measures(fn), pickupA: fn.pickup * ct.primaryA }));
  return { relay, functions };
}

/** High-set functions run on definite time whatever their characteristic field says. */
export const isDefinite = (fn: OvercurrentFunction): boolean =>
  fn.characteristic === 'definite' || fn.code === '50' || fn.code === '50N';

/** Operating time in seconds of one function at a primary current; Infinity where it does not pick up. */
export function functionTime(fn: PrimaryFunction, currentA: number): number {
  if (!(currentA > fn.pickupA)) return Infinity;
  if (isDefinite(fn.source)) return fn.source.delayS;
  return inverseTime(
    characteristics[fn.source.characteristic].constants!,
    currentA / fn.pickupA,
    fn.source.timeMultiplier,
  );
}

/** What a relay measures in one state of the network: primary amperes. */
export interface SeenCurrents {
  readonly phaseA: number;
  readonly residualA: number;
}

export interface TripTime {
  /** Infinity when no function picks up. */
  readonly timeS: number;
  /** The function that trips. */
  readonly by: PrimaryFunction | null;
}

/** Trip time: the quickest of the functions, each on what it measures. */
export function tripTime(relay: PrimaryRelay, seen: SeenCurrents): TripTime {
  let best: TripTime = { timeS: Infinity, by: null };
  for (const fn of relay.functions) {
    const timeS = functionTime(fn, fn.measured === 'phase' ? seen.phaseA : seen.residualA);
    if (timeS < best.timeS) best = { timeS, by: fn };
  }
  return best;
}

export interface CurvePoint {
  readonly currentA: number;
  readonly timeS: number;
}

/** Shortest time drawn: a function without delay still stands on the chart. */
const floorS = 1e-3;

/**
 * The characteristic of a relay for phase or earth currents as a line of points in primary amperes, from pickup to `toA`;
 * steps are exact (two points at the same current).
 */
export function relayCurve(relay: PrimaryRelay, measured: Measured, toA: number, pointsPerDecade = 60): CurvePoint[] {
  const functions = relay.functions.filter((fn) => fn.measured === measured);
  if (functions.length === 0) return [];
  const pickups = functions.map((fn) => fn.pickupA).sort((p, q) => p - q);
  const fromA = pickups[0];
  if (!(toA > fromA)) return [];
  const currents = new Set<number>();
  for (const pickup of pickups)
    if (pickup < toA) [pickup, pickup * (1 + 1e-9), pickup * 1.01].forEach((i) => currents.add(i));
  const steps = Math.ceil(Math.log10(toA / fromA) * pointsPerDecade);
  for (let k = 0; k <= steps; k++) currents.add(fromA * (toA / fromA) ** (k / steps));
  const at = (currentA: number) => Math.max(floorS, Math.min(...functions.map((fn) => functionTime(fn, currentA))));
  return [...currents]
    .sort((p, q) => p - q)
    .map((currentA) => ({ currentA, timeS: at(currentA) }))
    .filter((point) => Number.isFinite(point.timeS));
}
