/** A grading chart as a plot: the same on the screen, in a picture and in print. */
import type { ChartBasis } from '@mesura/core/grading/chart/basis';
import {
  axisUnit,
  arcFlags,
  flagsOf,
  ownFlags,
  type ChartCurve,
  type ChartLimit,
  type Flag,
  type JudgedPair,
} from '@mesura/core/grading/chart/curves';
import { letThroughPoints } from '@mesura/core/grading/chart/energy';
import type { GradingChart } from '@mesura/core/model/chart';
import type { Network } from '@mesura/core/model/network';
import { deviceOf } from '@mesura/core/protection/device';
import { shortName } from '@mesura/core/grading/chart/curves';
import type { Mark, Paper, Scene } from './scene';
import { currentLabel, energyLabel, logExtent, type Extent } from './ticks';
import {
  timeCurrentScene,
  type PlottedCurve,
  type PlottedLimit,
  type PlottedMargin,
  type TimeCurrentPlot,
} from './timeCurrent';

export interface Extents {
  readonly currents: Extent;
  readonly times: Extent;
}

/** Everything that stands on a chart just now. */
export interface DrawnChart {
  readonly curves: readonly ChartCurve[];
  readonly limits: readonly ChartLimit[];
  readonly pair: JudgedPair | null;
  readonly extents: Extents;
  readonly basis: ChartBasis;
}

/** A curve as the plot takes it. */
export const plotted = (curve: ChartCurve, active: string | null): PlottedCurve => {
  const { key, device, style, dash, isSecond, points, fast, band, ghost, label } = curve;
  return {
    of: key,
    label,
    style,
    dash,
    second: isSecond,
    points,
    before: ghost,
    fast,
    ...(band && { band }),
    strong: device.id === active,
  };
};

/** The margin of a pair at its decisive currents; null where one of them has no place on this chart. */
export function marginOf({ margin: { decisive, verdict }, downX, upX }: JudgedPair): PlottedMargin | null {
  if (!decisive || downX === null || upX === null) return null;
  const { downstreamS, upstreamS } = decisive;
  return { downA: downX, upA: upX, downstreamS, upstreamS, holds: verdict === 'holds' };
}

/** Flags of both devices of the pair looked at, and one's own. */
export function flagsShown(chart: GradingChart, { curves, basis, pair }: DrawnChart): Flag[] {
  const wanted = new Set([pair?.margin.pair.downstream, pair?.margin.pair.upstream]);
  const flagged = curves.filter(({ device, mode }) => wanted.has(device.id) && mode === pair?.mode);
  const arcs = chart.mode === 'phase' || chart.mode === 'both' ? arcFlags(basis) : [];
  return [...flagged.flatMap((curve) => flagsOf(curve, chart, basis)), ...arcs, ...ownFlags(chart)];
}

/** What the current axis counts in. */
export function axisWords(network: Network, chart: GradingChart, basis: ChartBasis): string {
  const device = chart.multiplesOf === null ? undefined : deviceOf(network, chart.multiplesOf);
  const what = chart.shows === 'time' ? 'primary current' : 'prospective current';
  return device && axisUnit(network, chart, basis) !== 1
    ? `${what} in multiples of the pickup of ${shortName(device)}`
    : `${what} referred to ${chart.referenceKv} kV`;
}

/** The range of a chart: by hand, else by its curves as stored and its lines, so that it stands still while one drags. */
export function extentsOf(
  chart: GradingChart,
  curves: readonly ChartCurve[],
  limits: readonly ChartLimit[],
  basis: ChartBasis,
): Extents {
  const currents = curves.flatMap(({ points, ghost, isEdited }) => {
    const standing = isEdited && ghost.length > 0 ? ghost : points;
    return standing.length > 0 ? [standing[0].currentA * 0.8, standing[standing.length - 1].currentA] : [];
  });
  if (chart.shows === 'time') for (const { points } of limits) currents.push(...points.map(({ currentA }) => currentA));
  const { range } = chart;
  const across = range
    ? { from: range.fromA, to: range.toA }
    : logExtent([...currents, ...ownFlags(chart).map(({ currentA }) => currentA)], { from: 10, to: 10000 });
  if (chart.shows === 'time')
    return { currents: across, times: range ? { from: range.fromS, to: range.toS } : { from: 0.01, to: 100 } };
  // Towards its pickup a device lets through ever more: what counts is what it does at fault currents, and what cables bear.
  const lines = curves.map((curve) => letThroughPoints(curve, shownBeside(chart)).map(({ value }) => value));
  const ends = lines.flatMap((values) => values.slice(-1));
  const values = [
    ...lines.flatMap((line) => line.filter((value) => value <= 30 * Math.max(...ends))),
    ...(chart.shows === 'energy' ? basis.energies.map(({ a2s }) => a2s) : []),
  ];
  return { currents: across, times: logExtent(values, { from: 1e3, to: 1e8 }) };
}

