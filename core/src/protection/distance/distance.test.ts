/** Distance protection: membership against brute force, loops against the line, zones and their times. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { terminalPlace } from '../../faults/iec60909/study';
import { add, angle, magnitude, multiply, polar, scale, subtract, type Complex } from '../../linear/complex';
import { elementId } from '../../model/fields';
import { find, withElements } from '../../model/network';
import { Studies } from '../../studies/studies';
import { demoNetwork } from '../../test/demo';
import { expectFollowed } from '../../test/followed';
import { runs } from '../../test/runs';
import { Trace } from '../../working/trace';
import { atRest, never, type SeenCurrents, type SeenVectors, type ThreePhasors } from '../family';
import { deviceOf } from '../device';
import { familyOf } from '../registry';
import { seenBy } from '../seen';
import { inLoad, mho, offsetMho, quadCorners, quadrilateral, type Quadrilateral } from './characteristics';
import { distance, freshDistance, tripOf } from './index';
import { loopsOf, mutualFactor, residualFactor, residualRatios, toSecondary, type Loop } from './loops';
import { distanceFunctionSchema, type DistanceFunction } from './schema';

const number = (from: number, to: number) => fc.double({ min: from, max: to, noNaN: true });
const loopAt = (z: Complex, over: Partial<Loop> = {}): Loop => ({
  name: 'L1L2',
  isEarth: false,
  current: { re: 1, im: 0 },
  voltage: z,
  measuredA: 1,
  impedance: z,
  cross: z,
  memory: z,
  ...over,
});

describe('characteristics', () => {
  it('a circle holds what lies within half of its reach from its middle; its own voltage and memory agree where they are alike', () => {
    fc.assert(
      fc.property(number(-20, 20), number(-20, 20), number(1, 15), number(0.5, 1.5), (re, im, size, at) => {
        const reach = polar(size, at);
        const loop = loopAt({ re, im });
        const [dx, dy] = [re - reach.re / 2, im - reach.im / 2];
        const inside = Math.hypot(dx, dy) - size / 2;
        fc.pre(Math.abs(inside) > 1e-6 && Math.hypot(re, im) > 1e-6);
        const found = mho(loop, reach, 'self')!;
        expect(found.operates).toBe(inside < 0);
        expect(found.marginPerUnit!).toBeCloseTo(-inside / (size / 2), 6);
        expect(mho(loop, reach, 'memory')!.operates).toBe(found.operates);
        // With a tenth of offset more lies inside, never less.
        if (found.operates) expect(offsetMho(loop, reach, 0.1).operates).toBe(true);
      }),
      { numRuns: runs(400) },
    );
  });
  it('a quadrilateral by its sides is the polygon of its corners', () => {
    const shapes = fc.record({
      reactance: number(2, 20),
      resistance: number(2, 30),
      left: number(1, 20),
      lineAngleDeg: number(50, 88),
      tiltDeg: number(-12, 8),
      fromDeg: number(-30, 0),
      toDeg: number(95, 130),
    });
    const inPolygon = (corners: readonly Complex[], { re, im }: Complex) => {
      let inside = false;
      corners.forEach((p, k) => {
        const q = corners[(k + 1) % corners.length];
        if (p.im > im !== q.im > im && re < ((q.re - p.re) * (im - p.im)) / (q.im - p.im) + p.re) inside = !inside;
      });
      return inside;
    };
    fc.assert(
      fc.property(shapes, number(-30, 40), number(-15, 30), (shape: Quadrilateral, re, im) => {
        const found = quadrilateral({ re, im }, shape);
        fc.pre(Math.abs(found.margin) > 1e-6);
        expect(found.operates).toBe(inPolygon(quadCorners(shape), { re, im }));
      }),
      { numRuns: runs(600) },
    );
  });
  it('a load is cut out on both sides, a fault is not', () => {
    const cut = { resistance: 40, angleDeg: 30 };
    expect(inLoad({ re: 60, im: 20 }, cut)).toBe(true);
    expect(inLoad({ re: -60, im: -20 }, cut)).toBe(true);
    expect(inLoad({ re: 60, im: 40 }, cut)).toBe(false);
    expect(inLoad({ re: 30, im: 5 }, cut)).toBe(false);
  });
});

/** A line with its sequence impedances up to a fault of some phases: voltages and currents at its beginning. */
const z1: Complex = { re: 2, im: 8 };
const z0: Complex = { re: 6, im: 24 };
const three = (p: Complex, q: Complex, r: Complex): ThreePhasors => [p, q, r];
const none: Complex = { re: 0, im: 0 };
const singlePhase = (ampere: Complex) => {
  const [self, mutual] = [scale(add(z0, scale(z1, 2)), 1 / 3), scale(subtract(z0, z1), 1 / 3)];
  return {
    currents: three(ampere, none, none),
    voltages: three(
      multiply(self, ampere),
      add(polar(60_000, (-2 * Math.PI) / 3), multiply(mutual, ampere)),
      add(polar(60_000, (2 * Math.PI) / 3), multiply(mutual, ampere)),
    ),
    before: three(polar(60_000, 0), polar(60_000, (-2 * Math.PI) / 3), polar(60_000, (2 * Math.PI) / 3)),
  };
};

