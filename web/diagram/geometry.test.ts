import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newElement, type PlaceableKind } from '@mesura/core/model/defaults';
import { terminalsOf, turned } from '@mesura/core/model/drawing';
import { kinds } from '@mesura/core/model/element';
import { elementId } from '@mesura/core/model/fields';
import { networkOf } from '@mesura/core/model/network';
import { edgesOf, nodesOf } from './flow';
import { boxOf, endPoint, pathOf, route, snapToGrid, type Drawn } from './geometry';
import { detailOf } from './labels';
import { placed, tools } from './tools';

const drawnKinds = tools.map((tool) => tool.kind);
const element = (kind: PlaceableKind, over: object = {}) =>
  newElement(kind, elementId('e'), 'E', over as never) as Drawn;
const places = fc.record({
  kind: fc.constantFrom(...drawnKinds),
  x: fc.integer({ min: -500, max: 500 }),
  y: fc.integer({ min: -500, max: 500 }),
  turn: fc.constantFrom(0, 90, 180, 270),
});

describe('symbols', () => {
  it('have as many terminals as the model says, inside or on their box, turned with them', () => {
    fc.assert(
      fc.property(places, ({ kind, x, y, turn }) => {
        const symbol = element(kind, kind === 'bus' ? { x, y } : { x, y, turn });
        const terminals = terminalsOf(symbol);
        expect(terminals).toHaveLength(kinds[kind].terminals);
        const box = boxOf(symbol);
        for (let k = 0; k < terminals.length; k++) {
          const { at } = endPoint(symbol, { element: symbol.id, terminal: k, at: 0 });
          expect(at.x).toBeGreaterThanOrEqual(box.x);
          expect(at.x).toBeLessThanOrEqual(box.x + box.width);
          expect(at.y).toBeGreaterThanOrEqual(box.y);
          expect(at.y).toBeLessThanOrEqual(box.y + box.height);
        }
      }),
    );
    expect(turned(turned({ x: 3, y: -7 }, 90), 270)).toEqual({ x: 3, y: -7 });
  });
  it('all have a tool of their own key, and a line of data that reads well', () => {
    expect(new Set(tools.map((tool) => tool.key)).size).toBe(tools.length);
    const details = Object.fromEntries(drawnKinds.map((kind) => [kind, detailOf(element(kind))]));
    expect(details).toMatchObject({
      transformer: '1.6 MVA Dyn11',
      line: '1 km',
      synchronousMachine: '6 MVA',
      asynchronousMotor: '1 MW',
      currentTransformer: '400/1',
      networkFeeder: '10 kA',
      bus: '',
    });
    expect(detailOf(element('asynchronousMotor', { count: 4, ratedMw: 0.55 }))).toBe('4 × 550 kW');
  });
});

describe('connections', () => {
  it('run at right angles from end to end', () => {
    fc.assert(
      fc.property(places, places, fc.nat(200), (p, q, at) => {
        const ends = [p, q].map(({ kind, ...place }) => {
          const symbol = element(kind, kind === 'bus' ? { x: place.x, y: place.y } : place);
          return endPoint(symbol, { element: symbol.id, terminal: 0, at });
        });
        const points = route(ends[0], ends[1]);
        expect(points[0]).toEqual(ends[0].at);
        expect(points.at(-1)).toEqual(ends[1].at);
        for (let k = 1; k < points.length; k++)
          expect(points[k].x === points[k - 1].x || points[k].y === points[k - 1].y).toBe(true);
        expect(pathOf(points)).toMatch(/^M-?[\d.]+ -?[\d.]+( ?L-?[\d.]+ -?[\d.]+)+$/);
      }),
    );
  });
  it('stay on a busbar that got shorter', () => {
    const bus = element('bus', { x: 100, y: 50, length: 80 });
    expect(endPoint(bus, { element: bus.id, terminal: 0, at: 300 }).at).toEqual({ x: 180, y: 50 });
  });
  it('follow a symbol that is being dragged, before anything is stored', () => {
    const bus = newElement('bus', elementId('b'), 'B', { x: 0, y: 0, length: 100 });
    const load = newElement('load', elementId('o'), 'O', { x: 50, y: 60 });
    const network = networkOf([
      bus,
      load,
      {
        kind: 'connection',
        id: elementId('w'),
        from: { element: bus.id, terminal: 0, at: 50 },
        to: { element: load.id, terminal: 0 },
      },
    ]);
    const moved = new Map([['o', { x: 90 }]]);
    const [edge] = edgesOf(network, moved, ['w'], () => 'ink');
    expect(edge).toMatchObject({
      source: 'b',
      target: 'o',
      selected: true,
      data: { path: 'M50 0 L50 30 L90 30 L90 40', color: 'ink' },
    });
    const node = nodesOf(network, moved, [], () => undefined).find((each) => each.id === 'o')!;
    expect(node.position).toEqual({ x: 80, y: 40 });
    expect(node.handles).toHaveLength(1);
  });
});

describe('placing', () => {
  it('gives free names, and a relay the current transformer beside it', () => {
    const ct = newElement('currentTransformer', elementId('ct'), 'CT1', { x: 100, y: 100 });
    const network = networkOf([ct, newElement('switch', elementId('q'), 'Q1')]);
    const tool = (kind: string, title = '') => tools.find((each) => each.kind === kind && each.title.includes(title))!;
    expect(placed(tool('switch', 'Breaker'), network, 0, 0)).toMatchObject({ name: 'Q2', type: 'breaker' });
    expect(placed(tool('relay'), network, 160, 110)).toMatchObject({ ct: 'ct' });
    expect(placed(tool('relay'), network, 900, 900)).toMatchObject({ ct: null });
    expect(snapToGrid(-14.9)).toBe(-10);
  });
});
