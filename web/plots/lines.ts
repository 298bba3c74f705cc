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

/** To full ticks; one value alone gets room on both sides. */
function linearExtent(values: readonly number[]): Extent {
  const low = Math.min(...values);
  const high = Math.max(...values);
  if (!(high > low)) return Number.isFinite(low) ? { from: low - 1, to: low + 1 } : { from: 0, to: 1 };
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
  const isShown = (value: number, isLog: boolean) => Number.isFinite(value) && (!isLog || value > 0);
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
