/**
 * What devices let through, over the prospective current: energy (∫i²dt) and the peak of the current. A current-limiting link by its energies; whatever else opens
 * lets the whole current flow until it has cleared, with the d.c. component of the place.
 */
import { heatOfDc } from '../../faults/iec60909/thermal';
import { cutOffA } from '../../protection/fuse/link';
import { latestClearing, type TimeCurrent } from '../../protection/family';
import { energyBelowS } from '../least';
import type { ChartBasis } from './basis';
import type { ChartCurve } from './curves';

export interface LetThroughPoint {
  /** Prospective current, amperes on the chart. */
  readonly currentA: number;
  /** A²s, or peak amperes; at the device's own voltage. */
  readonly value: number;
}

interface Site {
  readonly kappa: number;
  readonly frequencyHz: number;
  readonly openingS: number;
}

/**
 * Most energy that a function lets through at a steady prospective current, in A²s: I²·t·(m + 1) with the heat m of the d.c. component (IEC 60909-0, 11) until it has
 * cleared; where a link melts within a tenth of a second, what its energies say. Infinity where it does not operate.
 */
export function letThroughA2s(fn: TimeCurrent, currentA: number, { kappa, frequencyHz, openingS }: Site): number {
  const clearedS = latestClearing(fn, currentA, openingS);
  if (!Number.isFinite(clearedS)) return Infinity;
  const whole = currentA ** 2 * clearedS * (1 + heatOfDc(kappa, frequencyHz, clearedS));
  const most = fn.energy?.throughA2s(currentA) ?? Infinity;
  if (clearedS >= energyBelowS || !Number.isFinite(most)) return whole;
  // Towards a tenth of a second a link takes more than adiabatic melting does.
  return Math.max(most, currentA ** 2 * clearedS);
}

/** Largest peak that it lets through: the first peak of the current, κ·√2·I, or where a link cuts it off. */
export function letThroughPeakA(fn: TimeCurrent, currentA: number, { kappa, frequencyHz, openingS }: Site): number {
  const clearedS = latestClearing(fn, currentA, openingS);
  if (!Number.isFinite(clearedS)) return Infinity;
  const peak = kappa * Math.SQRT2 * currentA;
  const most = fn.energy?.throughA2s(currentA) ?? Infinity;
  // Only what has melted before the first peak limits it.
  return Number.isFinite(most) && clearedS < energyBelowS
    ? Math.min(peak, cutOffA(most, currentA, frequencyHz, kappa))
    : peak;
}

/** The line of a device: of all its functions the one that lets through least decides at each current. */
export function letThroughPoints(curve: ChartCurve, basis: ChartBasis, of: 'energy' | 'cutOff'): LetThroughPoint[] {
  const { device, factor, points, functions } = curve;
  const standing = basis.devices.find(({ id }) => id === device.id) ?? basis.devices[0];
  if (points.length === 0 || !standing) return [];
  const site = { kappa: standing.kappa, frequencyHz: standing.frequencyHz, openingS: device.openingS };
  const through = of === 'energy' ? letThroughA2s : letThroughPeakA;
  const lasting = functions.filter(({ fn }) => !fn.fast);
  return points.flatMap(({ currentA }) => {
    const value = Math.min(...lasting.map(({ fn }) => through(fn, currentA / factor, site)));
    return Number.isFinite(value) ? [{ currentA, value }] : [];
  });
}
