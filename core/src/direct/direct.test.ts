/** Direct-current formulas against second methods: the circuit itself, stepped through time. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  batteryOhm,
  longestCable,
  loopOhm,
  risen,
  squareOf,
  timeOfCurrent,
  timeOfSquare,
  voltageAtPower,
} from './circuit';
import { approximated, capacitorCurrent, commonBranchFactors, largestOf, rectifierCurrent } from './iec61660';

const runs = { numRuns: 100, seed: 17 };
const between = (min: number, max: number) => fc.double({ min, max, noNaN: true });

describe('IEC 61660-1', () => {
  it('the discharge of a capacitor has the peak that the circuit has', () => {
    fc.assert(
      fc.property(between(50, 800), between(1e-3, 0.1), between(1e-3, 0.1), between(1e-6, 1e-4), (v, c, r, l) => {
        const found = capacitorCurrent(v, c, r, l);
        let [i, u, most, at] = [0, v, 0, 0];
        const h = found.peakS! / 20_000;
        for (let k = 1; k <= 40_000; k++) {
          i += (h * (u - r * i)) / l;
          u -= (h * i) / c;
          if (i > most) [most, at] = [i, k * h];
        }
        expect(found.peakA / most).toBeCloseTo(1, 2);
        expect(found.peakS! / at).toBeCloseTo(1, 1);
      }),
      { ...runs, numRuns: 20 },
    );
  });
  it('sources behind a common branch give what the mesh gives', () => {
    fc.assert(
      fc.property(fc.array(between(0.01, 1), { minLength: 1, maxLength: 5 }), between(0, 0.5), (ohms, common) => {
        const factors = commonBranchFactors(ohms, common);
        const total = ohms.reduce((sum, ohm, k) => sum + (factors[k] * 100) / (ohm + common), 0);
        // The voltage that is left at the node drives each branch.
        const node = total * common;
        ohms.forEach((ohm, k) => expect((factors[k] * 100) / (ohm + common)).toBeCloseTo((100 - node) / ohm, 6));
      }),
      runs,
    );
  });
  it('a rectifier gives no more than without resistance on its d.c. side, a smoothing reactor takes the peak off', () => {
    const bridge = { sourceV: 420, rnOhm: 0.004, xnOhm: 0.05, frequencyHz: 50 };
    const bare = rectifierCurrent({ ...bridge, directOhm: 0, directHenry: 0 });
    const behind = rectifierCurrent({ ...bridge, directOhm: 0.02, directHenry: 1e-3 });
    expect(bare.lambda).toBeCloseTo(1, 12);
    expect(behind.steadyA).toBeLessThan(bare.steadyA);
    expect(behind.kappa).toBeLessThan(bare.kappa);
    expect(behind.peakA).toBeCloseTo(behind.kappa * behind.steadyA, 9);
  });
  it('the approximation function comes to its peak and then to its steady current', () => {
    const current = { peakA: 6000, steadyA: 4000, peakS: 0.01, riseS: 0.004, decayS: 0.05 };
    const at = approximated(current);
    expect(at(0)).toBe(0);
    expect(at(0.01)).toBeCloseTo(6000, 9);
    expect(at(3)).toBeCloseTo(4000, 6);
    expect(largestOf(at, [0.01]).atS).toBeCloseTo(0.01, 6);
  });
});

describe('a loop of battery, cable and device', () => {
  it('∫i² and the time to reach it undo each other, and agree with small steps', () => {
    fc.assert(
      fc.property(between(100, 5000), between(2e-4, 0.02), between(1e-3, 0.2), (finalA, tau, t) => {
        const i2t = squareOf(finalA, tau, t);
        expect(timeOfSquare(finalA, tau, i2t) / t).toBeCloseTo(1, 6);
        let sum = 0;
        const h = t / 20_000;
        for (let k = 0; k < 20_000; k++) sum += risen(finalA, tau, (k + 0.5) * h) ** 2 * h;
        expect(i2t / sum).toBeCloseTo(1, 4);
      }),
      { ...runs, numRuns: 30 },
    );
  });
  it('a release picks up on the rise, or never', () => {
    expect(risen(600, 0.001, timeOfCurrent(600, 0.001, 240))).toBeCloseTo(240, 9);
    expect(timeOfCurrent(200, 0.001, 240)).toBe(Infinity);
    const [ohmPerM, volts, source] = [loopOhm(1, 10, 20), 110, 0.02];
    const metres = longestCable(volts, source, 240, ohmPerM);
    expect(volts / (source + metres * ohmPerM)).toBeCloseTo(240, 9);
    expect(longestCable(volts, 10, 240, ohmPerM)).toBe(0);
  });
  it('a load of constant power takes it at the voltage that is left; strings share the current', () => {
    const volts = voltageAtPower(110, 0.1, 4000)!;
    expect(volts * ((110 - volts) / 0.1)).toBeCloseTo(4000, 6);
    expect(voltageAtPower(110, 1, 4000)).toBeNull();
    const string = { cells: 53, cellV: 2.05, cellOhm: 1e-3, connectorOhmPerCell: 1e-4, strings: 1 };
    expect(batteryOhm({ ...string, strings: 2 })).toBeCloseTo(batteryOhm(string) / 2, 12);
  });
});
