/** What is drawn on a chart, computed from settings (stored or under trial) and the basis that the worker gives. Pure. */
import { kindsFor } from '@mesura/core/grading/figures';
import { pairMargin, type PairMargin } from '@mesura/core/grading/margin';
import { proposeFor, type Proposal } from '@mesura/core/grading/proposal';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import type { GradingChart } from '@mesura/core/model/protection';
import {
  curvePoints,
  curvesOf,
  quantityOfMode,
  type CurvePoint,
  type Curves,
  type Edge,
} from '@mesura/core/protection/curve';
import { currentOf, deviceFrom, deviceOf, type Device, type DeviceElement } from '@mesura/core/protection/device';
import { earliestOperation, latestClearing, type TimeCurrent } from '@mesura/core/protection/family';
import type { PlottedLimit } from '../../plots/timeCurrent';
import type { GradingBasis } from '../../workers/coreService';

/** Devices with settings under trial, by id. */
export type Edited = ReadonlyMap<ElementId, DeviceElement>;

export interface ChartCurve {
  /** As set under trial, or as stored. */
  device: Device;
  stored: Device;
  isEdited: boolean;
  /** Index of its style. */
  style: number;
  /** Amperes on the chart for one primary ampere. */
  factor: number;
  points: CurvePoint[];
  /** What a recloser does in its fast operations; empty where it has none. */
  fast: CurvePoint[];
  /** Edges of what it really does; null where bands are not drawn, or there is none. */
  band: { early: CurvePoint[]; late: CurvePoint[]; solid: boolean } | null;
  /** The stored curve behind an edited one. */
  ghost: CurvePoint[];
  /** Each of its functions that this chart is about. */
  functions: { fn: TimeCurrent; points: CurvePoint[] }[];
}

export interface Flag {
  label: string;
  currentA: number;
  style: number;
}

export interface JudgedPair {
  margin: PairMargin;
  /** Places of the decisive point on the chart. */
  downX: number | null;
  upX: number | null;
}

/** Answers given last, by place; taken again while what they depend on is the very same. */
export class LastAnswers<T> {
  private readonly kept = new Map<string, { inputs: readonly unknown[]; answer: T }>();

  take(place: string, inputs: readonly unknown[], compute: () => T): T {
    const last = this.kept.get(place);
    if (last && last.inputs.length === inputs.length && last.inputs.every((input, k) => input === inputs[k]))
      return last.answer;
    const answer = compute();
    this.kept.set(place, { inputs, answer });
    return answer;
  }
}

/** All curves of a chart; those whose device did not change since the last call are taken as they were. */
export function chartCurves(
  network: Network,
  chart: GradingChart,
  basis: GradingBasis,
  edited: Edited,
  last: LastAnswers<ChartCurve | null> = new LastAnswers(),
): ChartCurve[] {
  return chart.relays
    .map((id, style) =>
      last.take(id, [network, chart, basis, edited.get(id)], () =>
        chartCurve(network, chart, basis, id, style, edited.get(id)),
      ),
    )
    .filter((curve) => curve !== null);
}

function chartCurve(
  network: Network,
  chart: GradingChart,
  basis: GradingBasis,
  id: ElementId,
  style: number,
  trial: DeviceElement | undefined,
): ChartCurve | null {
  const stored = deviceOf(network, id);
  const device = trial ? deviceFrom(network, trial) : stored;
  const own = basis.devices.find((each) => each.id === id);
  if (!stored || !device || stored.inputs.length === 0 || !own?.factor) return null;
  const { factor, figures } = own;
  const quantity = quantityOfMode[chart.mode];
  // A curve ends at the largest current that its device can see; beyond, it would say nothing.
  const most = Math.max(0, ...figures.closeIn.map(({ seen }) => currentOf(seen, quantity)));
  const all = curvesOf(device);
  // What a recloser grades by is what it goes on to; its fast operations are a line of their own.
  const curves: Curves = { device, functions: all.functions.filter((fn) => !fn.fast) };
  const quick: Curves = { device, functions: all.functions.filter((fn) => fn.fast) };
  const draw = (from: Curves, edge: Edge = 'nominal') =>
    onChart(curvePoints(from, quantity, most || endWithoutFaults, 60, edge), factor);
  // What holds all in its band is drawn by its edges, bands or not.
  const always = curves.functions.some((fn) => fn.quantity === quantity && fn.accuracy === null);
  const band =
    chart.bands || always ? { early: draw(curves, 'earliest'), late: draw(curves, 'latest'), solid: always } : null;
  const functions = all.functions
    .filter((fn) => fn.quantity === quantity)
    .map((fn) => ({ fn, points: draw({ device, functions: [fn] }) }));
  const ghost = trial ? draw(curvesOf(stored)) : [];
  return {
    device,
    stored,
    isEdited: trial !== undefined,
    style,
    factor,
    points: draw(curves),
    fast: draw(quick),
    band,
    ghost,
    functions,
  };
}

