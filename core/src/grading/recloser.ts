/**
 * Recloser and fuse: over which currents they work together. A fuse beyond the recloser: the fast operations are over before it melts, by a factor for the
 * heat that several of them leave in it; the slow ones wait until it has cleared. A fuse on the source side does not melt before the slow operation is over.
 */
import type { TimeCurrent } from '../protection/family';

/** Largest current up to which `holds`, between two currents, both in amperes; null where it does not hold at all, `to` where it holds throughout. */
function lastHolding(fromA: number, toA: number, holds: (currentA: number) => boolean): number | null {
  const steps = 400;
  const at = (k: number) => fromA * (toA / fromA) ** (k / steps);
  let last = -1;
  for (let k = 0; k <= steps; k++) if (holds(at(k))) last = k;
  if (last < 0) return null;
  if (last === steps) return toA;
  let [low, high] = [at(last), at(last + 1)];
  for (let k = 0; k < 60; k++) {
    const middle = Math.sqrt(low * high);
    if (holds(middle)) low = middle;
    else high = middle;
  }
  return low;
}

export interface FuseBeyond {
  readonly fast: TimeCurrent | null;
  readonly slow: TimeCurrent | null;
  readonly fuse: TimeCurrent;
  readonly openingS: number;
  /** On the time of the fast operations, for the heat that several of them leave in the fuse; 1.35 is usual for two. */
  readonly factor: number;
}

/** Up to which current the fast operations save a fuse beyond the recloser; null where they never do. */
export function savedUpTo({ fast, fuse, openingS, factor }: FuseBeyond, fromA: number, toA: number): number | null {
  if (!fast) return null;
  return lastHolding(fromA, toA, (currentA) => {
    const opened = fast.at(currentA).latestS + openingS;
    return opened < Infinity && fuse.at(currentA).earliestS >= factor * opened;
  });
}

/** From which current on the slow operations leave it to the fuse to clear; null where they never do. */
export function leftToFuseFrom({ slow, fuse }: FuseBeyond, fromA: number, toA: number): number | null {
  if (!slow) return null;
  // Mirrored: the last current, from above, at which the fuse is the quicker one.
  const mirror = (currentA: number) => (fromA * toA) / currentA;
  const last = lastHolding(fromA, toA, (mirrored) => {
    const currentA = mirror(mirrored);
    const cleared = fuse.at(currentA).latestS;
    return cleared < Infinity && slow.at(currentA).earliestS >= cleared;
  });
  return last === null ? null : mirror(last);
}

/** Up to which current a fuse on the source side, which sees `share` of the current, outlasts the slow operation times a factor. */
export function sourceFuseUpTo(
  slow: TimeCurrent,
  fuse: TimeCurrent,
  openingS: number,
  { factor, share }: { readonly factor: number; readonly share: number },
  fromA: number,
  toA: number,
): number | null {
  return lastHolding(fromA, toA, (currentA) => {
    const opened = slow.at(currentA).latestS + openingS;
    return opened < Infinity && fuse.at(currentA * share).earliestS >= factor * opened;
  });
}
