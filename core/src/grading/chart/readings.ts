/** Questions to a chart: times at a current, currents at a time, what lies between two curves; its points as rows. */
import { earliestOperation, latestClearing } from '../../protection/family';
import type { CurvePoint } from '../../protection/curve';
import type { ChartCurve, ChartLimit } from './curves';

/** What a device does at a current of the chart: from when on it may operate, by when the current has ceased. */
export interface Answered {
  readonly key: string;
  readonly name: string;
  readonly style: number;
  readonly earliestS: number;
  readonly latestS: number;
  readonly by: string;
}

export const answersAt = (curves: readonly ChartCurve[], chartA: number): Answered[] =>
  curves.map((curve) => answerAt(curve, chartA));

export function answerAt({ key, label, device, style, factor, functions }: ChartCurve, chartA: number): Answered {
  const currentA = chartA / factor;
  // What a recloser grades by is what it goes on to.
  const times = functions
    .filter(({ fn }) => !fn.fast)
    .map(({ fn }) => ({
      code: fn.code,
      earliestS: earliestOperation(fn, currentA),
      latestS: latestClearing(fn, currentA, device.openingS),
    }));
  const first = times.reduce<(typeof times)[number] | null>((p, q) => (p && p.latestS <= q.latestS ? p : q), null);
  return {
    key,
    name: label,
    style,
    earliestS: Math.min(Infinity, ...times.map(({ earliestS }) => earliestS)),
    latestS: first?.latestS ?? Infinity,
    by: first && first.latestS < Infinity ? first.code : '',
  };
}

/** What lies between two curves at one current: the latest end of the lower against the earliest operation of the upper; the nominal distance beside it. */
export interface Between {
  readonly lower: Answered;
  readonly upper: Answered;
  /** Negative where they overlap; NaN where one of them does not operate. */
  readonly marginS: number;
  /** Nominal time to nominal time. */
  readonly nominalS: number;
}

/** Of two curves at a current of the chart; the one that operates first is the lower. Null where one of them does not. */
export function between(p: ChartCurve, q: ChartCurve, chartA: number): Between | null {
  const [first, second] = nominalTime(p, chartA) <= nominalTime(q, chartA) ? [p, q] : [q, p];
  const [lower, upper] = [answerAt(first, chartA), answerAt(second, chartA)];
  if (!Number.isFinite(lower.latestS) || !Number.isFinite(upper.earliestS)) return null;
  return {
    lower,
    upper,
    marginS: upper.earliestS - lower.latestS,
    nominalS: nominalTime(second, chartA) - nominalTime(first, chartA),
  };
}

/** Nominal time of the quickest function at a current of the chart; the fast operations of a recloser left out. */
const nominalTime = ({ factor, functions }: ChartCurve, chartA: number): number =>
  Math.min(Infinity, ...functions.filter(({ fn }) => !fn.fast).map(({ fn }) => fn.at(chartA / factor).latestS));

/** Currents of the chart at which a device operates in this time, from the smallest on: where its curve crosses it. */
export function currentsAt(curve: ChartCurve, timeS: number): number[] {
  const { points } = curve;
  const found: number[] = [];
  for (let k = 1; k < points.length; k++) {
    const [p, q] = [points[k - 1], points[k]];
    if ((p.timeS - timeS) * (q.timeS - timeS) > 0 || p.timeS === q.timeS) continue;
    let [low, high] = [p.currentA, q.currentA];
    // Between two points of the line the curve itself tells.
    for (let n = 0; n < 60 && high / low > 1 + 1e-12; n++) {
      const middle = Math.sqrt(low * high);
      if ((nominalTime(curve, middle) - timeS) * (p.timeS - timeS) > 0) low = middle;
      else high = middle;
    }
    found.push(Math.sqrt(low * high));
  }
  return [...new Set(found.map((currentA) => Number(currentA.toPrecision(9))))];
}

/** Points of all curves of a chart as rows, for a file. */
export function pointRows(curves: readonly ChartCurve[], limits: readonly ChartLimit[]): (string | number)[][] {
  const rows = (name: string, edge: string, points: readonly CurvePoint[]) =>
    points.map(({ currentA, timeS }) => [name, edge, Number(currentA.toPrecision(6)), Number(timeS.toPrecision(6))]);
  return [
    ['Curve', 'Edge', 'Current A', 'Time s'],
    ...curves.flatMap(({ label, points, fast, band }) => [
      ...rows(label, 'nominal', points),
      ...rows(label, 'fast', fast),
      ...rows(label, 'earliest', band?.early ?? []),
      ...rows(label, 'latest', band?.late ?? []),
    ]),
    ...limits.flatMap(({ label, kind, points }) => rows(label, kind, points)),
  ];
}