/** Primary amperes to which a curve is drawn when no fault current reaches its device. */
const endWithoutFaults = 20000;

const onChart = (points: CurvePoint[], factor: number): CurvePoint[] =>
  points.map(({ currentA, timeS }) => ({ currentA: currentA * factor, timeS }));

/** Judges all pairs; those whose devices did not change since the last call keep their verdict without being computed again. */
export function judgePairs(
  network: Network,
  chart: GradingChart,
  basis: GradingBasis,
  edited: Edited,
  last: LastAnswers<JudgedPair> = new LastAnswers(),
): JudgedPair[] {
  return basis.pairs.map((each) => {
    const { downstream, upstream } = each.pair;
    const inputs = [network, chart, basis, edited.get(downstream), edited.get(upstream)];
    return last.take(`${downstream} ${upstream}`, inputs, () => judgePair(network, chart, basis, each, edited));
  });
}

function judgePair(
  network: Network,
  chart: GradingChart,
  basis: GradingBasis,
  { pair, states }: GradingBasis['pairs'][number],
  edited: Edited,
): JudgedPair {
  const factorOf = (id: ElementId) => basis.devices.find((each) => each.id === id)?.factor ?? null;
  // The required margin may have changed since the worker answered; the states do not depend on it.
  const now =
    chart.pairs.find((each) => each.downstream === pair.downstream && each.upstream === pair.upstream) ?? pair;
  const margin = pairMargin(network, states, now, chart.mode, edited);
  const place = (id: ElementId, currentA: number | undefined) => {
    const factor = factorOf(id);
    // An earth fault beyond a delta winding brings a device phase current but no residual one: no place on an earth chart.
    return factor === null || !currentA ? null : currentA * factor;
  };
  return {
    margin,
    downX: place(pair.downstream, margin.decisive?.downstreamA),
    upX: place(pair.upstream, margin.decisive?.upstreamA),
  };
}

/** "BRA Q21 relay" is BRA Q21 on a chart full of relays. */
export const shortName = ({ name }: { readonly name: string }): string => name.replace(/ relay$/i, '');

/** For each pair of the basis that is short, the setting that would make it hold. Takes longer than a frame: not for every pointer move. */
export const proposalsFor = (
  network: Network,
  chart: GradingChart,
  basis: GradingBasis,
  edited: Edited,
): (Proposal | null)[] =>
  basis.pairs.map(({ pair, states }) => {
    const now =
      chart.pairs.find((each) => each.downstream === pair.downstream && each.upstream === pair.upstream) ?? pair;
    return proposeFor(network, states, now, chart.mode, edited);
  });

