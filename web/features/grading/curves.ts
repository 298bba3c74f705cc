/** What is drawn on a chart, computed from settings (stored or under trial) and the basis that the worker gives. Pure. */
import { pairMargin, type PairMargin } from '@mesura/core/grading/margin';
import { proposeFor, type Proposal } from '@mesura/core/grading/proposal';
import { ctOf } from '@mesura/core/grading/seen';
import type { ElementId } from '@mesura/core/model/fields';
import { find, type Network } from '@mesura/core/model/network';
import type { GradingChart, Relay } from '@mesura/core/model/protection';
import {
  functionTime,
  primaryRelay,
  relayCurve,
  type CurvePoint,
  type PrimaryFunction,
} from '@mesura/core/protection/overcurrent/relay';
import type { GradingBasis } from '../../workers/coreService';

export interface ChartCurve {
  relay: Relay;
  stored: Relay;
  isEdited: boolean;
  /** Index of its style. */
  style: number;
  /** Amperes on the chart for one primary ampere. */
  factor: number;
  points: CurvePoint[];
  /** The stored curve behind an edited one. */
  ghost: CurvePoint[];
  functions: { fn: PrimaryFunction; points: CurvePoint[] }[];
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

export function chartCurves(
  network: Network,
  chart: GradingChart,
  basis: GradingBasis,
  edited: ReadonlyMap<ElementId, Relay>,
): ChartCurve[] {
  const endOnChart =
    1.3 *
    Math.max(
      1000,
      ...basis.relays.flatMap(({ factor, figures }) =>
        figures.closeIn.map(({ seen }) => (factor ?? 0) * Math.max(seen.phaseA, seen.residualA)),
      ),
    );
  const mostOf = (id: ElementId): number => {
    const seen =
      basis.relays
        .find((each) => each.id === id)
        ?.figures.closeIn.map((figure) => (chart.mode === 'phase' ? figure.seen.phaseA : figure.seen.residualA)) ?? [];
    return Math.max(0, ...seen);
  };
  return chart.relays.flatMap((id, style): ChartCurve[] => {
    const stored = find(network, 'relay', id);
    const ct = stored && ctOf(network, stored);
    const factor = basis.relays.find((each) => each.id === id)?.factor;
    if (!stored || !ct || !factor) return [];
    const relay = edited.get(id) ?? stored;
    const draw = (from: Relay) => {
      const primary = primaryRelay(from, ct);
      // A curve ends at the largest current that its device can see; beyond, it would say nothing.
      return onChart(relayCurve(primary, chart.mode, mostOf(id) || endOnChart / factor), factor);
    };
    const primary = primaryRelay(relay, ct);
    const functions = primary.functions
      .filter((fn) => fn.measured === chart.mode)
      .map((fn) => ({
        fn,
        points: onChart(relayCurve({ relay, functions: [fn] }, chart.mode, mostOf(id) || endOnChart / factor), factor),
      }));
    const isEdited = edited.has(id);
    return [
      { relay, stored, isEdited, style, factor, points: draw(relay), ghost: isEdited ? draw(stored) : [], functions },
    ];
  });
}

const onChart = (points: CurvePoint[], factor: number): CurvePoint[] =>
  points.map(({ currentA, timeS }) => ({ currentA: currentA * factor, timeS }));

export function judgePairs(
  network: Network,
  chart: GradingChart,
  basis: GradingBasis,
  edited: ReadonlyMap<ElementId, Relay>,
): JudgedPair[] {
  const factorOf = (id: ElementId) => basis.relays.find((each) => each.id === id)?.factor ?? null;
  return basis.pairs.map(({ pair, states }) => {
    // The wanted margin may have changed since the worker answered; the states do not depend on it.
    const now =
      chart.pairs.find((each) => each.downstream === pair.downstream && each.upstream === pair.upstream) ?? pair;
    const margin = pairMargin(network, states, now, chart.mode, edited);
    const place = (id: ElementId, currentA: number | undefined) => {
      const factor = factorOf(id);
      return factor === null || currentA === undefined ? null : currentA * factor;
    };
    return {
      margin,
      downX: place(pair.downstream, margin.decisive?.downstreamA),
      upX: place(pair.upstream, margin.decisive?.upstreamA),
    };
  });
}

/** "BRA Q21 relay" is BRA Q21 on a chart full of relays. */
export const shortName = (relay: Relay): string => relay.name.replace(/ relay$/i, '');

/** For each pair of the basis that is short, the setting that would make it hold. Takes longer than a frame: not for every pointer move. */
export const proposalsFor = (
  network: Network,
  chart: GradingChart,
  basis: GradingBasis,
  edited: ReadonlyMap<ElementId, Relay>,
): (Proposal | null)[] =>
  basis.pairs.map(({ pair, states }) => {
    const now =
      chart.pairs.find((each) => each.downstream === pair.downstream && each.upstream === pair.upstream) ?? pair;
    return proposeFor(network, states, now, chart.mode, edited);
  });

/** Largest close-in and smallest far-end current of a relay, as flags on the chart. */
export function flagsOf(curve: ChartCurve, chart: GradingChart, basis: GradingBasis): Flag[] {
  const figures = basis.relays.find((each) => each.id === curve.relay.id)?.figures;
  if (!figures) return [];
  const kinds = chart.mode === 'phase' ? ['3ph', '2ph'] : ['1ph', '2phE'];
  const seen = (figure: (typeof figures.closeIn)[number]) =>
    chart.mode === 'phase' ? figure.seen.phaseA : figure.seen.residualA;
  const of = (list: typeof figures.closeIn) =>
    list
      .filter((figure) => kinds.includes(figure.kind))
      .map(seen)
      .filter((value) => value > 1);
  const [most, least] = [of(figures.closeIn), of(figures.farEnd)];
  const flags: Flag[] = [];
  if (most.length > 0)
    flags.push({
      label: `max ${shortName(curve.relay)}`,
      currentA: Math.max(...most) * curve.factor,
      style: curve.style,
    });
  if (least.length > 0)
    flags.push({
      label: `min ${shortName(curve.relay)}`,
      currentA: Math.min(...least) * curve.factor,
      style: curve.style,
    });
  return flags;
}

/** Time of one function at a current on the chart. */
export const timeOnChart = (fn: PrimaryFunction, chartA: number, factor: number): number =>
  functionTime(fn, chartA / factor);
