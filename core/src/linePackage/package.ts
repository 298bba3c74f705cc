/** The protection of one line as a whole: its ends, their fault runs, the elements with both margins, the proof of loadability, and what of it somebody has agreed to. */
import type { LinePackage } from '../model/linePackage';
import { find } from '../model/network';
import { circuitAt, isSameEnd } from '../reach/circuits';
import { reachPlan, type ReachRow } from '../reach/plan';
import type { LineEnd } from '../reach/seen';
import { bookOf } from '../rules/book';
import type { Studies } from '../studies/studies';
import { within } from '../working/steps';
import { elementsOf, type PackageElement, type PackageEnd } from './elements';
import { figuresOf } from './figures';
import { loadingOf, type Loading } from './loading';
import { gatherRuns, type PackageRun } from './runs';
import { figureTitle } from './words';

/** What has been found from the network, whatever a person has decided. */
export interface PackageBasis {
  readonly ends: readonly (PackageEnd & { readonly runs: readonly PackageRun[] })[];
  readonly rows: readonly ReachRow[];
}

/** A statement of a package: a value against a bound, with what has become of somebody's agreement. */
export interface Statement {
  readonly end: LineEnd;
  readonly id: string;
  readonly title: string;
  readonly value: number;
  readonly bound: number;
  readonly unit: string;
  readonly sense: 'atLeast' | 'atMost';
  readonly marginPercent: number;
  readonly holds: boolean;
  /** `open`: nobody has; `moved`: a figure has changed since. */
  readonly state: 'open' | 'agreed' | 'moved';
  readonly agreed: { readonly value: number; readonly bound: number; readonly on: string } | null;
}

export interface PackageResult {
  readonly elements: readonly PackageElement[];
  readonly loading: readonly Loading[];
  readonly statements: readonly Statement[];
  /** Agreed to, and gone: the scheme or the network no longer has them. */
  readonly gone: LinePackage['agreed'];
}

/** What a view shows of it: of the runs their number only. */
export interface PackageAnswer {
  readonly basis: {
    readonly ends: readonly (PackageEnd & { readonly runCount: number })[];
  };
  readonly result: PackageResult;
}

export const withoutRuns = ({ ends }: PackageBasis): PackageAnswer['basis'] => ({
  ends: ends.map(({ row, figures, runs }) => ({ row, figures, runCount: runs.length })),
});

/** Figures that move by less are taken as the same. */
export const movedFrom = 0.005;

/** Ends of the line that a relay can stand at: at stations. */
const isProtected = ({ station, relay }: ReachRow) => station !== null || relay !== null;

/** Yields the share that is done. */
export function* packageBasis(studies: Studies, pack: LinePackage): Generator<number, PackageBasis> {
  const line = find(studies.network, 'line', pack.line);
  if (!line) throw new Error(`there is no line "${pack.line}"`);
  const rows = yield* within(reachPlan(studies, { merged: false, fromKv: 0 }), 0, 0.1);
  const circuit = circuitAt(studies.network, { line: pack.line });
  const own = circuit.ends.flatMap((end) => rows.filter((row) => isSameEnd(row.end, end) && isProtected(row)));
  const { conditions } = studies;
  const ends: PackageBasis['ends'][number][] = [];
  for (const [k, row] of own.entries()) {
    // Currents do not depend on settings: after one is changed the runs are still there.
    const steps = studies.rememberedSteps(
      `package runs ${row.end.line}:${row.end.terminal} ${JSON.stringify(conditions)}`,
      () =>
        gatherRuns(
          studies,
          conditions.map(({ id }) => id),
          row.end,
        ),
    );
    const runs = yield* within(steps, 0.1 + (0.9 * k) / own.length, 0.9 / own.length);
    ends.push({ row, runs, figures: figuresOf(studies, row, runs, { pack, rows, conditions }) });
  }
  return { ends, rows };
}

