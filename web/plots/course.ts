/** Currents over time: phases with the envelope and d.c. component of the one with the largest peak, marks at peak, contact parting and clearing. */
import type { Course } from '@mesura/core/faults/course/course';
import { ticks as roundTicks } from 'd3';
import { deviceStyles } from '../theme/tokens';
import {
  acrossOf,
  border,
  caption,
  frameOf,
  gridOf,
  linearAxis,
  upOf,
  type Axis,
  type Ink,
  type Mark,
  type Paper,
  type Scene,
} from './scene';
import type { Extent } from './ticks';

export interface CoursePlot {
  readonly course: Course;
  readonly phases: readonly string[];
  readonly fromMs: number;
  readonly toMs: number;
  /** Where it is read. */
  readonly atMs: number | null;
}

/** Both signs, to full ticks. */
function extentOf(values: readonly number[]): Extent {
  const most = Math.max(1e-6, ...values.map(Math.abs));
  const low = Math.min(0, ...values);
  const high = Math.max(0, ...values);
  const [, step = most] = roundTicks(0, most * 1.05, 4);
  return { from: step * Math.floor((low * 1.05) / step), to: step * Math.ceil((high * 1.05) / step) };
}

export function courseScene(
  { course, phases, fromMs, toMs, atMs }: CoursePlot,
  paper: Paper,
): { readonly x: Axis; readonly scene: Scene } {
  const inside = course.timeS.flatMap((t, k) => (1000 * t >= fromMs && 1000 * t <= toMs ? [k] : []));
  const shown = course.phases.map((each, style) => ({ ...each, style })).filter(({ phase }) => phases.includes(phase));
  const leading = [...shown].sort((p, q) => Math.abs(q.peak.value) - Math.abs(p.peak.value))[0];
  const values = shown.flatMap(({ current }) => inside.map((k) => current[k]));
  const x = linearAxis(
    { extent: { from: fromMs, to: toMs }, label: (value) => String(Math.round(value * 10) / 10) },
    acrossOf(paper),
  );
  const y = linearAxis({ extent: extentOf(values), label: String }, upOf(paper));
  const { top, bottom, right } = frameOf(paper);
  const size = paper.text;
  const through = (of: readonly number[]) => inside.map((k) => ({ x: x.at(1000 * course.timeS[k]), y: y.at(of[k]) }));
  const line = (of: readonly number[], ink: Ink, width: number, dash: string): Mark => ({
    kind: 'line',
    points: through(of),
    ink,
    width,
    dash,
    clipped: true,
  });
  const envelope = leading
    ? [
        line(leading.upper, 'muted', 0.07 * size, '3 3'),
        line(leading.lower, 'muted', 0.07 * size, '3 3'),
        line(leading.dc, 'ink', 0.09 * size, '7 3'),
      ]
    : [];
  const curves = shown.map(({ current, phase, style }): Mark => ({
    kind: 'line',
    points: through(current),
    ink: style,
    width: 0.14 * size,
    dash: deviceStyles[style % deviceStyles.length].dash,
    clipped: true,
    of: phase,
  }));
  const upright = (ms: number, text: string): Mark[] =>
    ms < fromMs || ms > toMs
      ? []
      : [
          {
            kind: 'line',
            points: [
              { x: x.at(ms), y: top },
              { x: x.at(ms), y: bottom },
            ],
            ink: 'accent',
            width: 1,
            dash: '4 3',
          },
          { kind: 'text', at: { x: x.at(ms) + 3, y: bottom - 0.5 * size }, text, size: 0.9 * size, ink: 'accent' },
        ];
  const peak: Mark[] =
    leading && 1000 * leading.peak.t >= fromMs && 1000 * leading.peak.t <= toMs
      ? [
          { kind: 'dot', at: { x: x.at(1000 * leading.peak.t), y: y.at(leading.peak.value) }, radius: 3, ink: 'fail' },
          {
            kind: 'text',
            at: { x: x.at(1000 * leading.peak.t) + 6, y: y.at(leading.peak.value) + 0.35 * size },
            text: `${Number(leading.peak.value.toPrecision(4))} kA`,
            size,
            ink: 'fail',
            bold: true,
          },
        ]
      : [];
  const names = shown.map(({ phase, style }, k): Mark => ({
    kind: 'text',
    at: { x: right - 6 - 2.2 * size * (shown.length - 1 - k), y: top + 1.2 * size },
    text: phase,
    size,
    ink: style,
    anchor: 'end',
    bold: true,
  }));
  const marks = [
    ...gridOf(paper, x, y),
    border(paper),
    caption(paper, 'ms after the fault; kA'),
    ...upright(1000 * course.partingS, 'contacts part'),
    ...upright(1000 * course.clearingS, 'cleared'),
    ...(atMs === null ? [] : upright(atMs, '')),
    ...envelope,
    ...curves,
    ...peak,
    ...names,
  ];
  return { x, scene: { paper, marks } };
}