describe('loops', () => {
  it('of a single-phase fault come to Z1 of the line with the right k0, and with its parts apart', () => {
    const seen = singlePhase(polar(1500, -1.3));
    const [own] = loopsOf(seen, { form: 'factor', k0: residualFactor(z1, z0) });
    expect(own.impedance!.re).toBeCloseTo(z1.re, 9);
    expect(own.impedance!.im).toBeCloseTo(z1.im, 9);
    const [apart] = loopsOf(seen, { form: 'apart', ...residualRatios(z1, z0) });
    expect(apart.impedance!.re).toBeCloseTo(z1.re, 9);
    expect(apart.impedance!.im).toBeCloseTo(z1.im, 9);
    // Half of the residual current would be taken for a longer line.
    const [wrong] = loopsOf(seen, { form: 'factor', k0: scale(residualFactor(z1, z0), 0.5) });
    expect(wrong.impedance!.im).toBeGreaterThan(z1.im * 1.1);
  });
  it('polarise by the sound phases on the voltage of the loop while all is balanced', () => {
    const voltages = three(polar(1, 0.3), polar(1, 0.3 - (2 * Math.PI) / 3), polar(1, 0.3 + (2 * Math.PI) / 3));
    const currents = three(polar(1, 0), polar(1, -2), polar(1, 2));
    for (const { cross, voltage } of loopsOf({ voltages, currents, before: null }, { form: 'factor', k0: none })) {
      expect(cross.re).toBeCloseTo(voltage.re, 9);
      expect(cross.im).toBeCloseTo(voltage.im, 9);
    }
  });
  it('secondary ohms are primary ones by the ratios', () => {
    expect(toSecondary({ primaryA: 600, secondaryA: 1 }, { primaryKv: 132, secondaryV: 110 })).toBeCloseTo(0.5, 12);
  });
});

