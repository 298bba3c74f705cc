/** Lines over linear axes, each named at its right end. */
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
  type Mark,
  type Paper,
  type Point,
  type Scene,
} from './scene';
import type { Extent } from './ticks';

export interface PlottedLine {
  readonly label: string;
  /** Style and dash; by its place in the list where nothing is said. */
  readonly style?: number;
  readonly dash?: string;
  /** Not named at its end. */
  readonly isQuiet?: boolean;
  readonly points: readonly Point[];
}

export interface ProfilePlot {
  readonly lines: readonly PlottedLine[];
  readonly x: { readonly extent: Extent; readonly label: (value: number) => string };
  readonly y: { readonly extent: Extent; readonly label: (value: number) => string };
  readonly caption: string;
  /** Where it is looked at, across. */
  readonly at?: number;
}

export function profileScene(
  plot: ProfilePlot,
  paper: Paper,
): { readonly x: Axis; readonly y: Axis; readonly scene: Scene } {
  const x = linearAxis(plot.x, acrossOf(paper));
  const y = linearAxis(plot.y, upOf(paper));
  const { top, bottom, right } = frameOf(paper);
  const size = paper.text;
  const marker: Mark[] =
    plot.at === undefined
      ? []
      : [
          {
            kind: 'line',
            points: [
              { x: x.at(plot.at), y: top },
              { x: x.at(plot.at), y: bottom },
            ],
            ink: 'accent',
            width: 1,
            dash: '4 3',
          },
        ];
  // Names of lines that end close together stand below each other, in the order of their ends.
  const taken: number[] = [];
  const ends = plot.lines
    .map((line, k) => ({ ...line, style: line.style ?? k, end: line.points.at(-1) }))
    .filter(({ isQuiet }) => !isQuiet)
    .filter((line): line is typeof line & { end: Point } => line.end !== undefined)
    .sort((p, q) => q.end.y - p.end.y);
  const names = ends.map(({ label, style, end }): Mark => {
    const wanted = Math.max(y.at(end.y) - 0.6 * size, top + size);
    const last = taken.at(-1);
    const place = last === undefined ? wanted : Math.max(wanted, last + 1.3 * size);
    taken.push(place);
    return { kind: 'text', at: { x: right - 6, y: place }, text: label, size, ink: style, anchor: 'end', bold: true };
  });
  const lines = plot.lines
    .filter(({ points }) => points.length > 0)
    .map((line, k) => ({ ...line, style: line.style ?? k }))
    .map(({ label, points, style, dash }): Mark => ({
      kind: 'line',
      points: points.map((point) => ({ x: x.at(point.x), y: y.at(point.y) })),
      ink: style,
      width: 0.16 * size,
      dash: dash ?? deviceStyles[style % deviceStyles.length].dash,
      clipped: true,
      of: label,
    }));
  const marks = [...gridOf(paper, x, y), border(paper), caption(paper, plot.caption), ...marker, ...lines, ...names];
  return { x, y, scene: { paper, marks } };
}