/** What follows from it with the decisions of a person: quick, so that every change is seen at once. */
export function packageResult(studies: Studies, pack: LinePackage, { ends }: PackageBasis): PackageResult {
  const elements = elementsOf(studies, bookOf(studies.network), pack, ends);
  const loading = ends.map((end) =>
    loadingOf(
      studies,
      pack,
      end,
      ends.filter((each) => each !== end),
      elements,
    ),
  );
  const statements = [
    ...elements.flatMap((element) => statementsOf(pack, element)),
    ...loading.flatMap(({ statements: list }) =>
      list.map(({ end, id, title, carriesA, requiredA, marginPercent, holds }) =>
        statement(pack, {
          end,
          id,
          title,
          value: carriesA,
          bound: requiredA,
          unit: 'A',
          sense: 'atLeast',
          marginPercent,
          holds,
        }),
      ),
    ),
  ];
  const known = new Set(statements.map(({ id, end }) => keyOf(id, end)));
  return {
    elements,
    loading,
    statements,
    gone: pack.agreed.filter(({ statement: id, line, terminal }) => !known.has(keyOf(id, { line, terminal }))),
  };
}

const lowered = (text: string): string => text.charAt(0).toLowerCase() + text.slice(1);
const keyOf = (id: string, { line, terminal }: LineEnd): string => `${id} ${line}:${terminal}`;

function statementsOf(pack: LinePackage, element: PackageElement): Statement[] {
  const { kind, end, value, isUsed, sensitivity, security } = element;
  if (!isUsed || value === null) return [];
  return (
    [
      ['sensitive', sensitivity],
      ['secure', security],
    ] as const
  ).flatMap(([word, margin]) =>
    margin
      ? [
          statement(pack, {
            end,
            id: `${kind.id}.${word}`,
            title: `${kind.code} ${kind.title}, ${margin.side}: ${lowered(figureTitle(margin.figure.name))}`,
            value,
            bound: margin.bound,
            unit: kind.unit,
            sense: margin.side === 'above' ? 'atLeast' : 'atMost',
            marginPercent: margin.percent,
            holds: margin.percent >= 0,
          }),
        ]
      : [],
  );
}

function statement(pack: LinePackage, given: Omit<Statement, 'state' | 'agreed'>): Statement {
  const agreed =
    pack.agreed.find(
      ({ statement: id, line, terminal }) =>
        id === given.id && line === given.end.line && terminal === given.end.terminal,
    ) ?? null;
  const isSame = (before: number, now: number) => Math.abs(now - before) <= movedFrom * Math.abs(before);
  const state =
    agreed === null
      ? 'open'
      : isSame(agreed.value, given.value) && isSame(agreed.bound, given.bound)
        ? 'agreed'
        : 'moved';
  return { ...given, state, agreed: agreed && { value: agreed.value, bound: agreed.bound, on: agreed.on } };
}

/** The package with statements agreed to as they stand; those that are none any more go. */
export const withAgreed = (
  pack: LinePackage,
  statements: readonly Statement[],
  on: string,
  gone: LinePackage['agreed'] = [],
): LinePackage => {
  const keys = new Set([
    ...statements.map(({ id, end }) => keyOf(id, end)),
    ...gone.map(({ statement: id, line, terminal }) => keyOf(id, { line, terminal })),
  ]);
  return {
    ...pack,
    agreed: [
      ...pack.agreed.filter(({ statement: id, line, terminal }) => !keys.has(keyOf(id, { line, terminal }))),
      ...statements.map(({ id, end, value, bound }) => ({
        line: end.line,
        terminal: end.terminal,
        statement: id,
        value,
        bound,
        on,
      })),
    ],
  };
};

/** The package with another value of an element; null takes what the rules say again. */
export const withOverride = (
  pack: LinePackage,
  end: LineEnd,
  element: string,
  value: number | null,
  reason = '',
): LinePackage => ({
  ...pack,
  overrides: [
    ...pack.overrides.filter(
      (each) => !(each.element === element && each.line === end.line && each.terminal === end.terminal),
    ),
    ...(value === null ? [] : [{ line: end.line, terminal: end.terminal, element, value, reason }]),
  ],
});