describe('the family', () => {
  const rating = { primaryA: 600, secondaryA: 1 };
  const fn = {
    ...freshDistance(elementId('z'), elementId('ct')),
    lineAngleDeg: 76,
    k0: Math.hypot(...Object.values(residualFactor(z1, z0))),
    k0AngleDeg: 0,
  };
  const vectorsOf = (given: ReturnType<typeof singlePhase>): SeenVectors => ({
    ...given,
    ratedV: 132_000,
    secondaryV: 110,
    leastVoltage: 0.5,
  });
  const seen = (ampere: Complex): SeenCurrents => ({
    phaseA: 1500,
    residualA: 1500,
    negativeA: 500,
    vectors: vectorsOf(singlePhase(ampere)),
  });
  const at = (reaches: readonly number[]) => ({
    ...fn,
    zones: fn.zones.map((zone, k) => ({
      ...zone,
      reachOhm: reaches[k],
      reachEarthOhm: reaches[k],
      resistanceOhm: 9,
      resistanceEarthOhm: 9,
    })),
  });
  const ohm = 0.5 * Math.hypot(2, 8);
  it('trips by the first zone that the fault lies in, with its delay; its working can be followed', () => {
    const forward = seen(polar(1500, -1.3));
    const trace = new Trace();
    trace.section('21', elementId('r'));
    const first = distance.respond!(at([ohm * 1.1, 9, 9]), rating, forward, trace);
    expect(first.band.latestS).toBeCloseTo(0.03, 9);
    const second = distance.respond!(at([ohm * 0.9, ohm * 1.1, 9]), rating, forward, trace);
    expect(second.band).toEqual({ earliestS: 0.4 + 0.03 - 0.02, latestS: expect.closeTo(0.45, 9) as number });
    expect(distance.respond!(at([1, 1.5, 2]), rating, forward, trace)).toMatchObject({ pickedUp: true, band: never });
  });
  it('does not look behind, unless it is told to', () => {
    const given = singlePhase(polar(1500, -1.3));
    const behind: SeenCurrents = {
      ...seen(none),
      vectors: vectorsOf({ ...given, currents: three(scale(given.currents[0], -1), none, none) }),
    };
    const wide = at([9, 9, 9]);
    for (const characteristic of ['mho', 'quadrilateral'] as const)
      expect(distance.respond!({ ...wide, characteristic }, rating, behind, new Trace()).band).toBe(never);
    const reverse = { ...wide, zones: wide.zones.map((zone) => ({ ...zone, looks: 'reverse' as const })) };
    expect(distance.respond!(reverse, rating, behind, new Trace()).band.latestS).toBeLessThan(0.1);
  });
  it('does nothing without voltages, and below its least current', () => {
    const forward = seen(polar(1500, -1.3));
    expect(distance.respond!(at([9, 9, 9]), rating, { ...forward, vectors: undefined }, new Trace()).band).toBe(never);
    expect(distance.respond!({ ...at([9, 9, 9]), startPickup: 10 }, rating, forward, new Trace()).band).toBe(never);
    expect(familyOf(fn).measuresVoltage!(fn)).toBe(true);
  });
  it('comes to its trip step by step as it says at once', () => {
    const forward = seen(polar(1500, -1.3));
    const second = at([ohm * 0.9, ohm * 1.1, 9]);
    let progress = atRest;
    for (let k = 0; k < 10; k++) progress = distance.advance!(second, rating, progress, forward, 0.045);
    expect(progress.tripped).toBe(true);
    expect(distance.advance!(second, rating, { ...atRest, share: 0.5 }, { ...forward, vectors: undefined }, 0.1)).toBe(
      atRest,
    );
  });
  it('trips only when its starting has picked up, and by end times where no zone sees the fault', () => {
    const forward = seen(polar(1500, -1.3));
    const wide = at([ohm * 1.1, 9, 9]);
    const short = at([0.1, 0.2, 0.3]);
    const by = (given: typeof wide, starting: Partial<NonNullable<DistanceFunction['starting']>>, what = forward) =>
      tripOf(
        { ...given, starting: { by: 'overcurrent', pickup: 2, reachOhm: 20, endForwardS: 1, endS: 2, ...starting } },
        rating,
        what,
      ).trip;
    // 1500 A are 2.5 times the rated current.
    expect(by(wide, {})).toMatchObject({ by: 'zone', delayS: 0 });
    expect(by(wide, { pickup: 2.6 })).toBeNull();
    expect(by(short, {})).toMatchObject({ by: 'endForward', delayS: 1 });
    expect(by(short, { endForwardS: null })).toMatchObject({ by: 'end', delayS: 2 });
    expect(by(short, { endForwardS: null, endS: null })).toBeNull();
    expect(by(short, { by: 'underimpedance', reachOhm: ohm * 1.05 })).toMatchObject({ by: 'endForward' });
    expect(by(wide, { by: 'underimpedance', reachOhm: ohm * 0.95 })).toBeNull();
    // From behind only the end time in any direction.
    const given = singlePhase(polar(1500, -1.3));
    const behind = {
      ...forward,
      vectors: vectorsOf({ ...given, currents: three(scale(given.currents[0], -1), none, none) }),
    };
    expect(by(wide, {}, behind)).toMatchObject({ by: 'end', delayS: 2 });
  });
  it('is blocked without a voltage, or overcurrent takes over; a close fault is no failure', () => {
    const lost = { ...seen(polar(1500, -1.3)) };
    const dead = three(none, none, none);
    const failed = { ...lost, vectors: { ...lost.vectors!, voltages: dead, before: dead } };
    const wide = at([9, 9, 9]);
    expect(tripOf(wide, rating, failed).trip).toBeNull();
    const stage = { ...wide, voltageFailure: { pickup: 2, delayS: 0.5 } };
    expect(tripOf(stage, rating, failed).trip).toMatchObject({ by: 'voltageFailure', delayS: 0.5 });
    expect(tripOf({ ...stage, voltageFailure: { pickup: 3, delayS: 0.5 } }, rating, failed).trip).toBeNull();
    const none3 = { ...lost, vectors: { ...lost.vectors!, voltages: null } };
    expect(tripOf(stage, rating, none3).trip).toMatchObject({ by: 'voltageFailure' });
    const close = { ...lost, vectors: { ...lost.vectors!, voltages: dead } };
    expect(tripOf(stage, rating, close).trip).toMatchObject({ by: 'zone', zone: { name: '1' } });
    const trace = new Trace();
    trace.section('21', elementId('r'));
    expect(distance.respond!(stage, rating, failed, trace).band.latestS).toBeCloseTo(0.5 + 0.03 + 0.02, 9);
    expectFollowed(trace.sections, 'without voltage');
  });
  it('trips at once by current on closing onto a fault, whatever its voltages', () => {
    const dead = three(none, none, none);
    const forward = seen(polar(1500, -1.3));
    const closing = { ...forward, isClosing: true, vectors: { ...forward.vectors!, voltages: dead, before: dead } };
    const stage = { ...at([9, 9, 9]), onClosing: { pickup: 2 } };
    expect(tripOf(stage, rating, closing).trip).toMatchObject({ by: 'closing', delayS: 0 });
    expect(tripOf({ ...stage, onClosing: { pickup: 3 } }, rating, closing).trip?.by).not.toBe('closing');
    expect(tripOf({ ...stage, onClosing: null }, rating, closing).trip?.by).not.toBe('closing');
  });
  it('a zone may have a residual compensation of its own', () => {
    const forward = seen(polar(1500, -1.3));
    const right = at([ohm * 1.02, 0.2, 0.2]);
    const wrong = { ...right, k0: right.k0 / 2 };
    // With half of k0 the fault lies beyond the zone; with the zone's own it is where it is.
    expect(tripOf(wrong, rating, forward).trip).toBeNull();
    const own = distance.withChoice!(right, 'zoneK0', 'on');
    expect(own.zones.every(({ k0 }) => k0 === right.k0)).toBe(true);
    expect(tripOf({ ...own, k0: right.k0 / 2 }, rating, forward).trip).toMatchObject({
      by: 'zone',
      zone: { name: '1' },
    });
    expect(distance.settings(own).length).toBe(distance.settings(right).length + 6);
    expect(distance.withChoice!(own, 'zoneK0', 'none').zones).toEqual(right.zones);
  });
  it('stages begin with values that can be set, and go again', () => {
    for (const field of ['starting', 'voltageFailure', 'onClosing', 'loadCut'] as const) {
      const value = field === 'starting' ? 'underimpedance' : 'on';
      const on = distance.withChoice!(fn, field, value);
      expect(distanceFunctionSchema.parse(on)).toEqual(on);
      expect(distance.choices!(on).find((each) => each.field === field)!.value).toBe(value);
      expect(distance.settings(on).length).toBeGreaterThan(distance.settings(fn).length);
      expect(distance.withChoice!(on, field, 'none')[field]).toBeNull();
      for (const setting of distance.settings(on).filter((each) => each.field.startsWith(field)))
        expect(
          distance.settings(distance.withSetting(on, setting.field, 3)).find((each) => each.field === setting.field)!
            .value,
        ).toBe(3);
    }
  });
  it('is stored as its schema says, and set by names', () => {
    expect(distanceFunctionSchema.parse(fn)).toEqual(fn);
    for (const setting of distance.settings(fn)) {
      const value = setting.value === 0 ? 1 : setting.value * 0.5;
      const changed = distance.withSetting(fn, setting.field, value);
      expect(distance.settings(changed).find(({ field }) => field === setting.field)!.value).toBe(value);
      expect(
        distance
          .settings(changed)
          .filter(({ field, value: now }) => now !== distance.settings(fn).find((each) => each.field === field)!.value),
      ).toHaveLength(1);
    }
  });
});

