/** Lines over an axis, as a script asks for them. */
import type { ScriptPlot } from '@mesura/core/scripts/sandbox';
import { deviceStyles } from '../theme/tokens';
import { ticks as roundTicks } from 'd3';
import {
  acrossOf,
  border,
  caption,
  frameOf,
  gridOf,
  linearAxis,
  logAxis,
  upOf,
  type Axis,
  type Mark,
  type Paper,
  type Scene,
} from './scene';
import { logExtent, type Extent } from './ticks';

/** Beyond it a span of an axis may not be a number any more. */
const largest = 1e300;
/** Nearer to each other, as a share of their size or beside nought, values are one on an axis. */
const finest = 1e-9;
const smallest = 1e-290;

/** To full ticks; what is one value on an axis gets room on both sides. */
function linearExtent(values: readonly number[]): Extent {
  // Not spread into arguments: a script may give hundreds of thousands.
  const low = values.reduce((least, value) => Math.min(least, value), Infinity);
  const high = values.reduce((most, value) => Math.max(most, value), -Infinity);
  if (values.length === 0) return { from: 0, to: 1 };
  const size = Math.max(Math.abs(low), Math.abs(high));
  if (high - low <= Math.max(finest * size, smallest)) {
    const room = Math.max(1, size / 1000);
    return { from: low - room, to: high + room };
  }
  const some = roundTicks(low, high, 5);
  const step = some.length > 1 ? some[1] - some[0] : high - low;
  return { from: step * Math.floor(low / step + 1e-9), to: step * Math.ceil(high / step - 1e-9) };
}

function axisOf(values: readonly number[], isLog: boolean, range: readonly [number, number]): Axis {
  const label = (value: number) => String(Number(value.toPrecision(6)));
  return isLog
    ? logAxis({ extent: logExtent(values, { from: 1, to: 10 }), label }, range)
    : linearAxis({ extent: linearExtent(values), label }, range);
}

/** Values that an axis cannot show (nought on a logarithmic one, no number) are left out. */
export function linesScene({ title, x: across, y: up, logX, logY, series }: ScriptPlot, paper: Paper): Scene {
  const isShown = (value: number, isLog: boolean) => Math.abs(value) <= largest && (!isLog || value > smallest);
  const lines = series.map(({ name, points }) => ({
    name,
    points: points.filter(([p, q]) => isShown(p, logX) && isShown(q, logY)),
  }));
  const all = lines.flatMap(({ points }) => points);
  const x = axisOf(
    all.map(([p]) => p),
    logX,
    acrossOf(paper),
  );
  const y = axisOf(
    all.map(([, q]) => q),
    logY,
    upOf(paper),
  );
  const { top, right } = frameOf(paper);
  const size = paper.text;
  const curves = lines.flatMap(({ name, points }, style): Mark[] => {
    const places = points.map(([p, q]) => ({ x: x.at(p), y: y.at(q) }));
    return places.length === 1
      ? [{ kind: 'dot', at: places[0], radius: 3, ink: style }]
      : [
          {
            kind: 'line',
            points: places,
            ink: style,
            width: 0.14 * size,
            dash: deviceStyles[style % deviceStyles.length].dash,
            clipped: true,
            of: name,
          },
        ];
  });
  const names = lines.flatMap(({ name }, style): Mark[] =>
    name === ''
      ? []
      : [
          {
            kind: 'text',
            at: { x: right - 6, y: top + (1.3 + 1.3 * style) * size },
            text: name,
            size,
            ink: style,
            anchor: 'end',
            bold: true,
          },
        ],
  );
  const head: Mark[] = title
    ? [{ kind: 'text', at: { x: frameOf(paper).left, y: top - 0.6 * size }, text: title, size, ink: 'ink', bold: true }]
    : [];
  return {
    paper,
    marks: [
      ...gridOf(paper, x, y),
      border(paper),
      caption(paper, [across, up].filter(Boolean).join('; ')),
      ...head,
      ...curves,
      ...names,
    ],
  };
}
