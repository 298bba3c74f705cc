/** Faults moved along routes, against single trials and the impedances alone. */
import { describe, expect, it } from 'vitest';
import { solidFault } from '../faults/kinds';
import { magnitude } from '../linear/complex';
import { elementId as id } from '../model/fields';
import { find, withElements } from '../model/network';
import { deviceOf } from '../protection/device';
import { tripOf } from '../protection/distance';
import type { DistanceFunction } from '../protection/distance/schema';
import { genericRelays, newFunction } from '../protection/overcurrent/library';
import { seenUnder } from '../protection/seen';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { finished } from '../working/steps';
import { placeOn } from './ends';
import { reachPlan } from './plan';
import { kmAt, ohmAt, routeOf } from './route';
import { routeSweep } from './sweep';

describe('faults moved along a route', () => {
  const own = new Studies(demoNetwork());
  const query = {
    lines: [id('fer-mar'), id('mar-que')],
    first: 0,
    kind: '3ph' as const,
    resistance: 0,
    arc: false,
    state: { condition: id('maximum') },
  };
  const list = finished(routeSweep(own, query))!;
  it('are seen by what looks along the route and back, at the places and times of single trials', () => {
    const names = (isForward: boolean) => list.filter((line) => line.isForward === isForward).map(({ name }) => name);
    expect(names(true).sort()).toEqual(['FER Q03 relay', 'MAR Q02 relay']);
    // At the tee nothing stands: what looks along MAR-QUE stands in MAR, what looks back along FER-MAR too.
    expect(names(false)).toContain('MAR Q01 relay');
    const fer = list.find(({ name }) => name === 'FER Q03 relay')!;
    const device = deviceOf(own.network, id('fer-q03-relay'))!;
    const fn = device.functions[0] as DistanceFunction;
    for (const { km, timeS } of fer.points.filter(({ km: at }) => at < 31.6)) {
      const [seen] = seenUnder(own.max, placeOn(id('fer-mar'), km / 31.6), [solidFault('3ph')], [device]);
      const { trip } = tripOf(fn, device.inputs[0].rating, seen!.devices[0]![device.inputs[0].id]);
      expect(timeS).toBeCloseTo(trip!.delayS + fn.operatingS, 12);
    }
    // Zone 1 ends at 85 % of the line, where nothing feeds in between.
    const first = fer.points.filter(({ by }) => by === '1');
    expect(Math.max(...first.map(({ km }) => km)) / 31.6).toBeLessThan(0.86);
    expect(fer.points.every(({ starts }) => starts)).toBe(true);
  });
  it('behind a busbar that others feed are seen later than impedances alone promise', () => {
    const route = routeOf(own.max.assembly, query.lines, 0)!;
    const row = finished(reachPlan(own, { merged: false, fromKv: 50 })).find(
      ({ end }) => end.line === id('fer-mar') && end.terminal === 0,
    )!;
    const zone3 = kmAt(route, 0, row.relay!.fn!.zones[2].reachOhm / row.relay!.secondary!) ?? route.lengthKm;
    const fer = list.find(({ name }) => name === 'FER Q03 relay')!;
    const last = Math.max(...fer.points.filter(({ timeS }) => timeS !== null).map(({ km }) => km));
    expect(last).toBeLessThanOrEqual(zone3 + 1e-6);
  });
  it('have overcurrent beside distance, and none where the lines do not meet', () => {
    const relay = find(own.network, 'relay', id('fer-q03-relay'))!;
    const stage = newFunction(id('stage'), '51', genericRelays[0].ranges, relay.inputs[0].id);
    const both = new Studies(withElements(own.network, [{ ...relay, functions: [...relay.functions, stage] }]));
    const found = finished(routeSweep(both, query))!.filter(({ device }) => device === relay.id);
    expect(found.map(({ by }) => by)).toEqual(['distance', 'overcurrent']);
    const times = found[1].points.flatMap(({ timeS }) => timeS ?? []);
    // Less current further out: slower.
    expect(times[times.length - 1]).toBeGreaterThan(times[0]);
    expect(finished(routeSweep(own, { ...query, lines: [id('fer-mar'), id('tol-cau')], first: undefined }))).toBeNull();
  });
  it('a place along a route comes back from its impedance', () => {
    const route = routeOf(own.max.assembly, query.lines, 0)!;
    for (const km of [0.5, 12, 31.6, 33, 38.9]) expect(kmAt(route, 0, ohmAt(route, 0, km))).toBeCloseTo(km, 6);
    expect(ohmAt(route, 1, 39)).toBeCloseTo(magnitude(route.legs[1].ohm), 9);
  });
});
