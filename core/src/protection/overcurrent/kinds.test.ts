/** Functions with direction, with voltage, and what becomes of a travel that was begun. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { polar, scale, type Complex } from '../../linear/complex';
import { elementId } from '../../model/fields';
import { runs } from '../../test/runs';
import { Trace } from '../../working/trace';
import { atRest, type SeenCurrents, type SeenVectors, type ThreePhasors } from '../family';
import { characteristics } from './characteristics';
import { directedCurrent, isForward } from './direction';
import { overcurrent } from './index';
import { genericRelays, newFunction } from './library';
import type { FunctionCode, OvercurrentFunction } from './schema';
import { pickupFactor, timeCurrentOf } from './timeCurrent';

const rating = { primaryA: 100, secondaryA: 1 };
const fn = (code: FunctionCode, over: Partial<OvercurrentFunction> = {}): OvercurrentFunction => ({
  ...newFunction(elementId('f'), code, genericRelays[0].ranges),
  pickup: 1,
  ...over,
});
const deg = Math.PI / 180;
const three = (size: number, angleDeg: number): ThreePhasors =>
  [0, -120, 120].map((turn) => polar(size, (angleDeg + turn) * deg)) as unknown as ThreePhasors;

const seenWith = (over: Partial<SeenVectors> & { currents: ThreePhasors }): SeenCurrents => {
  const sum = over.currents.reduce<Complex>((p, q) => ({ re: p.re + q.re, im: p.im + q.im }), { re: 0, im: 0 });
  return {
    phaseA: Math.max(...over.currents.map(({ re, im }) => Math.hypot(re, im))),
    residualA: Math.hypot(sum.re, sum.im),
    negativeA: 0,
    vectors: {
      voltages: three(6350, 0),
      before: three(6350, 0),
      ratedV: 11000,
      secondaryV: 110,
      leastVoltage: 1,
      ...over,
    },
  };
};

describe('a directional phase function', () => {
  const direction = fn('67').direction!;
  it('counts fault current into the protected side, at every angle of a line, and none that comes out', () => {
    for (let lag = 0; lag <= 90; lag += 5) {
      const forward = seenWith({ currents: three(800, -lag) });
      expect(directedCurrent(direction, 'phase', forward), `lagging ${lag}°`).toBeCloseTo(800, 6);
      const back = seenWith({ currents: three(800, 180 - lag) });
      expect(directedCurrent(direction, 'phase', back)).toBe(0);
      expect(directedCurrent({ ...direction, looks: 'reverse' }, 'phase', back)).toBeCloseTo(800, 6);
      expect(directedCurrent({ ...direction, looks: 'reverse' }, 'phase', forward)).toBe(0);
    }
  });
  it('goes by the voltage before a close-in fault that leaves none, or does not operate', () => {
    const dead = { currents: three(800, -60), voltages: three(0, 0) };
    expect(directedCurrent(direction, 'phase', seenWith(dead))).toBeCloseTo(800, 6);
    expect(directedCurrent({ ...direction, withoutVoltage: 'block' }, 'phase', seenWith(dead))).toBe(0);
    expect(directedCurrent(direction, 'phase', seenWith({ ...dead, before: null }))).toBe(0);
    expect(directedCurrent(direction, 'phase', seenWith({ ...dead, voltages: null }))).toBe(0);
    expect(directedCurrent(direction, 'phase', { phaseA: 800, residualA: 0, negativeA: 0 })).toBe(0);
  });
  it('divides the plane into two halves but for the rest beside the sector', () => {
    fc.assert(
      fc.property(fc.integer({ min: -180, max: 180 }), fc.integer({ min: -180, max: 180 }), (i, u) => {
        const [current, voltage] = [polar(5, i * deg), polar(100, u * deg)];
        const there = isForward(current, voltage, { ...direction, sectorDeg: 90 });
        const back = isForward(scale(current, -1), voltage, { ...direction, sectorDeg: 90 });
        const edge = Math.abs(((((i - u - direction.characteristicAngleDeg) % 180) + 180) % 180) - 90) < 1e-9;
        if (!edge) expect(there).not.toBe(back);
        // Both turned alike nothing changes.
        expect(isForward(polar(5, (i + 77) * deg), polar(100, (u + 77) * deg), { ...direction, sectorDeg: 90 })).toBe(
          there,
        );
      }),
      { seed: 5, numRuns: runs(200) },
    );
  });
  it('is part of its curve: what it sees the other way does not pick it up', () => {
    const curve = timeCurrentOf(fn('67', { characteristic: 'definite', delayS: 0.4 }), rating);
    expect(curve.at(curve.measure!(seenWith({ currents: three(800, -60) }))).latestS).toBe(0.4);
    expect(curve.at(curve.measure!(seenWith({ currents: three(800, 120) }))).latestS).toBe(Infinity);
  });
});

describe('a directional residual function', () => {
  it('goes by −3U0: a solid earth fault in L1 ahead is forward, behind it is not', () => {
    const { direction } = fn('67N');
    // U1 collapsed: 3U0 = U2 + U3 = −U1; −3U0 points as U1 did.
    const voltages: ThreePhasors = [polar(0, 0), polar(6350, -120 * deg), polar(6350, 120 * deg)];
    const ahead: ThreePhasors = [polar(500, -70 * deg), polar(0, 0), polar(0, 0)];
    const behind: ThreePhasors = [polar(500, 110 * deg), polar(0, 0), polar(0, 0)];
    expect(directedCurrent(direction!, 'residual', seenWith({ currents: ahead, voltages }))).toBeCloseTo(500, 6);
    expect(directedCurrent(direction!, 'residual', seenWith({ currents: behind, voltages }))).toBe(0);
    // Without residual voltage there is nothing to go by, and none to remember.
    expect(directedCurrent(direction!, 'residual', seenWith({ currents: ahead, voltages: three(6350, 0) }))).toBe(0);
  });
});

describe('overcurrent with voltage', () => {
  it('restrained: the pickup falls with the voltage down to a quarter; controlled: by a step', () => {
    const restrained = fn('51V').voltage!;
    expect([1.1, 1, 0.6, 0.25, 0.1].map((u) => pickupFactor(restrained, u))).toEqual([1, 1, 0.6, 0.25, 0.25]);
    const controlled = { ...restrained, mode: 'controlled' as const };
    expect([0.85, 0.8, 0.79].map((u) => pickupFactor(controlled, u))).toEqual([1, 1, 0.4]);
  });
  it('operates as at a current larger by as much', () => {
    const own = fn('51V', { characteristic: 'iecB', timeMultiplier: 0.3 });
    const seen = seenWith({ currents: three(90, -60), leastVoltage: 0.5 });
    const curve = timeCurrentOf(own, rating);
    expect(curve.measure!(seen)).toBeCloseTo(180, 9);
    expect(curve.at(180).latestS).toBeCloseTo((0.3 * 13.5) / 0.8, 9);
    // Without a voltage transformer it is a plain overcurrent function.
    expect(curve.measure!(seenWith({ currents: three(90, 0), leastVoltage: null }))).toBeCloseTo(90, 9);
  });
});

describe('a travel that was begun', () => {
  const seen = (multiple: number): SeenCurrents => ({ phaseA: 100 * multiple, residualA: 0, negativeA: 0 });
  const half = (own: OvercurrentFunction) =>
    overcurrent.advance!(own, rating, atRest, seen(5), timeCurrentOf(own, rating).at(500).latestS / 2);
  it('is lost at once, held for a time, or runs back', () => {
    const instant = fn('51');
    expect(overcurrent.advance!(instant, rating, half(instant), seen(0.5), 0.001)).toEqual(atRest);
    const held = fn('51', { reset: 'definite', resetS: 0.5 });
    const short = overcurrent.advance!(held, rating, half(held), seen(0.5), 0.4);
    expect(short.share).toBeCloseTo(0.5, 9);
    expect(overcurrent.advance!(held, rating, short, seen(0.5), 0.2)).toEqual(atRest);
    // A new pickup in between begins the hold anew.
    const on = overcurrent.advance!(held, rating, short, seen(5), 1e-6);
    expect(overcurrent.advance!(held, rating, on, seen(0.5), 0.4).share).toBeGreaterThan(0.5);
    const back = fn('51', { characteristic: 'ieeeE', reset: 'dependent', timeMultiplier: 2 });
    const whole = (2 * characteristics.ieeeE.tr!) / (1 - 0.25);
    expect(overcurrent.advance!(back, rating, half(back), seen(0.5), whole / 4).share).toBeCloseTo(0.25, 9);
    expect(overcurrent.advance!(back, rating, half(back), seen(0.5), whole)).toEqual(atRest);
    // At the pickup itself it neither goes on nor back.
    expect(overcurrent.advance!(back, rating, half(back), seen(1), 100).share).toBeCloseTo(0.5, 9);
  });
});

describe('curves of one’s own', () => {
  it('by constants, and by points whose time the multiplier scales; above the end of the range they stay', () => {
    const own = fn('51', {
      characteristic: 'own',
      own: { k: 2, alpha: 1, c: 0.5, tr: 0 },
      timeMultiplier: 0.5,
      dependentTo: 10,
    });
    expect(timeCurrentOf(own, rating).at(300).latestS).toBeCloseTo(0.5 * (2 / 2 + 0.5), 12);
    expect(timeCurrentOf(own, rating).at(5000).latestS).toBe(timeCurrentOf(own, rating).at(1000).latestS);
    const table = fn('51', {
      characteristic: 'points',
      points: [
        [2, 4],
        [20, 0.04],
      ],
      timeMultiplier: 0.5,
    });
    expect(timeCurrentOf(table, rating).at(200 * Math.sqrt(10)).latestS).toBeCloseTo(0.2, 12);
    expect(timeCurrentOf(table, rating).at(150).latestS).toBe(Infinity);
    expect(timeCurrentOf(table, rating).assuredA).toBe(200);
    const trace = new Trace();
    expect(overcurrent.respond!(table, rating, seenWith({ currents: three(150, 0) }), trace).pickedUp).toBe(false);
    const free = fn('51', { characteristic: 'iecA', dependentTo: null, timeMultiplier: 1 });
    expect(timeCurrentOf(free, rating).at(5000).latestS).toBeCloseTo(0.14 / (50 ** 0.02 - 1), 9);
  });
});
