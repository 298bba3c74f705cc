/** Cases of the fault runs that a line package is made of. */
import { scale } from '@mesura/core/linear/complex';
import { minimumSources } from '@mesura/core/model/condition';
import { elementId } from '@mesura/core/model/fields';
import { farthestPath, packageRuns, type Run } from '@mesura/core/reach/runs';
import { finished } from '@mesura/core/working/steps';
import type { Figure, Inputs, Pair } from './case';
import { endOf, type NetworkKind, type Open, type RelayCase } from './distance';

interface RunCase {
  readonly largestPhaseA: number;
  readonly threeI0A: number;
  readonly angle3I0To3U0Degrees: number | null;
  readonly IkA: readonly (readonly [number, number])[];
  readonly smallestUkV: number;
}

interface OutageCase {
  readonly byOutage: Readonly<Record<string, { readonly largestPhaseA: number; readonly threeI0A: number }>>;
  readonly largest: readonly string[];
  readonly smallest: readonly string[];
}

interface Expected extends Record<'closeIn' | 'remoteBus' | 'lineEndOpen', Readonly<Record<string, RunCase>>> {
  readonly remoteBusOutage: Readonly<Record<string, OutageCase>>;
}

const ampere = (expected: number) => Math.max(1e-4 * expected, 0.5);

function runPairs(figure: string, expected: RunCase, run: Run | undefined): Pair[] {
  const of = (part: string, value: Figure, computed: Figure | undefined, allowed?: number): Pair => ({
    figure: `${figure}.${part}`,
    expected: value,
    computed,
    allowed,
  });
  const largest = ampere(expected.largestPhaseA);
  return [
    of('largestPhaseA', expected.largestPhaseA, run?.largestPhaseA, largest),
    of('threeI0A', expected.threeI0A, run?.residualA, ampere(expected.threeI0A)),
    of('angle3I0To3U0Degrees', expected.angle3I0To3U0Degrees, run?.residualDeg, 0.05),
    of('smallestUkV', expected.smallestUkV, run && run.smallestV / 1000, Math.max(1e-4 * expected.smallestUkV, 1e-3)),
    ...expected.IkA.flatMap(([re, im], k) => {
      const current = run && scale(run.currents[k], 1e-3);
      return [
        of(`IkA.${k + 1}.re`, re, current?.re, largest / 1000),
        of(`IkA.${k + 1}.im`, im, current?.im, largest / 1000),
      ];
    }),
  ];
}

/** Outages that share an extreme within 1e-4; those that leave less than 1 A are no smallest. */
function extremes(found: ReadonlyMap<string, Run>): { largest: string[]; smallest: string[] } {
  const all = [...found].map(([id, { largestPhaseA }]) => ({ id, largestPhaseA }));
  const counted = all.filter(({ largestPhaseA }) => largestPhaseA >= 1);
  const most = Math.max(...all.map(({ largestPhaseA }) => largestPhaseA));
  const least = Math.min(...counted.map(({ largestPhaseA }) => largestPhaseA));
  return {
    largest: all.filter(({ largestPhaseA }) => largestPhaseA >= most * (1 - 1e-4)).map(({ id }) => id),
    smallest: counted.filter(({ largestPhaseA }) => largestPhaseA <= least * (1 + 1e-4)).map(({ id }) => id),
  };
}

function simulations(inputs: Inputs, expected: unknown, open: Open): Pair[] {
  const { network, relay } = inputs as unknown as { network: string; relay: RelayCase };
  const wanted = expected as Expected;
  const studies = open(network);
  const end = endOf(relay);
  const outages = [
    ...new Set(Object.values(wanted.remoteBusOutage).flatMap(({ byOutage }) => Object.keys(byOutage))),
  ].map(elementId);
  // Angles count from the voltage before the fault; one level, and no load: that of every bus.
  const runs = finished(
    packageRuns(studies, { condition: minimumSources.id }, end, farthestPath(studies, end)!, outages),
  );
  const single = (['closeIn', 'remoteBus', 'lineEndOpen'] as const).flatMap((name) =>
    Object.entries(wanted[name]).flatMap(([kind, run]) =>
      runPairs(
        `${name}.${kind}`,
        run,
        runs[name].find((each) => each.kind === kind),
      ),
    ),
  );
  const withOutage = Object.entries(wanted.remoteBusOutage).flatMap(([kind, { byOutage, largest, smallest }]) => {
    const found = new Map(
      runs.outages.flatMap(({ out, runs: each }) => {
        const run = each.find((one) => one.kind === kind);
        return run ? [[out as string, run] as const] : [];
      }),
    );
    const figure = `remoteBusOutage.${kind}`;
    const own = extremes(found);
    return [
      ...Object.entries(byOutage).flatMap(([id, run]): Pair[] => [
        {
          figure: `${figure}.byOutage.${id}.largestPhaseA`,
          expected: run.largestPhaseA,
          computed: found.get(id)?.largestPhaseA ?? 0,
          allowed: ampere(run.largestPhaseA),
        },
        {
          figure: `${figure}.byOutage.${id}.threeI0A`,
          expected: run.threeI0A,
          computed: found.get(id)?.residualA ?? 0,
          allowed: ampere(run.threeI0A),
        },
      ]),
      { figure: `${figure}.largest`, expected: largest.join(), computed: own.largest.join() },
      { figure: `${figure}.smallest`, expected: smallest.join(), computed: own.smallest.join() },
    ];
  });
  return [...single, ...withOutage];
}

export const linePackageKinds: Readonly<Record<string, NetworkKind>> = { 'line package: simulations': simulations };
