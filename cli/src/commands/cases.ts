/** `mesura cases`: reference cases in the form of `core/reference/`, computed by the program's own functions and compared. */
import { basename, dirname, join } from 'node:path';
import { asymmetry, exactPeak, halfCyclePeak, lowVoltageFactors, remoteFactor } from '@mesura/core/faults/c37/factors';
import { inverseTime } from '@mesura/core/protection/overcurrent/characteristics';
import { earthReturnImpedance, equivalentDepth } from '@mesura/core/sequence/lineConstants';
import { networkCase } from './networkCases';
import { plainFormat, type Command, type Read } from '../command';
import { Refusal } from '../options';
import { tableOf, type Column } from '../output';

/** Asks the terminal program itself. */
type Ask = (args: readonly string[]) => { readonly output: string };
type Inputs = Record<string, number>;

interface Tolerance {
  readonly abs?: number;
  readonly rel?: number;
}

interface ReferenceCase {
  readonly id: string;
  readonly calc?: string;
  readonly inputs?: Inputs;
  readonly project?: string;
  readonly options?: readonly string[];
  readonly expected?: unknown;
  readonly tolerance?: Tolerance;
  readonly status?: string;
}

/** One figure of a case. */
export interface Compared {
  readonly id: string;
  readonly figure: string;
  readonly expected: number | null;
  readonly computed: number | null;
  /** Computed less expected. */
  readonly deviation: number | null;
  readonly verdict: 'agrees' | 'differs' | 'not yet computed';
  /** What the case says of its figures: verified, recalled. */
  readonly mark: string;
}

const milesPerKm = 1.609344;

/** Kinds of calculation by the name that the cases give them. */
const calculations: Readonly<Record<string, (inputs: Inputs) => number | readonly number[]>> = {
  toc: ({ k, alpha, c, M, tms }) => inverseTime({ k, alpha, c }, M, tms),
  mfremote: ({ XR, C_cycles, S }) => remoteFactor(XR, { partingCycles: C_cycles, s: S }),
  asym: ({ XR, cycles }) => asymmetry(XR, cycles),
  peak_exact: ({ XR }) => exactPeak(XR),
  peak_half: ({ XR }) => halfCyclePeak(XR),
  c3713: ({ pf }) => {
    const { unfused, fused } = lowVoltageFactors(Math.tan(Math.acos(pf)));
    return [unfused, fused];
  },
  De: ({ rho, f_Hz }) => {
    const depth = equivalentDepth(rho, f_Hz);
    return [depth, depth];
  },
  carson: ({ f_Hz, rho, d_m }) => pair(earthReturnImpedance(f_Hz, rho, d_m, 0, 0, 'depth')),
  carson_series: ({ f_Hz, rho, d_m, h_m }) => pair(earthReturnImpedance(f_Hz, rho, d_m, 2 * h_m, 0, 'series')),
  kersting: ({ d_ft, r_ohm_mi }) => {
    const z = earthReturnImpedance(60, 100, d_ft * 0.3048, 0, 0, 'depth');
    return [z.re * milesPerKm + r_ohm_mi, z.im * milesPerKm];
  },
};

const pair = ({ re, im }: { re: number; im: number }) => [re, im];

/** Where a case says nothing: its printed digits. */
const usualTolerance: Tolerance = { rel: 1e-4 };

const columns: Column<Compared>[] = [
  { head: 'case', name: 'case', value: (row) => row.id },
  { head: 'figure', name: 'figure', value: (row) => row.figure },
  { head: 'expected', name: 'expected', value: (row) => row.expected },
  { head: 'computed', name: 'computed', value: (row) => row.computed },
  { head: 'deviation', name: 'deviation', value: (row) => row.deviation },
  { head: 'verdict', name: 'verdict', value: (row) => row.verdict },
  { head: 'mark', name: 'mark', value: (row) => row.mark },
];

