/** The drawing as it leaves the program: everything on the page is in it, and DXF has the same figures as SVG. */
import { describe, expect, it } from 'vitest';
import { boxOf, isDrawn } from '@mesura/core/drawing/shape/shapes';
import { nameOf } from '@mesura/core/model/element';
import { withElements } from '@mesura/core/model/network';
import { wholeDemo } from '@mesura/core/test/demo';
import { dxfOf, flattened } from './dxf';
import { pageOfDrawing, printed } from './print';

const demo = wholeDemo();
const page = pageOfDrawing(demo, null)!;
const shown = [...demo.elements.values()].filter(isDrawn).filter((element) => (element.page ?? null) === null);

/** Groups of code and value, as DXF is made of. */
const groups = (dxf: string): [string, string][] => {
  const lines = dxf.trimEnd().split(/\r?\n/);
  return Array.from({ length: lines.length / 2 }, (_, k) => [lines[2 * k].trim(), lines[2 * k + 1]]);
};

describe('a page as SVG', () => {
  const { svg, width, height } = printed(page.marks, page.box);
  it('names every symbol that has a name on the drawing, inside of its frame', () => {
    for (const element of shown.filter(({ kind }) => kind !== 'currentTransformer' && kind !== 'voltageTransformer'))
      expect(svg).toContain(
        nameOf(element)
          .replace(/ relay$/i, '')
          .replaceAll('&', '&amp;'),
      );
    for (const element of shown) {
      const box = boxOf(element);
      expect(box.x).toBeGreaterThanOrEqual(page.box.x);
      expect(box.x + box.width).toBeLessThanOrEqual(page.box.x + width);
      expect(box.y + box.height).toBeLessThanOrEqual(page.box.y + height);
    }
  });
  it('carries no markup of a name', () => {
    const [bus] = shown.filter((element) => element.kind === 'bus');
    const hostile = withElements(demo, [{ ...bus, name: '<script>"&' }]);
    const { marks, box } = pageOfDrawing(hostile, null)!;
    expect(printed(marks, box).svg).toContain('&lt;script&gt;&quot;&amp;');
  });
  it('is none where nothing stands', () => {
    expect(pageOfDrawing({ elements: new Map() }, null)).toBeNull();
  });
});

describe('a page as DXF', () => {
  it('keeps circles round and lines where they are, also of turned symbols', () => {
    const [circle] = flattened('M-5 0a5 5 0 1 0 10 0a5 5 0 1 0 -10 0Z', { x: 100, y: 50, turn: 90 });
    expect(circle.closed).toBe(true);
    for (const { x, y } of circle.points) expect(Math.hypot(x - 100, y - 50)).toBeCloseTo(5, 2);
    const [line] = flattened('M0 -30V30', { x: 10, y: 20, turn: 90 });
    expect(line.points.map(({ x, y }) => [Math.round(x), Math.round(y)])).toEqual([
      [40, 20],
      [-20, 20],
    ]);
  });
  it('has every name and every busbar at its place, heights upward, on layers', () => {
    const all = groups(dxfOf(page.marks));
    expect(all.at(-1)).toEqual(['0', 'EOF']);
    const texts = all.flatMap(([code, value]) => (code === '1' ? [value] : []));
    for (const element of shown.filter(({ kind }) => kind === 'bus')) expect(texts).toContain(nameOf(element));
    const layers = new Set(all.flatMap(([code, value]) => (code === '8' ? [value] : [])));
    for (const layer of ['connections', 'busbars', 'symbols', 'names']) expect(layers).toContain(layer);
    const busbar = shown.find(({ kind }) => kind === 'bus')!;
    const xs = all.flatMap(([code, value]) => (code === '10' ? [Number(value)] : []));
    const ys = all.flatMap(([code, value]) => (code === '20' ? [Number(value)] : []));
    expect(xs).toContain(busbar.x);
    expect(ys.some((y) => Math.abs(y + busbar.y - 2.5) < 1e-6)).toBe(true);
  });
  it('tells other signs by their number', () => {
    const text = {
      kind: 'text',
      text: 'Ω\nX',
      x: 0,
      y: 0,
      turn: 0,
      size: 12,
      anchor: 'start',
      colour: '#000',
    } as const;
    expect(dxfOf([text])).toContain('\\U+03A9 X');
  });
});