/** Largest close-in and smallest far-end current of a device, as flags on the chart. */
export function flagsOf(curve: ChartCurve, chart: GradingChart, basis: GradingBasis): Flag[] {
  const figures = basis.devices.find((each) => each.id === curve.device.id)?.figures;
  if (!figures) return [];
  const kinds = kindsFor(chart.mode);
  const of = (list: typeof figures.closeIn) =>
    list
      .filter((figure) => kinds.includes(figure.kind))
      .map(({ seen }) => currentOf(seen, quantityOfMode[chart.mode]))
      .filter((value) => value > 1);
  const [most, least] = [of(figures.closeIn), of(figures.farEnd)];
  const flags: Flag[] = [];
  if (most.length > 0)
    flags.push({
      label: `max ${shortName(curve.device)}`,
      currentA: Math.max(...most) * curve.factor,
      style: curve.style,
    });
  if (least.length > 0)
    flags.push({
      label: `min ${shortName(curve.device)}`,
      currentA: Math.min(...least) * curve.factor,
      style: curve.style,
    });
  return flags;
}

/** Lines of what is protected and curves of one's own, in amperes of the chart. */
export function limitsOnChart(chart: GradingChart, basis: GradingBasis): PlottedLimit[] {
  const lines = basis.limits.map(({ limit, factor }): PlottedLimit => ({
    label: `${limit.title}${limit.mark === '' ? '' : ` (${limit.mark})`}`,
    kind: limit.kind,
    points: limit.points.map(([currentA, timeS]) => ({ currentA: currentA * factor, timeS })),
  }));
  const own = chart.own.map(({ name, kind, points }): PlottedLimit => ({
    label: name,
    kind,
    points: points.map(([currentA, timeS]) => ({ currentA, timeS })),
  }));
  return [...lines, ...own];
}

/** What a device does at a current of the chart: from when on it may operate, by when the current has ceased. */
export interface Answered {
  readonly name: string;
  readonly style: number;
  readonly earliestS: number;
  readonly latestS: number;
  readonly by: string;
}

export function answersAt(curves: readonly ChartCurve[], chartA: number): Answered[] {
  return curves.map(({ device, style, factor, functions }): Answered => {
    const currentA = chartA / factor;
    const times = functions.map(({ fn }) => ({
      code: fn.code,
      earliestS: earliestOperation(fn, currentA),
      latestS: latestClearing(fn, currentA, device.openingS),
    }));
    const first = times.reduce<(typeof times)[number] | null>((p, q) => (p && p.latestS <= q.latestS ? p : q), null);
    return {
      name: shortName(device),
      style,
      earliestS: Math.min(Infinity, ...times.map(({ earliestS }) => earliestS)),
      latestS: first?.latestS ?? Infinity,
      by: first && first.latestS < Infinity ? first.code : '',
    };
  });
}

/** Currents of the chart at which a device operates in this time, from the largest on: where its curve crosses it. */
export function currentsAt({ points }: ChartCurve, timeS: number): number[] {
  const found: number[] = [];
  for (let k = 1; k < points.length; k++) {
    const [p, q] = [points[k - 1], points[k]];
    if ((p.timeS - timeS) * (q.timeS - timeS) > 0 || p.timeS === q.timeS) continue;
    const share = Math.log(p.timeS / timeS) / Math.log(p.timeS / q.timeS);
    found.push(p.currentA * (q.currentA / p.currentA) ** share);
  }
  return [...new Set(found.map((currentA) => Number(currentA.toPrecision(9))))];
}

/** Points of all curves of a chart as rows, for a file. */
export function pointRows(curves: readonly ChartCurve[], limits: readonly PlottedLimit[]): (string | number)[][] {
  const rows = (name: string, edge: string, points: readonly CurvePoint[]) =>
    points.map(({ currentA, timeS }) => [name, edge, Number(currentA.toPrecision(6)), Number(timeS.toPrecision(6))]);
  return [
    ['Curve', 'Edge', 'Current A', 'Time s'],
    ...curves.flatMap(({ device, points, fast, band }) => [
      ...rows(shortName(device), 'nominal', points),
      ...rows(shortName(device), 'fast', fast),
      ...rows(shortName(device), 'earliest', band?.early ?? []),
      ...rows(shortName(device), 'latest', band?.late ?? []),
    ]),
    ...limits.flatMap(({ label, kind, points }) => rows(label, kind, points)),
  ];
}

/** Time of one function at a current on the chart. */
export const timeOnChart = (fn: TimeCurrent, chartA: number, factor: number): number => fn.at(chartA / factor).latestS;