export const casesCommand: Command = {
  name: 'cases',
  takes: 'FILE…',
  summary: 'reference cases, computed and compared',
  /** Exit code 3 where a figure deviates. Refusals: a file that is no list of cases. */
  run({ paths, values, read, ask }) {
    const format = plainFormat(values);
    if (paths.length === 0) throw new Refusal(2, 'cases takes one or more files: mesura cases FILE… [options]');
    const rows = paths.flatMap((path) => comparisons(path, read, ask));
    const count = (verdict: Compared['verdict']) => rows.filter((row) => row.verdict === verdict).length;
    const [agree, differ, open] = [count('agrees'), count('differs'), count('not yet computed')];
    const output =
      format === 'json'
        ? `${JSON.stringify({ command: 'cases', agree, differ, notYetComputed: open, cases: rows }, null, 2)}\n`
        : tableOf(columns, rows, format);
    const errors = format === 'table' ? `${agree} agree, ${differ} differ, ${open} not yet computed\n` : '';
    return { code: differ > 0 ? 3 : 0, output, errors };
  },
};

/** All figures of the cases in a file. */
export const comparisons = (path: string, read: Read, ask: Ask): Compared[] =>
  casesIn(path, read).flatMap((each) => compared(each, path, ask));

/** A file of another form is one case that is not computed yet. */
function casesIn(path: string, read: Read): readonly ReferenceCase[] {
  let data: unknown;
  try {
    data = JSON.parse(read(path));
  } catch (error) {
    throw new Refusal(1, `${path} cannot be read: ${(error as Error).message}`);
  }
  const { cases, about } = (data ?? {}) as { cases?: unknown; about?: unknown };
  if (Array.isArray(cases)) return cases as ReferenceCase[];
  if (about !== undefined) return [{ id: basename(path, '.json') }];
  throw new Refusal(1, `${path} holds no list of cases`);
}

function compared(each: ReferenceCase, path: string, ask: Ask): Compared[] {
  const { id, calc, expected, status = '' } = each;
  const tolerance = each.tolerance ?? usualTolerance;
  const row = (figure: string, wanted: number | null, computed: number | null): Compared => ({
    id,
    figure,
    expected: wanted,
    computed,
    deviation: wanted === null || computed === null ? null : computed - wanted,
    verdict:
      wanted === null || computed === null
        ? 'not yet computed'
        : agrees(wanted, computed, tolerance)
          ? 'agrees'
          : 'differs',
    mark: status,
  });
  if (calc === 'faults' && each.project) {
    const outcome = ask(['faults', join(dirname(path), each.project), '--format', 'json', ...(each.options ?? [])]);
    const answer = outcome.output ? (JSON.parse(outcome.output) as unknown) : null;
    return Object.entries(expected as Record<string, number>).map(([figure, wanted]) =>
      row(figure, wanted, figureAt(answer, figure)),
    );
  }
  const known = calc === undefined ? undefined : calculations[calc];
  if (known && each.inputs) {
    const computed = [known(each.inputs)].flat() as number[];
    const wanted = [expected].flat() as number[];
    return wanted.map((value, k) => row(wanted.length > 1 ? `${calc} ${k + 1}` : calc!, value, computed[k] ?? null));
  }
  const figures = networkCase(each);
  if (figures) return figures.map(({ figure, expected: wanted, computed }) => row(figure, wanted, computed));
  return [row(calc ?? '', null, null)];
}

function agrees(expected: number, computed: number, { abs, rel }: Tolerance): boolean {
  const off = Math.abs(computed - expected);
  return off <= Math.max(abs ?? 0, (rel ?? 0) * Math.abs(expected), 1e-12);
}

/** "faults.0.branches[id=T][terminal=3].phasesA.l1.re" in an answer; null where there is no number. */
export function figureAt(answer: unknown, path: string): number | null {
  let at: unknown = answer;
  for (const [, name, condition] of path.matchAll(/([^.[\]]+)?((?:\[[^\]]+\])*)\.?/g)) {
    if (name !== undefined) at = (at as Record<string, unknown> | null | undefined)?.[name];
    for (const [, key, value] of (condition ?? '').matchAll(/\[([^=\]]+)=([^\]]+)\]/g))
      at = Array.isArray(at)
        ? at.filter((each) => String((each as Record<string, unknown>)[key]) === value)
        : undefined;
    if (condition) at = (at as unknown[] | undefined)?.[0];
  }
  return typeof at === 'number' ? at : null;
}
