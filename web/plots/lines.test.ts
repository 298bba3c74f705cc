import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { inside, sceneDxf } from './dxf';
import { linesScene } from './lines';
import { frameOf, type Mark, type Paper } from './scene';

const paper: Paper = { width: 600, height: 300, margin: { top: 20, right: 10, bottom: 40, left: 60 }, text: 11 };
const plot = (points: readonly (readonly [number, number])[], over: object = {}) => ({
  title: 'T',
  x: 'across',
  y: 'up',
  logX: false,
  logY: false,
  series: [{ name: 'one', points }],
  ...over,
});
const lines = (marks: readonly Mark[]) => marks.filter((mark) => mark.kind === 'line' && mark.of === 'one');
const frame = frameOf(paper);

describe('lines that a script asks for', () => {
  it('stand within the frame, in the order of their values', () => {
    const value = fc.double({ min: -1e6, max: 1e6, noNaN: true });
    fc.assert(
      fc.property(fc.array(fc.tuple(value, value), { minLength: 2, maxLength: 40 }), (points) => {
        const [line] = lines(linesScene(plot(points), paper).marks);
        if (line.kind !== 'line') throw new Error('no line');
        expect(line.points).toHaveLength(points.length);
        line.points.forEach(({ x, y }, k) => {
          expect(x).toBeGreaterThanOrEqual(frame.left - 1e-6);
          expect(x).toBeLessThanOrEqual(frame.right + 1e-6);
          expect(y).toBeGreaterThanOrEqual(frame.top - 1e-6);
          expect(y).toBeLessThanOrEqual(frame.bottom + 1e-6);
          if (k === 0) return;
          if (points[k][0] > points[k - 1][0]) expect(x).toBeGreaterThanOrEqual(line.points[k - 1].x);
          if (points[k][1] > points[k - 1][1]) expect(y).toBeLessThanOrEqual(line.points[k - 1].y);
        });
      }),
    );
  });
  it('have an axis whatever their values: a hair apart, next to nought, at the end of what numbers reach', () => {
    for (const [low, high] of [
      [5e-324, 1e-323],
      [0, 5e-324],
      [100_000, 100_000.000_000_000_01],
      [1e20, 1e20],
      [-1e300, 1e300],
      [-7, -7],
    ]) {
      const [line] = lines(
        linesScene(
          plot([
            [low, low],
            [high, high],
          ]),
          paper,
        ).marks,
      );
      if (line.kind !== 'line') throw new Error('no line');
      for (const { x, y } of line.points) {
        expect(x).toBeGreaterThanOrEqual(frame.left);
        expect(x).toBeLessThanOrEqual(frame.right);
        expect(y).toBeGreaterThanOrEqual(frame.top);
        expect(y).toBeLessThanOrEqual(frame.bottom);
      }
    }
    const both = { logX: true, logY: true };
    const [line] = lines(
      linesScene(
        plot(
          [
            [5e-324, 1],
            [1e-289, 1e-289],
            [1e300, 1e300],
          ],
          both,
        ),
        paper,
      ).marks,
    );
    if (line.kind !== 'line') throw new Error('no line');
    expect(line.points).toHaveLength(2);
    expect(line.points.every(({ x, y }) => Number.isFinite(x) && Number.isFinite(y))).toBe(true);
    expect(lines(linesScene(plot([[1, 1e308]]), paper).marks)[0]).toMatchObject({ points: [] });
  });
  it('leave out what an axis cannot show', () => {
    const scene = linesScene(
      plot(
        [
          [0, 1],
          [1, 10],
          [10, 100],
          [100, -1],
          [Number.NaN, 1],
          [5, Infinity],
        ],
        { logX: true, logY: true },
      ),
      paper,
    );
    const [line] = lines(scene.marks);
    expect(line.kind === 'line' && line.points).toHaveLength(2);
    // Nothing at all is a plot without lines, and no error.
    expect(lines(linesScene(plot([]), paper).marks)[0]).toMatchObject({ points: [] });
    expect(linesScene(plot([[3, 7]]), paper).marks.some(({ kind }) => kind === 'dot')).toBe(true);
  });
  it('have equal decades equally far apart', () => {
    const [line] = lines(
      linesScene(
        plot(
          [
            [1, 1],
            [10, 10],
            [100, 100],
          ],
          { logX: true, logY: true },
        ),
        paper,
      ).marks,
    );
    if (line.kind !== 'line') throw new Error('no line');
    const [p, q, r] = line.points;
    expect(q.x - p.x).toBeCloseTo(r.x - q.x, 6);
    expect(p.y - q.y).toBeCloseTo(q.y - r.y, 6);
  });
});

