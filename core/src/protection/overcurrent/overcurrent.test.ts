import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newElement } from '../../model/defaults';
import { elementId } from '../../model/fields';
import { networkOf } from '../../model/network';
import { currentInput } from '../../model/protection';
import { curvePoints, curvesOf, operatingTime } from '../curve';
import { deviceFrom } from '../device';
import { characteristicNames, type OvercurrentFunction } from './schema';
import { expectFollowed, lastResult } from '../../test/followed';
import { protectionCases } from '../../test/reference';
import { SilentTrace, Trace } from '../../working/trace';
import { atRest } from '../family';
import { overcurrent } from './index';
import { characteristics, inverseTime, timeMultiplierFor } from './characteristics';
import { genericRelays, newFunction } from './library';
import { isSettable, snap, snapUp } from '../settings/range';
import { runs } from '../../test/runs';

const inverseNames = characteristicNames.filter((name) => characteristics[name].constants !== null);

describe('published characteristics', () => {
  const cases = protectionCases('toc');
  it('finds the cases', () => expect(cases.length).toBe(10));
  it.each(cases.map((each) => [each.id, each] as const))('%s', (_, { inputs, expected, tolerance }) => {
    expect(
      Math.abs(inverseTime({ k: inputs.k, alpha: inputs.alpha, c: inputs.c }, inputs.M, inputs.tms) - expected),
    ).toBeLessThanOrEqual(tolerance.abs!);
  });
  it('uses the constants of the reference cases', () => {
    const byLetter = { A: 'iecA', B: 'iecB', C: 'iecC', LTI: 'longTime' } as const;
    for (const { id, inputs } of cases) {
      const name = byLetter[id.split('-')[1] as keyof typeof byLetter];
      expect(characteristics[name].constants).toEqual({ k: inputs.k, alpha: inputs.alpha, c: inputs.c });
    }
  });
});

describe('properties of characteristics', () => {
  const multiple = fc.double({ min: 1.0001, max: 60, noNaN: true });
  it('fall with current, grow with the multiplier, never trip at pickup', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...inverseNames),
        multiple,
        multiple,
        fc.double({ min: 0.05, max: 3, noNaN: true }),
        (name, p, q, multiplier) => {
          const constants = characteristics[name].constants!;
          const [low, high] = [Math.min(p, q), Math.max(p, q)];
          expect(inverseTime(constants, low, multiplier)).toBeGreaterThanOrEqual(
            inverseTime(constants, high, multiplier),
          );
          expect(inverseTime(constants, low, 2 * multiplier)).toBeCloseTo(
            2 * inverseTime(constants, low, multiplier),
            9,
          );
          expect(inverseTime(constants, 1, multiplier)).toBe(Infinity);
          expect(inverseTime(constants, 0.5, multiplier)).toBe(Infinity);
        },
      ),
    );
  });
  it('the multiplier for a time gives that time', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...inverseNames),
        fc.double({ min: 1.05, max: 20, noNaN: true }),
        fc.double({ min: 0.05, max: 50, noNaN: true }),
        (name, m, time) => {
          const constants = characteristics[name].constants!;
          const of = { characteristic: name, own: null, points: null, dependentTo: 20 };
          expect(inverseTime(constants, m, timeMultiplierFor(of, m, time)!)).toBeCloseTo(time, 8);
        },
      ),
    );
  });
  it('stay constant beyond 20 times pickup', () => {
    const constants = characteristics.iecC.constants!;
    expect(inverseTime(constants, 21, 1)).toBe(inverseTime(constants, 500, 1));
  });
});

describe('settings of a device', () => {
  const ranges = fc
    .record({
      min: fc.constantFrom(0, 0.05, 0.1, 0.5),
      step: fc.constantFrom(0.005, 0.01, 0.025, 0.05, 0.25, 1),
      count: fc.integer({ min: 1, max: 500 }),
    })
    .map(({ min, step, count }) => ({ min, step, max: min + count * step }));
  it('snap to a step inside the range, and again to the same', () => {
    fc.assert(
      fc.property(ranges, fc.double({ min: -10, max: 700, noNaN: true }), (range, value) => {
        const snapped = snap(range, value);
        expect(snapped).toBeGreaterThanOrEqual(range.min - 1e-9);
        expect(snapped).toBeLessThanOrEqual(range.max + 1e-9);
        expect(snap(range, snapped)).toBe(snapped);
        expect(isSettable(range, snapped)).toBe(true);
        if (value >= range.min && value <= range.max)
          expect(Math.abs(snapped - value)).toBeLessThanOrEqual(range.step / 2 + 1e-9);
        const up = snapUp(range, value);
        if (up !== null) expect(up).toBeGreaterThanOrEqual(value - range.step * 1e-6);
      }),
    );
  });
  it('knows no dust of binary fractions', () => {
    expect(snap({ min: 0.05, max: 1, step: 0.01 }, 0.3)).toBe(0.3);
    expect(snap({ min: 0, max: 10, step: 0.025 }, 0.0751)).toBe(0.075);
  });
});

const fn = (code: OvercurrentFunction['code'], over: Partial<OvercurrentFunction>) => ({
  ...newFunction(elementId(`f${code}`), code, genericRelays[0].ranges),
  ...over,
});
const ct = newElement('currentTransformer', elementId('ct'), 'CT', { primaryA: 200, secondaryA: 5 });

