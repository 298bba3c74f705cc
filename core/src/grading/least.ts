/**
 * The least time between two devices on the way of one fault state from a part of its size up to all of it: latest clearing below, earliest operation above. Between
 * two links that melt by energy, times of less than a tenth of a second say nothing: there their energies are compared.
 */
import { earliestOperation, latestClearing, type TimeCurrent } from '../protection/family';

/** What counts as the time between two devices: the curves as they are set, or the bands of what they really do. */
export type Counting = 'curves' | 'bands';

/** A function with what it measures in one full state, and how soon and how late it operates there. */
export interface Measuring {
  readonly fn: TimeCurrent;
  readonly fullA: number;
  /** Part of it that stays whatever the fault: load that goes on. */
  readonly steadyA?: number;
  /** Below this it counts for nothing. */
  readonly fromA: number;
  timeAt(currentA: number): number;
}

/** One function of the device below: by when it has certainly cleared. `openingS`: of its breaker. */
export const clearingBy = (fn: TimeCurrent, fullA: number, openingS: number, counting: Counting): Measuring => ({
  fn,
  fullA,
  fromA: fn.assuredA,
  timeAt:
    counting === 'bands' ? (currentA) => latestClearing(fn, currentA, openingS) : (currentA) => fn.at(currentA).latestS,
});

/** One function of the device above: from when on it may operate. */
export const operatingBy = (fn: TimeCurrent, fullA: number, counting: Counting): Measuring => ({
  fn,
  fullA,
  // A link may melt, a release may trip as soon as its band begins.
  fromA: fn.accuracy ? fn.assuredA : fn.pickupA,
  timeAt:
    counting === 'bands' ? (currentA) => earliestOperation(fn, currentA) : (currentA) => fn.at(currentA).earliestS,
});

/** The quickest of the functions that count at a share of the full state; null when none does. */
export function quickestOf(functions: readonly Measuring[], scale: number): Measuring | null {
  let best: Measuring | null = null;
  let bestS = Infinity;
  for (const each of functions) {
    const timeS = timeOf(each, scale);
    if (timeS < bestS) [best, bestS] = [each, timeS];
  }
  return best;
}

function timeOf({ fullA, steadyA = 0, fromA, timeAt }: Measuring, scale: number): number {
  const currentA = (fullA - steadyA) * scale + steadyA;
  return currentA < fromA ? Infinity : timeAt(currentA);
}

export const quickest = (functions: readonly Measuring[], scale: number): number => {
  let timeS = Infinity;
  for (const each of functions) timeS = Math.min(timeS, timeOf(each, scale));
  return timeS;
};

/** Below this time links are compared by energy, in seconds. */
export const energyBelowS = 0.1;

export const meltsByEnergy = (functions: readonly Measuring[]) =>
  functions.length > 0 && functions.every(({ fn }) => fn.energy !== undefined);

export interface LeastMargin {
  /** Share of the full state. */
  readonly scale: number;
  readonly marginS: number;
  readonly downstreamS: number;
  readonly upstreamS: number;
  readonly downstream: Measuring;
  readonly upstream: Measuring;
}

/** The smallest time between two devices on the way of one state from a share up to its full size; null when they never both operate. */
export function leastMargin(below: readonly Measuring[], above: readonly Measuring[], from = 0): LeastMargin | null {
  if (assuredBySeries(below, above)) return null;
  const byEnergy = meltsByEnergy(below) && meltsByEnergy(above);
  /** Infinity where they do not both operate, and where their energies decide. */
  const marginAt = (scale: number): number => {
    const first = quickest(below, scale);
    if (first === Infinity || (byEnergy && first < energyBelowS)) return Infinity;
    return quickest(above, scale) - first;
  };
  const scales = breakpoints(below, above).filter((scale) => scale > from);
  if (from > 0) scales.unshift(from);
  let best: { scale: number; marginS: number } | null = null;
  const consider = (scale: number) => {
    const marginS = marginAt(scale);
    if (marginS < (best?.marginS ?? Infinity)) best = { scale, marginS };
  };
  // Between two breakpoints both times are smooth: a coarse walk finds the valley, golden section its floor.
  for (let k = 0; k + 1 < scales.length; k++) consider(walk(scales[k] * (1 + 1e-9), scales[k + 1], marginAt));
  consider(1);
  if (!best) return null;
  const { scale } = best as { scale: number };
  const downstream = quickestOf(below, scale)!;
  const upstream = quickestOf(above, scale)!;
  const downstreamS = timeOf(downstream, scale);
  const upstreamS = timeOf(upstream, scale);
  return { scale, marginS: upstreamS - downstreamS, downstreamS, upstreamS, downstream, upstream };
}

