/** The curves of a device: what it does over current, of all its functions together. */
import { currentOf, timeCurrents, type Device } from './device';
import type { DeviceSeen, Quantity, TimeCurrent } from './family';
import type { Measured } from '../model/chart';

/** What a chart of this mode compares. */
export const quantityOfMode: Readonly<Record<Measured, Quantity>> = {
  phase: 'phase',
  earth: 'residual',
  negative: 'negative',
};

/** A device with its time–current functions made ready. */
export interface Curves {
  readonly device: Device;
  readonly functions: readonly TimeCurrent[];
}

/** Devices never change: what has been made of one stands. */
const made = new WeakMap<Device, Curves>();

export function curvesOf(device: Device): Curves {
  let curves = made.get(device);
  if (!curves) made.set(device, (curves = { device, functions: timeCurrents(device) }));
  return curves;
}

/** What a function measures of what its device sees; 0 where its input sees nothing, or not in the direction that it looks into. */
export const measuredBy = (
  { input, quantity, measure }: Pick<TimeCurrent, 'input' | 'quantity' | 'measure'>,
  seen: DeviceSeen,
): number => (input in seen ? (measure?.(seen[input]) ?? currentOf(seen[input], quantity)) : 0);

export interface OperatingTime {
  /** Nominal operating time; Infinity when no function picks up. */
  readonly timeS: number;
  /** The function that trips. */
  readonly by: TimeCurrent | null;
}

/** Operating time: the quickest of the functions, each on what it measures. */
export function operatingTime({ functions }: Curves, seen: DeviceSeen): OperatingTime {
  let best: OperatingTime = { timeS: Infinity, by: null };
  for (const fn of functions) {
    const timeS = fn.at(measuredBy(fn, seen)).latestS;
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

/** What of a band is drawn: the nominal time of a relay, where the band begins, where it ends; the opening of a breaker is not in it. */
export type Edge = 'nominal' | 'earliest' | 'latest';

export function edgeTime({ at, accuracy }: TimeCurrent, currentA: number, edge: Edge): number {
  const { earliestS, latestS } = at(currentA);
  if (!accuracy || edge === 'nominal') return edge === 'earliest' ? earliestS : latestS;
  return edge === 'earliest'
    ? earliestS * (1 - accuracy.share) - accuracy.fixedS
    : latestS * (1 + accuracy.share) + accuracy.fixedS;
}

/**
 * The characteristic of a device for one measured quantity as a line of points in primary amperes, from pickup to `toA`; steps are exact (two points at the
 * same current).
 */
export function curvePoints(
  curves: Curves,
  quantity: Quantity,
  toA: number,
  pointsPerDecade = 60,
  edge: Edge = 'nominal',
): CurvePoint[] {
  const functions = curves.functions.filter((fn) => fn.quantity === quantity);
  if (functions.length === 0) return [];
  const fromA = Math.min(...functions.map((fn) => fn.pickupA));
  if (!(toA > fromA)) return [];
  const currents = new Set<number>();
  for (const { pickupA, cornersA, accuracy } of functions) {
    if (pickupA < toA) currents.add(pickupA * 1.01);
    // A relay's curve bends nowhere but at its pickup; a band has its edges begin and step at corners of their own.
    for (const cornerA of accuracy ? [pickupA] : cornersA)
      if (cornerA >= fromA && cornerA < toA) [cornerA, cornerA * (1 + 1e-9)].forEach((i) => currents.add(i));
  }
  const steps = Math.ceil(Math.log10(toA / fromA) * pointsPerDecade);
  for (let k = 0; k <= steps; k++) currents.add(fromA * (toA / fromA) ** (k / steps));
  const at = (currentA: number) => Math.max(floorS, Math.min(...functions.map((fn) => edgeTime(fn, currentA, edge))));
  return [...currents]
    .sort((p, q) => p - q)
    .map((currentA) => ({ currentA, timeS: at(currentA) }))
    .filter((point) => Number.isFinite(point.timeS));
}
