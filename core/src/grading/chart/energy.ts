/**
 * What devices let through, over the prospective current: energy (∫i²dt) and the peak of the current. A current-limiting link by its energies; whatever else opens
 * lets the whole current flow until it has cleared, with the d.c. component of the place.
 */
import { heatOfDc } from '../../faults/iec60909/thermal';
import { cutOffA } from '../../protection/fuse/link';
import { latestClearing, type TimeCurrent } from '../../protection/family';
import { energyBelowS } from '../least';
import type { ChartCurve } from './curves';

export interface LetThroughPoint {
  /** Prospective current, amperes on the chart. */
  readonly currentA: number;
  /** A²s, or peak amperes; at the level of the chart. */
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

/** Largest peak that it lets through: the first peak of the current, κ·√2·I, or what the current has risen to when a link's energy is spent. */
export function letThroughPeakA(fn: TimeCurrent, currentA: number, site: Site): number {
  const clearedS = latestClearing(fn, currentA, site.openingS);
  if (!Number.isFinite(clearedS)) return Infinity;
  const limits = Number.isFinite(fn.energy?.throughA2s(currentA) ?? Infinity) && clearedS < energyBelowS;
  return limits
    ? cutOffA(letThroughA2s(fn, currentA, site), currentA, site.frequencyHz, site.kappa)
    : site.kappa * Math.SQRT2 * currentA;
}

/**
 * The line of a device: of all its functions the one that lets through least decides at each current. At the level of the chart, as its currents are: what stands at
 * different voltages compares by that.
 */
export function letThroughPoints(
  { device, factor, points, functions, site }: ChartCurve,
  of: 'energy' | 'cutOff',
): LetThroughPoint[] {
  if (!site) return [];
  const through = of === 'energy' ? letThroughA2s : letThroughPeakA;
  const referred = of === 'energy' ? factor ** 2 : factor;
  const here = { ...site, openingS: device.openingS };
  const lasting = functions.filter(({ fn }) => !fn.fast);
  return points.flatMap(({ currentA }) => {
    const value = referred * Math.min(...lasting.map(({ fn }) => through(fn, currentA / factor, here)));
    return Number.isFinite(value) ? [{ currentA, value }] : [];
  });
}
