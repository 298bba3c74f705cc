import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newElement } from '../../model/defaults';
import { elementId } from '../../model/fields';
import { Obstacles } from './route';
import { separated, type Run } from './separate';
import type { Point } from '../shape/terminals';

const free = new Set<never>();
const run = (a: string, b: string, ...points: [number, number][]): Run => ({
  points: points.map(([x, y]) => ({ x, y })),
  ends: [a, b],
  free,
});
/** A run down, across at a height, and down again. */
const bent = (a: string, b: string, x0: number, x1: number, height: number, depth = 100): Run =>
  run(a, b, [x0, 0], [x0, height], [x1, height], [x1, depth]);
const clear = new Obstacles([]);
const pairs = (points: readonly Point[]) => points.slice(1).map((q, k) => [points[k], q] as const);

/** By comparing every stretch with every other: how far runs that are not joined lie on each other. */
function sharedLength(runs: readonly Run[], corners: readonly (readonly Point[])[]): number {
  let shared = 0;
  for (const [i, p] of runs.entries())
    for (const [j, q] of runs.entries()) {
      if (j <= i || p.ends.some((end) => q.ends.includes(end))) continue;
      for (const [a, b] of pairs(corners[i]))
        for (const [c, d] of pairs(corners[j]))
          for (const [along, across] of [
            ['x', 'y'],
            ['y', 'x'],
          ] as const) {
            if (a[across] !== b[across] || c[across] !== d[across] || a[across] !== c[across]) continue;
            const from = Math.max(Math.min(a[along], b[along]), Math.min(c[along], d[along]));
            const to = Math.min(Math.max(a[along], b[along]), Math.max(c[along], d[along]));
            shared += Math.max(0, to - from);
          }
    }
  return shared;
}

describe('runs that are not joined', () => {
  it('do not lie on each other: one is pushed aside, its ends stay', () => {
    const runs = [bent('a', 'b', 0, 200, 50), bent('c', 'd', 100, 300, 50)];
    expect(
      sharedLength(
        runs,
        runs.map(({ points }) => points),
      ),
    ).toBe(100);
    const [first, second] = separated(runs, clear);
    expect(first).toBe(runs[0].points);
    expect(second).toEqual([
      { x: 100, y: 0 },
      { x: 100, y: 55 },
      { x: 300, y: 55 },
      { x: 300, y: 100 },
    ]);
  });
  it('keep their place when they have an end in common, or only cross', () => {
    const joined = [bent('a', 'b', 0, 200, 50), bent('a', 'd', 0, 300, 50)];
    expect(separated(joined, clear)).toEqual(joined.map(({ points }) => points));
    const crossing = [bent('a', 'b', 0, 200, 50), run('c', 'd', [100, 0], [100, 100])];
    expect(separated(crossing, clear)).toEqual(crossing.map(({ points }) => points));
  });
  it('are not pushed through a symbol', () => {
    // A breaker just below the height: the run gives way upward.
    const breaker = newElement('switch', elementId('q'), 'Q', { x: 150, y: 63 });
    const runs = [bent('a', 'b', 0, 200, 50), bent('c', 'd', 100, 300, 50)];
    const [, second] = separated(runs, new Obstacles([breaker]));
    expect(second[1].y).toBe(45);
  });
  it('any of them: ends, right angles and directions stay; never more shared than before, and none where there is room', () => {
    const column = fc.integer({ min: 0, max: 40 });
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.tuple(column, column, fc.integer({ min: 4, max: 16 })), {
          maxLength: 14,
          selector: ([x]) => x,
        }),
        (drawn) => {
          // Each in columns of its own: what is shared can always be pushed apart.
          const runs = drawn.map(([x0, x1, height], k) =>
            bent(`a${k}`, `b${k}`, x0 * 100, x1 * 100 + 50 + k, height * 10, 200),
          );
          const before = runs.map(({ points }) => points);
          const after = separated(runs, clear);
          expect(sharedLength(runs, after)).toBeLessThanOrEqual(sharedLength(runs, before));
          if (runs.length <= 6) expect(sharedLength(runs, after)).toBe(0);
          for (const [k, points] of after.entries()) {
            expect([points[0], points.at(-1)]).toEqual([before[k][0], before[k].at(-1)]);
            for (const [p, q] of pairs(points)) expect((p.x === q.x) !== (p.y === q.y)).toBe(true);
            for (let at = 1; at < points.length; at++) expect(points[at].y).toBeGreaterThanOrEqual(points[at - 1].y);
          }
        },
      ),
    );
  });
});