describe('plots as DXF', () => {
  it('hold each line once, cut at the frame, and each word', () => {
    const marks: Mark[] = [
      {
        kind: 'line',
        points: [
          { x: -100, y: 100 },
          { x: 1000, y: 100 },
        ],
        ink: 'accent',
        width: 1,
        clipped: true,
      },
      {
        kind: 'line',
        points: [
          { x: 0, y: 0 },
          { x: 5, y: 5 },
        ],
        ink: 'grid',
        width: 1,
      },
      { kind: 'text', at: { x: 10, y: 20 }, text: 'Ik″ Ω', size: 10, ink: 'ink', anchor: 'end' },
      { kind: 'dot', at: { x: 100, y: 100 }, radius: 2, ink: 1 },
      {
        kind: 'area',
        points: [
          { x: 0, y: 0 },
          { x: 900, y: 0 },
          { x: 900, y: 200 },
        ],
        ink: 'pass',
        opacity: 0.2,
        clipped: true,
      },
    ];
    const text = sceneDxf({ paper, marks });
    expect(text.match(/^LWPOLYLINE$/gm)).toHaveLength(4);
    expect(text).toContain('Ik\\U+2033 \\U+03A9');
    const xs = [...text.matchAll(/^ ?10\n(-?[\d.]+)$/gm)].map(([, x]) => Number(x));
    expect(Math.max(...xs)).toBeLessThanOrEqual(frame.right);
    for (const layer of ['rules', 'curves', 'areas', 'words']) expect(text).toContain(`\n${layer}\n`);
  });
  it('cuts any line to what of it lies within, as walking along it finds', () => {
    const at = fc.record({ x: fc.integer({ min: -200, max: 900 }), y: fc.integer({ min: -200, max: 500 }) });
    const within = ({ x, y }: { x: number; y: number }) =>
      x >= frame.left && x <= frame.right && y >= frame.top && y <= frame.bottom;
    const lengthOf = (points: readonly { x: number; y: number }[]) =>
      points.slice(1).reduce((sum, q, k) => sum + Math.hypot(q.x - points[k].x, q.y - points[k].y), 0);
    fc.assert(
      fc.property(fc.array(at, { minLength: 2, maxLength: 8 }), (points) => {
        const parts = inside(points, frame);
        for (const part of parts)
          for (const { x, y } of part)
            expect(within({ x: Math.round(x * 1e6) / 1e6, y: Math.round(y * 1e6) / 1e6 })).toBe(true);
        const steps = 4000;
        let walked = 0;
        for (let k = 1; k < points.length; k++) {
          const [p, q] = [points[k - 1], points[k]];
          const piece = Math.hypot(q.x - p.x, q.y - p.y) / steps;
          for (let j = 0; j < steps; j++) {
            const t = (j + 0.5) / steps;
            if (within({ x: p.x + t * (q.x - p.x), y: p.y + t * (q.y - p.y) })) walked += piece;
          }
        }
        expect(Math.abs(parts.reduce((sum, part) => sum + lengthOf(part), 0) - walked)).toBeLessThan(
          2 + 0.002 * walked,
        );
      }),
      { numRuns: 60 },
    );
  });
});
