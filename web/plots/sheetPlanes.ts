/** Planes of a setting sheet, from its frozen content: zones of impedance, and what a differential function compares. */
import type { SheetPlane, SheetZones } from '@mesura/core/sheets/content';
import { thresholdAt } from '@mesura/core/protection/differential/characteristic';
import { impedanceScene } from './impedance';
import { acrossOf, border, caption, gridOf, linearAxis, upOf, type Mark, type Paper, type Scene } from './scene';

const paper = (width: number, height: number): Paper => ({
  width,
  height,
  margin: { top: 12, right: 12, bottom: 34, left: 40 },
  text: 7.5,
  letter: 0.56,
});

export function zonesScene({ loops, regions, line }: SheetZones, width: number, height: number): Scene {
  const point = ({ re, im }: { re: number; im: number }) => ({ x: re, y: im });
  return impedanceScene(
    {
      regions: regions.map(({ zone, outline }, k) => ({ label: zone, outline: outline.map(point), style: k })),
      ways: line.length > 0 ? [{ label: 'line', points: line.map(point), ink: 'ink' }] : [],
      dots: [],
      caption: `R and X in Ω, primary; ${loops} loops`,
    },
    paper(width, height),
  ).scene;
}

const plain = (value: number) => String(Number(value.toPrecision(3)));

export function planeScene({ limits, unrestrained, points }: SheetPlane, width: number, height: number): Scene {
  const sheet = paper(width, height);
  const outside = points.filter(({ where }) => where !== 'inside');
  const toRes = Math.min(Math.max(6, 3 * limits.knee, ...outside.map(({ restraining }) => 1.15 * restraining)), 40);
  const toOp = Math.max(1.3 * thresholdAt(limits, toRes), 3 * limits.pickup);
  const x = linearAxis({ extent: { from: 0, to: toRes }, label: plain }, acrossOf(sheet));
  const y = linearAxis({ extent: { from: 0, to: toOp }, label: plain }, upOf(sheet));
  const at = (res: number, op: number) => ({ x: x.at(res), y: y.at(op) });
  const bends = [
    0,
    limits.slope1 > 0 ? Math.min(limits.pickup / limits.slope1, limits.knee) : limits.knee,
    limits.knee,
  ];
  const steps = [...new Set([...Array.from({ length: 61 }, (_, k) => (k / 60) * toRes), ...bends])].sort(
    (p, q) => p - q,
  );
  const curve = steps.map((res) => at(res, thresholdAt(limits, res)));
  const marks: Mark[] = [
    ...gridOf(sheet, x, y),
    { kind: 'area', points: [...curve, at(toRes, toOp), at(0, toOp)], ink: 'fail', opacity: 0.07, clipped: true },
    { kind: 'line', points: curve, ink: 'ink', width: 1.4, clipped: true, of: 'characteristic' },
    ...(unrestrained === null
      ? []
      : [
          {
            kind: 'line' as const,
            points: [at(0, unrestrained), at(toRes, unrestrained)],
            ink: 'ink' as const,
            width: 0.9,
            dash: '5 3',
            clipped: true,
          },
        ]),
    ...points.map(({ where, operating, restraining }): Mark => ({
      kind: 'dot',
      at: at(Math.min(restraining, toRes), Math.min(operating, toOp)),
      radius: 2,
      ink: where === 'inside' ? 'accent' : 'muted',
    })),
    {
      kind: 'text',
      at: { x: sheet.margin.left + 5, y: sheet.margin.top + 10 },
      text: 'operating, × base; green: faults inside, grey: outside',
      size: 7,
      ink: 'muted',
    },
    border(sheet),
    caption(sheet, 'restraining current, × base'),
  ];
  return { paper: sheet, marks };
}
