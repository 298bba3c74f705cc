/**
 * Many faults around many places: every kind, with every branch around in service and each of them out in turn, and the currents through
 * these branches. What lies around a place is a small part of the network's inverse, so that a further kind or a further
 * outage costs a few multiplications. For settings that must hold in every condition.
 */
import type { Iec60909Study } from '../iec60909/study';
import type { FaultKind } from '../kinds';
import type { Place } from '../solution/solve';
import { Surroundings, type SweepSolution } from '../solution/surroundings';

export type { Observed, SweepSolution } from '../solution/surroundings';

export interface SweepOptions {
  readonly places: readonly Place[];
  readonly kinds: readonly FaultKind[];
  /** How many branches around each place, nearest first. */
  readonly branches?: number;
  /** Also with each of these branches out of service. */
  readonly outages?: boolean;
}

/** Calls `visit` for every place, outage and kind; returns how many faults were solved. */
export function sweep(
  study: Iec60909Study,
  { places, kinds, branches = 10, outages = true }: SweepOptions,
  visit: (solution: SweepSolution) => void,
): number {
  const surroundings = new Surroundings(study);
  let count = 0;
  for (const place of places) {
    const local = surroundings.at(place, branches);
    if (!local) continue;
    for (const outage of outages ? [null, ...local.elements] : [null])
      for (const kind of kinds) {
        visit(local.solve(kind, outage));
        count++;
      }
  }
  return count;
}