/** Links of one standard with selective energies: it assures them over all currents, more than the gates of their curves tell. */
const assuredBySeries = (below: readonly Measuring[], above: readonly Measuring[]): boolean =>
  below.length === 1 &&
  above.length === 1 &&
  below[0].fn.energy?.series !== undefined &&
  below[0].fn.energy.series === above[0].fn.energy?.series &&
  above[0].fullA <= below[0].fullA * (1 + 1e-9) &&
  selectiveByEnergy(below[0].fn.energy.throughA2s(below[0].fullA), above[0].fn.energy.meltingA2s);

/** The one below clears with less energy than melts the one above. */
export const selectiveByEnergy = (throughA2s: number, meltingA2s: number): boolean => throughA2s <= meltingA2s;

/** Smallest share of a state from which on the upstream device may open before the downstream one has cleared; null where it never may. */
export function failsFrom(below: readonly Measuring[], above: readonly Measuring[], wantedS: number): number | null {
  const fails = (scale: number) => {
    const first = quickest(below, scale);
    return first < Infinity && quickest(above, scale) - first < wantedS - tolerance;
  };
  const scales = breakpoints(below, above);
  for (let k = 0; k + 1 < scales.length; k++) {
    // Just behind a corner, then on the way to the next one.
    const [from, to] = [scales[k] * (1 + 1e-9), scales[k + 1]];
    if (fails(from)) return scales[k];
    const steps = 16;
    for (let n = 1; n <= steps; n++) {
      const here = from * (to / from) ** (n / steps);
      if (fails(here)) return bisected(from * (to / from) ** ((n - 1) / steps), here, fails);
    }
  }
  return null;
}

/** Where a condition that does not hold at `from` begins to, up to `to`, where it does. */
function bisected(from: number, to: number, holds: (x: number) => boolean): number {
  let [low, high] = [from, to];
  for (let k = 0; k < 50; k++) {
    const middle = Math.sqrt(low * high);
    if (holds(middle)) high = middle;
    else low = middle;
  }
  return high;
}

/** What rounding may leave of a margin, in seconds. */
export const tolerance = 1e-9;

/** Scales at which a curve of either device begins, steps or bends, between 0 and 1. */
function breakpoints(below: readonly Measuring[], above: readonly Measuring[]): number[] {
  const scales = [1];
  for (const { fn, fullA, steadyA = 0 } of [...below, ...above])
    for (const cornerA of fn.cornersA) {
      const scale = (cornerA - steadyA) / (fullA - steadyA);
      if (scale < 1 && scale > 0) scales.push(scale);
    }
  return [...new Set(scales)].sort((p, q) => p - q);
}

function walk(from: number, to: number, f: (x: number) => number): number {
  if (!(to > from)) return to;
  const steps = 24;
  const x = (k: number) => from * (to / from) ** (k / steps);
  let best = 0;
  let least = f(from);
  for (let k = 1; k <= steps; k++) {
    const here = f(x(k));
    if (here < least) [best, least] = [k, here];
  }
  let [a, b] = [x(Math.max(best - 1, 0)), x(Math.min(best + 1, steps))];
  const golden = (Math.sqrt(5) - 1) / 2;
  let [p, q] = [b - golden * (b - a), a + golden * (b - a)];
  let [fp, fq] = [f(p), f(q)];
  for (let k = 0; k < 28; k++) {
    if (fp < fq) {
      [b, q, fq] = [q, p, fp];
      p = b - golden * (b - a);
      fp = f(p);
    } else {
      [a, p, fp] = [p, q, fq];
      q = a + golden * (b - a);
      fq = f(q);
    }
  }
  // Where a valley is flat its floor is known to eight digits only, and other ones in each engine of the language: six are what is told.
  const middle = Math.min(Math.max(Number(((a + b) / 2).toPrecision(6)), from), to);
  return f(middle) < least ? middle : x(best);
}
