import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyChanges, type Change } from '../../model/changes';
import { newElement } from '../../model/defaults';
import { elementId } from '../../model/fields';
import { networkOf, type Network } from '../../model/network';
import { buildTopology } from '../../model/topology';
import { align, distribute, mirror, turn } from './arrange';
import { boxOf, endPoint, hull, isDrawn } from '../shape/shapes';

const some = (places: readonly { x: number; y: number; turn: number }[]): Network =>
  networkOf([
    newElement('bus', elementId('bus'), 'B', { x: 0, y: 0, length: 200 }),
    ...places.map((place, k) =>
      newElement(k % 2 ? 'threeWindingTransformer' : 'switch', elementId(`e${k}`), `E${k}`, {
        x: place.x * 10,
        y: place.y * 10,
        turn: place.turn as 0,
      }),
    ),
    ...places.slice(0, 1).map(() => ({
      kind: 'connection' as const,
      id: elementId('w'),
      from: { element: elementId('bus'), terminal: 0, at: 30 },
      to: { element: elementId('e0'), terminal: 0 },
    })),
  ]);

const places = fc.array(
  fc.record({
    x: fc.integer({ min: -30, max: 30 }),
    y: fc.integer({ min: -30, max: 30 }),
    turn: fc.constantFrom(0, 90, 180, 270),
  }),
  { minLength: 3, maxLength: 8 },
);
const applied = (network: Network, changes: readonly Change[]): Network => {
  const result = applyChanges(network, changes);
  if (!result.ok) throw new Error(result.problems[0].message);
  return result.network;
};
const symbols = (network: Network) => [...network.elements.values()].filter(isDrawn);
const ids = (network: Network) => symbols(network).map(({ id }) => id);

describe('arranging', () => {
  it('puts edges in line without leaving the room that was taken', () => {
    fc.assert(
      fc.property(
        places,
        fc.constantFrom('left' as const, 'right' as const, 'top' as const, 'bottom' as const),
        (at, edge) => {
          const network = some(at);
          const before = hull(symbols(network).map(boxOf))!;
          const after = symbols(applied(network, align(network, ids(network), edge))).map(boxOf);
          const edges = after.map(
            ({ x, y, width, height }) => ({ left: x, right: x + width, top: y, bottom: y + height })[edge],
          );
          expect(new Set(edges).size).toBe(1);
          expect(edges[0]).toBe(
            { left: before.x, right: before.x + before.width, top: before.y, bottom: before.y + before.height }[edge],
          );
        },
      ),
    );
  });
  it('makes gaps equal within half a grid step, and leaves the outermost', () => {
    const network = some([
      { x: -5, y: 0, turn: 0 },
      { x: 1, y: 10, turn: 0 },
      { x: 30, y: 20, turn: 0 },
    ]);
    const chosen = [0, 1, 2].map((k) => elementId(`e${k}`));
    const after = applied(network, distribute(network, chosen, 'down'));
    const boxes = chosen.map((id) => boxOf(after.elements.get(id) as never));
    const gaps = boxes.slice(1).map((box, k) => box.y - boxes[k].y - boxes[k].height);
    expect(Math.abs(gaps[0] - gaps[1])).toBeLessThanOrEqual(10);
    expect(boxes[0]).toEqual(boxOf(network.elements.get(chosen[0]) as never));
    expect(distribute(network, chosen.slice(0, 2), 'down')).toEqual([]);
  });
  it('mirrored twice is as before; the terminals are the mirror image', () => {
    fc.assert(
      fc.property(places, fc.constantFrom('across' as const, 'down' as const), (at, axis) => {
        const network = some(at);
        const once = applied(network, mirror(network, ids(network), axis));
        const twice = applied(once, mirror(once, ids(network), axis));
        const ends = (net: Network) =>
          symbols(net).flatMap((element) =>
            [0, 1, 2].map((terminal) => endPoint(element, { element: element.id, terminal, at: 0 }).at),
          );
        for (const element of symbols(twice))
          expect(boxOf(element)).toEqual(boxOf(network.elements.get(element.id) as never));
        expect(ends(twice).filter((_, k) => k >= 3)).toEqual(ends(network).filter((_, k) => k >= 3));
        const whole = hull(symbols(network).map(boxOf))!;
        const across = 2 * whole.x + whole.width;
        const down = 2 * whole.y + whole.height;
        // All terminals but those of the bus, whose start stays its left end.
        const image = ends(network).map(({ x, y }) => (axis === 'across' ? { x: across - x, y } : { x, y: down - y }));
        for (const [k, end] of ends(once).entries()) {
          if (k < 3) continue;
          expect(Math.abs(end.x - image[k].x)).toBeLessThanOrEqual(5);
          expect(Math.abs(end.y - image[k].y)).toBeLessThanOrEqual(5);
        }
        expect(buildTopology(once).nodes.length).toBe(buildTopology(network).nodes.length);
      }),
    );
  });
  it('turns each symbol on its place, four times to where it was; a bus stays', () => {
    let network = some([{ x: 3, y: 4, turn: 0 }]);
    const start = network;
    for (let k = 0; k < 4; k++) {
      network = applied(network, turn(network, ids(network)));
      if (k < 3) expect(network.elements.get(elementId('e0'))).toMatchObject({ turn: 90 * (k + 1), x: 30 });
    }
    expect(network.elements.get(elementId('e0'))).toEqual(start.elements.get(elementId('e0')));
  });
});