describe('a relay that measures the parallel line too', () => {
  it('sees the far end at the impedance of the line, whatever flows beside it; without, farther or nearer', () => {
    const network = demoNetwork();
    const relay = find(network, 'relay', elementId('cau-q01-relay'))!;
    const z0m = scale({ re: 0.194, im: 0.708 }, 24.3);
    const line1 = scale({ re: 0.118, im: 0.402 }, 24.3);
    const k0m = mutualFactor(line1, z0m);
    const own = relay.functions[0] as DistanceFunction;
    const compensated: DistanceFunction = {
      ...own,
      parallelInput: elementId('beside'),
      k0m: magnitude(k0m),
      k0mAngleDeg: (angle(k0m) * 180) / Math.PI,
    };
    const beside = {
      id: elementId('beside'),
      type: 'current' as const,
      element: elementId('cau-ct02'),
      towards: 1 as const,
      reversed: false,
      star: null,
    };
    const changed = withElements(network, [{ ...relay, inputs: [...relay.inputs, beside], functions: [compensated] }]);
    const device = deviceOf(changed, relay.id)!;
    const study = new Studies(changed).max;
    const [seen] = seenBy(study, terminalPlace(elementId('cau-fer-1'), 1), ['1ph'], [device]);
    const at = seen!.devices[0]![device.inputs[0].id];
    const exact = magnitude(line1) * (800 / 1200);
    const ohmOf = (fn: DistanceFunction) => {
      const { loops } = tripOf(fn, device.inputs[0].rating, at);
      return magnitude(loops.find(({ name }) => name === 'L1E')!.impedance!);
    };
    // k0 is stored with three digits.
    expect(ohmOf(compensated) / exact).toBeCloseTo(1, 2);
    expect(ohmOf({ ...compensated, parallelInput: null }) / exact).toBeGreaterThan(1.1);
  });
});