const shownBeside = ({ shows }: GradingChart): 'energy' | 'cutOff' => (shows === 'cutOff' ? 'cutOff' : 'energy');

export function plotOf(
  network: Network,
  chart: GradingChart,
  drawn: DrawnChart,
  { active = null, asked = null }: { readonly active?: string | null; readonly asked?: number | null } = {},
): TimeCurrentPlot {
  const { curves, limits, pair, extents, basis } = drawn;
  const unitA = axisUnit(network, chart, basis);
  const common = {
    flags: flagsShown(chart, drawn),
    asked,
    extents,
    unitA,
    bandOpacity: chart.bandOpacity,
    caption: axisWords(network, chart, basis),
  };
  if (chart.shows === 'time')
    return {
      ...common,
      curves: curves.map((curve) => plotted(curve, active)),
      limits,
      notes: chart.notes,
      margin: pair && marginOf(pair),
    };
  return {
    ...common,
    curves: curves.map((curve): PlottedCurve => ({
      of: curve.key,
      label: curve.label,
      style: curve.style,
      dash: curve.dash,
      second: curve.isSecond,
      points: letThroughPoints(curve, shownBeside(chart))
        // Beyond what the device can break nothing is said of it.
        .filter(({ currentA }) => curve.breaksA === null || currentA <= curve.breaksA)
        .map(({ currentA, value }) => ({ currentA, timeS: value })),
      strong: curve.device.id === active,
    })),
    limits:
      chart.shows === 'energy'
        ? basis.energies.map(({ title, a2s }) => across(title, a2s, extents))
        : [peaks(basis, extents)],
    margin: null,
    upright: chart.shows === 'energy' ? energyLabel : currentLabel,
    caption: `${common.caption}; ${chart.shows === 'energy' ? 'energy let through' : 'peak let through'}`,
  };
}

const across = (label: string, value: number, { currents }: Extents): PlottedLimit => ({
  label,
  kind: 'damage',
  points: [
    { currentA: currents.from, timeS: value },
    { currentA: currents.to, timeS: value },
  ],
});

/** The peak of the prospective current itself, where nothing limits it. */
function peaks({ devices }: ChartBasis, { currents }: Extents): PlottedLimit {
  const kappa = Math.max(1.02, ...devices.map((device) => device.kappa));
  const at = (currentA: number) => ({ currentA, timeS: kappa * Math.SQRT2 * currentA });
  const steps = Array.from({ length: 21 }, (_, k) => currents.from * (currents.to / currents.from) ** (k / 20));
  return { label: `prospective peak, κ = ${kappa.toFixed(2)}`, kind: 'supply', points: steps.map(at) };
}

/** A page in landscape, in points. */
export const chartPaper: Paper = {
  width: 780,
  height: 540,
  margin: { top: 36, right: 16, bottom: 84, left: 60 },
  text: 11,
  letter: 0.6,
};

/** The chart as a picture of its own: its name above, everything that is on the screen below. */
export function pictureOf(
  network: Network,
  chart: GradingChart,
  project: string,
  drawn: DrawnChart,
  paper = chartPaper,
): Scene {
  const { under, over } = timeCurrentScene(plotOf(network, chart, drawn), paper);
  const title: Mark = {
    kind: 'text',
    at: { x: paper.margin.left, y: 22 },
    size: 14,
    ink: 'ink',
    bold: true,
    text: chart.name,
  };
  const of: Mark = {
    kind: 'text',
    at: { x: paper.width - 16, y: 22 },
    size: 11,
    ink: 'ink',
    anchor: 'end',
    text: project,
  };
  return { paper, marks: [title, of, ...under.marks, ...over.marks] };
}
