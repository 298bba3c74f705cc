import { describe, expect, it } from 'vitest';
import { add, divide, magnitude, multiply, scale, type Complex } from '../linear/complex';
import { a, a2 } from '../sequence/components';
import { earthFaultFactor } from './charging';

/** The voltages of the sound phases during a solid earth fault, written out in symmetrical components. */
function byComponents(z1: Complex, z2: Complex, z0: Complex): number {
  const one: Complex = { re: 1, im: 0 };
  const i = divide(one, add(z1, add(z2, z0)));
  const [u1, u2, u0] = [add(one, scale(multiply(z1, i), -1)), scale(multiply(z2, i), -1), scale(multiply(z0, i), -1)];
  const phase = (p: Complex, q: Complex) => magnitude(add(u0, add(multiply(p, u1), multiply(q, u2))));
  return Math.max(phase(a2, a), phase(a, a2));
}

describe('the earth-fault factor', () => {
  it('is that of the phase voltages, for any impedances', () => {
    for (const [r0, x0, r1] of [
      [0, 3, 0],
      [5, 1, 0.1],
      [40, 1, 0.3],
      [0.2, 0.5, 0.1],
      [1, 5, 0.4],
    ]) {
      const z1 = { re: r1, im: 1 };
      const z0 = { re: r0, im: x0 };
      expect(earthFaultFactor(z1, z1, z0)).toBeCloseTo(byComponents(z1, z1, z0), 12);
    }
  });
  it('is 1 where all sequences are alike, and √3 where nothing is earthed', () => {
    const z = { re: 0.1, im: 1 };
    expect(earthFaultFactor(z, z, z)).toBeCloseTo(1, 12);
    expect(earthFaultFactor(z, z, { re: 0, im: 1e9 })).toBeCloseTo(Math.sqrt(3), 6);
  });
  it('takes the higher of the two sound phases, which a resistor tells apart', () => {
    const z = { re: 0, im: 1 };
    expect(earthFaultFactor(z, z, { re: 10, im: 1 })).toBeGreaterThan(1.7);
    // X0/X1 = 5: √3·√(k² + k + 1)/(k + 2).
    expect(earthFaultFactor(z, z, { re: 0, im: 5 })).toBeCloseTo((Math.sqrt(3) * Math.sqrt(31)) / 7, 12);
  });
});