const relayOf = (functions: OvercurrentFunction[]) => {
  const relay = newElement('relay', elementId('r'), 'R', { inputs: [currentInput(ct.id)], functions });
  return curvesOf(deviceFrom(networkOf([ct, relay]), relay)!);
};
const seen = (phaseA: number, residualA = 0, negativeA = 0) => ({ ct: { phaseA, residualA, negativeA } });

describe('a relay in primary amperes', () => {
  const relay = relayOf([
    fn('51', { characteristic: 'iecB', pickup: 1, timeMultiplier: 0.2 }),
    fn('50', { pickup: 8, delayS: 0.05 }),
    fn('51N', { characteristic: 'definite', pickup: 0.1, delayS: 0.4 }),
    fn('50N', { enabled: false }),
  ]);
  it('trips by the quickest function, each on what it measures', () => {
    expect(operatingTime(relay, seen(1000))).toMatchObject({
      timeS: expect.closeTo((0.2 * 13.5) / 4, 9),
      by: { code: '51' },
    });
    expect(operatingTime(relay, seen(1601)).by!.code).toBe('50');
    expect(operatingTime(relay, seen(210, 25))).toMatchObject({ timeS: 0.4, by: { code: '51N' } });
    expect(operatingTime(relay, seen(150, 10))).toEqual({ timeS: Infinity, by: null });
  });
  it('measures the negative sequence with 46 alone', () => {
    const only = relayOf([fn('46', { characteristic: 'definite', pickup: 0.2, delayS: 1.5 })]);
    expect(operatingTime(only, seen(5000, 5000, 39)).by).toBeNull();
    expect(operatingTime(only, seen(0, 0, 41))).toMatchObject({ timeS: 1.5, by: { code: '46', quantity: 'negative' } });
  });
  it('draws the quickest time, with a true step at the high-set pickup', () => {
    const points = curvePoints(relay, 'phase', 5000);
    for (let k = 1; k < points.length; k++) {
      expect(points[k].currentA).toBeGreaterThan(points[k - 1].currentA);
      expect(points[k].timeS).toBeLessThanOrEqual(points[k - 1].timeS + 1e-9);
    }
    const atStep = points.filter((point) => Math.abs(point.currentA - 1600) < 0.001);
    expect(atStep.map((point) => point.timeS > 0.3)).toEqual([true, false]);
    for (const { currentA, timeS } of points) expect(timeS).toBeCloseTo(operatingTime(relay, seen(currentA)).timeS, 9);
  });
  it('has no curve for what it does not measure', () => {
    const earthless = relayOf([fn('51', {})]);
    expect(curvePoints(earthless, 'residual', 1000)).toEqual([]);
    expect(earthless.functions[0].at(1).latestS).toBe(Infinity);
  });
});

describe('what a function does while currents change', () => {
  const rating = { primaryA: 200, secondaryA: 5 };
  it('under constant currents is what it does at steady ones, whatever the steps', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...characteristicNames),
        fc.constantFrom('51' as const, '50' as const, '51N' as const, '46' as const),
        fc.double({ min: 0.5, max: 40, noNaN: true }),
        fc.integer({ min: 1, max: 300 }),
        (characteristic, code, multiple, steps) => {
          const own = fn(code, { characteristic, pickup: 1, timeMultiplier: 0.4, delayS: 0.2 });
          const currents = { phaseA: multiple * 200, residualA: multiple * 200, negativeA: multiple * 200 };
          const { band, pickedUp } = overcurrent.respond!(own, rating, currents, new SilentTrace());
          const run = (totalS: number) => {
            let state = atRest;
            for (let k = 0; k < steps; k++) state = overcurrent.advance!(own, rating, state, currents, totalS / steps);
            return state;
          };
          if (!pickedUp) {
            expect(run(1000)).toEqual(atRest);
            return;
          }
          expect(run(band.latestS).tripped).toBe(true);
          if (band.latestS > 0) {
            expect(run(band.latestS * 0.999).tripped).toBe(false);
            expect(run(band.latestS / 2).share).toBeCloseTo(0.5, 9);
          }
        },
      ),
      { seed: 3, numRuns: runs(200) },
    );
  });
  it('comes to rest when the current falls, and stays tripped once it has', () => {
    const own = fn('51', { characteristic: 'definite', pickup: 1, delayS: 1 });
    const [above, below] = [seen(300).ct, seen(100).ct];
    const half = overcurrent.advance!(own, rating, atRest, above, 0.5);
    expect(half).toEqual({ share: 0.5, tripped: false });
    expect(overcurrent.advance!(own, rating, half, below, 0.1)).toEqual(atRest);
    const done = overcurrent.advance!(own, rating, half, above, 0.6);
    expect(overcurrent.advance!(own, rating, done, below, 1)).toEqual({ share: 1, tripped: true });
  });
  it('writes a working that a calculator follows', () => {
    for (const characteristic of characteristicNames)
      for (const currentA of [150, 205, 900, 9000]) {
        const trace = new Trace();
        const own = fn('51', { characteristic, pickup: 1, timeMultiplier: 0.35, delayS: 0.25 });
        const { band } = overcurrent.respond!(own, rating, seen(currentA).ct, trace);
        expectFollowed(trace.sections, `${characteristic} at ${currentA} A`);
        expect(lastResult(trace.sections, 't')).toBe(Number.isFinite(band.latestS) ? band.latestS : undefined);
      }
  });
});
