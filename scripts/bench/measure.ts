/** How long work takes, and a line of JSON about it. */

export interface Line {
  readonly group: string;
  readonly what: string;
  readonly unit: 'ms' | '1/s' | 'MB' | '';
  readonly median: number;
  readonly runs: number;
  /** Least and most of the runs. */
  readonly range?: readonly [number, number];
  /** What the work should reach; more is better for rates. */
  readonly reach?: number;
}

const lines: Line[] = [];
export const allLines = (): readonly Line[] => lines;

const rounded = (value: number) => Number(value.toPrecision(4));

/** Says a figure on standard output. */
export function say(line: Line): void {
  const { median, range } = line;
  const said = { ...line, median: rounded(median), ...(range && { range: range.map(rounded) as [number, number] }) };
  lines.push(said);
  console.log(JSON.stringify(said));
}

export interface Effort {
  /** Runs before those that count. */
  readonly warmUp?: number;
  readonly forMs?: number;
  readonly least?: number;
}

/** Median of many runs in milliseconds. `prepare` makes what a run works on and is not counted. */
export function time<T>(
  prepare: () => T,
  work: (prepared: T) => unknown,
  { warmUp = 3, forMs = 600, least = 7 }: Effort = {},
): { median: number; range: [number, number]; runs: number } {
  for (let k = 0; k < warmUp; k++) work(prepare());
  const runs: number[] = [];
  const until = performance.now() + forMs;
  while (runs.length < least || performance.now() < until) {
    const prepared = prepare();
    const started = performance.now();
    work(prepared);
    runs.push(performance.now() - started);
  }
  runs.sort((p, q) => p - q);
  return { median: runs[runs.length >> 1], range: [runs[0], runs[runs.length - 1]], runs: runs.length };
}

/** Times work and says it; returns the median. */
export function bench(
  group: string,
  what: string,
  work: () => unknown,
  effort: Effort & { reach?: number } = {},
): number {
  const { reach, ...rest } = effort;
  const measured = time(
    () => null,
    () => work(),
    rest,
  );
  say({ group, what, unit: 'ms', ...measured, ...(reach !== undefined && { reach }) });
  return measured.median;
}
