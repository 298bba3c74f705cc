/** What a chart holds in amperes of its own voltage, taken to another one: own curves, flags, notes, the range. By nominal voltages: none of it has a place in the network. */
import type { GradingChart } from '../../model/chart';

const digits = (value: number): number => Number(value.toPrecision(9));

export type OwnCurve = GradingChart['own'][number];

/** A curve of one's own at another voltage: as much power, other amperes. */
export const ownAt = (own: OwnCurve, fromKv: number, toKv: number): OwnCurve => ({
  ...own,
  points: own.points.map(([currentA, timeS]) => [digits((currentA * fromKv) / toKv), timeS]),
});

/** The chart referred to another voltage. */
export function chartAt(chart: GradingChart, toKv: number): GradingChart {
  const { referenceKv, range } = chart;
  const scaled = (currentA: number) => digits((currentA * referenceKv) / toKv);
  const at = <T extends { currentA: number }>(list: readonly T[]): T[] =>
    list.map((each) => ({ ...each, currentA: scaled(each.currentA) }));
  return {
    ...chart,
    referenceKv: toKv,
    own: chart.own.map((own) => ownAt(own, referenceKv, toKv)),
    ownFlags: at(chart.ownFlags),
    notes: at(chart.notes),
    range: range && { ...range, fromA: scaled(range.fromA), toA: scaled(range.toA) },
  };
}

/** Curves of one's own on other charts, to be used again: each name once, at the voltage of this chart. */
export function ownElsewhere(chart: GradingChart, charts: readonly GradingChart[]): OwnCurve[] {
  const here = new Set(chart.own.map(({ name }) => name));
  const found = charts
    .filter(({ id }) => id !== chart.id)
    .flatMap((other) => other.own.map((own) => ownAt(own, other.referenceKv, chart.referenceKv)))
    .filter(({ name }) => !here.has(name));
  return [...new Map(found.map((own) => [own.name, own])).values()];
}
