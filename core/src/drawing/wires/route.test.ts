import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newElement, type PlaceableKind } from '../../model/defaults';
import { elementId } from '../../model/fields';
import { boxOf, endPoint, type Drawn } from '../shape/shapes';
import { Obstacles, pathOf, plainRoute, route, tidy } from './route';

const symbol = (kind: PlaceableKind, id: string, x: number, y: number, over: object = {}) =>
  newElement(kind, elementId(id), id, { x, y, ...over } as never) as Drawn;

const at = fc.record({ x: fc.integer({ min: -30, max: 30 }), y: fc.integer({ min: -30, max: 30 }) });
const none = new Set<never>();

/** Whether an axis-parallel stretch runs through the inside of a box. */
const runsThrough = (points: readonly { x: number; y: number }[], element: Drawn): boolean => {
  const box = boxOf(element);
  return points.slice(1).some((q, k) => {
    const p = points[k];
    return (
      Math.min(p.x, q.x) < box.x + box.width - 1.01 &&
      Math.max(p.x, q.x) > box.x + 1.01 &&
      Math.min(p.y, q.y) < box.y + box.height - 1.01 &&
      Math.max(p.y, q.y) > box.y + 1.01
    );
  });
};

describe('connections', () => {
  it('run at right angles from end to end, also around obstacles', () => {
    fc.assert(
      fc.property(at, at, fc.array(at, { maxLength: 6 }), fc.constantFrom(0, 90, 180, 270), (p, q, others, turn) => {
        const a = symbol('switch', 'a', p.x * 20, p.y * 20);
        const b = symbol('transformer', 'b', q.x * 20 + 5, q.y * 20, { turn });
        const rest = others.map((o, k) => symbol('transformer', `o${k}`, o.x * 20, o.y * 20));
        const points = route(
          endPoint(a, { element: a.id, terminal: 1 }),
          endPoint(b, { element: b.id, terminal: 0 }),
          new Obstacles([a, b, ...rest]),
          none,
        );
        expect(points[0]).toEqual(endPoint(a, { element: a.id, terminal: 1 }).at);
        expect(points.at(-1)).toEqual(endPoint(b, { element: b.id, terminal: 0 }).at);
        for (let k = 1; k < points.length; k++)
          expect(points[k].x === points[k - 1].x || points[k].y === points[k - 1].y).toBe(true);
        expect(tidy(points)).toEqual(points);
      }),
    );
  });

  it('go around one symbol that stands in the way, wherever it stands', () => {
    fc.assert(
      fc.property(fc.integer({ min: -20, max: 20 }), fc.integer({ min: 4, max: 12 }), (dx, dy) => {
        const a = symbol('switch', 'a', 0, 0);
        const b = symbol('switch', 'b', dx * 10, 60 + dy * 20);
        const between = symbol('transformer', 'o', dx * 5, 30 + dy * 10);
        const points = route(
          endPoint(a, { element: a.id, terminal: 1 }),
          endPoint(b, { element: b.id, terminal: 0 }),
          new Obstacles([a, b, between]),
          none,
        );
        expect(runsThrough(points, between)).toBe(false);
        expect(runsThrough(points, a)).toBe(false);
        expect(runsThrough(points, b)).toBe(false);
      }),
    );
  });

  it('take the plain run where nothing stands, and cross a foreign busbar only when there is no way around', () => {
    const a = symbol('switch', 'a', 0, 0);
    const b = symbol('switch', 'b', 0, 200);
    const ends = [endPoint(a, { element: a.id, terminal: 1 }), endPoint(b, { element: b.id, terminal: 0 })] as const;
    expect(route(...ends, new Obstacles([a, b]), none)).toEqual([
      { x: 0, y: 10 },
      { x: 0, y: 190 },
    ]);
    const bar = symbol('bus', 'bar', -40, 100, { length: 60 });
    const around = route(...ends, new Obstacles([a, b, bar]), none);
    expect(around.length).toBeGreaterThan(2);
    const endless = symbol('bus', 'bar', -5000, 100, { length: 10000 });
    expect(route(...ends, new Obstacles([a, b, endless]), none)).toHaveLength(2);
  });

  it('leave each symbol along its axis: an element above joined to one beside it turns once', () => {
    const upright = endPoint(symbol('switch', 'a', 0, 0), { element: elementId('a'), terminal: 1 });
    const lying = endPoint(symbol('switch', 'b', 100, 80, { turn: 90 }), { element: elementId('b'), terminal: 1 });
    expect(pathOf(plainRoute(upright, lying))).toBe('M0 10 L0 80 L90 80');
  });
});
