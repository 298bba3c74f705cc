/** All fault runs of a line package, for one end: over conditions, far ends and the outages around, each told by where it was and what was out. */
import { loopsOf } from '../protection/distance/loops';
import type { Complex } from '../linear/complex';
import { magnitude } from '../linear/complex';
import type { ElementId } from '../model/fields';
import { solidFault } from '../faults/kinds';
import { circuitAt, pathsFrom, byOhm, type Path } from '../reach/circuits';
import { loopsOfFault } from '../reach/region';
import { packageRuns, type Run } from '../reach/runs';
import { neighboursAt } from '../reach/neighbours';
import type { LineEnd } from '../reach/seen';
import type { Studies } from '../studies/studies';
import { within } from '../working/steps';

/** `closeIn`: on the line in front of the relay; `remoteBus`: at a far busbar; `lineEndOpen`: at a far end with its breaker open; `behind`: at the own busbar. */
export const runPlaces = ['closeIn', 'remoteBus', 'lineEndOpen', 'behind'] as const;
export type RunPlace = (typeof runPlaces)[number];

export interface PackageRun extends Run {
  readonly place: RunPlace;
  readonly far: LineEnd;
  readonly condition: ElementId;
  /** What is out of service besides, and at which end it hangs. */
  readonly out: ElementId | null;
  readonly outAt: 'own' | 'far' | null;
}

/** Ways to all far ends, the nearest first. */
export const farPaths = (studies: Studies, end: LineEnd): Path[] =>
  [...pathsFrom(studies.max.assembly, circuitAt(studies.network, end), end)].sort(byOhm);

/** Yields the share that is done. */
export function* gatherRuns(
  studies: Studies,
  conditions: readonly ElementId[],
  end: LineEnd,
): Generator<number, readonly PackageRun[]> {
  const paths = farPaths(studies, end);
  const behind = neighboursAt(studies, end);
  const found: PackageRun[] = [];
  const total = conditions.length * Math.max(paths.length, 1);
  let done = 0;
  for (const condition of conditions)
    for (const [k, path] of paths.entries()) {
      const far = neighboursAt(studies, path.to).filter((id) => !behind.includes(id));
      const steps = packageRuns(studies, { condition }, end, path, [...behind, ...far]);
      const value = yield* within(steps, done++ / total, 1 / total);
      const at = (place: RunPlace, runs: readonly Run[], out: ElementId | null = null): PackageRun[] =>
        runs.map((run) => ({
          ...run,
          place,
          far: path.to,
          condition,
          out,
          outAt: out === null ? null : behind.includes(out) ? 'own' : 'far',
        }));
      if (k === 0) found.push(...at('closeIn', value.closeIn), ...at('behind', value.behind));
      found.push(...at('remoteBus', value.remoteBus), ...at('lineEndOpen', value.lineEndOpen));
      for (const { out, runs } of value.outages) found.push(...at('remoteBus', runs, out));
    }
  return found;
}

/** Below this nothing is measured, in amperes. */
const leastA = 1;

/** Impedances of the loops of a fault, as magnitudes in primary ohms. */
export function ohmsOf({ kind, currents, voltages }: Run, k0: Complex, isEarth: boolean): number[] {
  const wanted = loopsOfFault(solidFault(kind));
  return loopsOf({ currents, voltages, before: null }, { form: 'factor', k0 }).flatMap((loop) =>
    loop.isEarth === isEarth && loop.impedance && loop.measuredA > leastA && wanted.includes(loop.name)
      ? [magnitude(loop.impedance)]
      : [],
  );
}
