import { describe, expect, it } from 'vitest';
import { magnitude, polar, subtract, type Complex } from '../linear/complex';
import { protectionCases } from '../test/reference';
import { toComponents, toPhases, turned } from './components';

describe('symmetrical components', () => {
  it('phases and back', () => {
    const phases = [polar(3, 0.2), polar(1, 2), polar(2, -1.5)] as const;
    const { l1, l2, l3, residual } = toPhases(toComponents(...phases));
    [l1, l2, l3].forEach((value, k) => expect(magnitude(subtract(value, phases[k]))).toBeLessThan(1e-12));
    expect(magnitude(residual)).toBeCloseTo(
      magnitude([...phases].reduce((p, q) => ({ re: p.re + q.re, im: p.im + q.im }))),
      12,
    );
  });

  it('a two-phase fault on the star side of Dyn11, seen from the delta side, published', () => {
    const [{ inputs, expected, tolerance }] = protectionCases('dyn11').filter(({ id }) =>
      id.includes('LL'),
    ) as unknown as {
      inputs: { lv_pu: [number, number][] };
      expected: number[];
      tolerance: { abs: number };
    }[];
    const [l1, l2, l3] = inputs.lv_pu.map(([re, im]): Complex => ({ re, im }));
    // The star side lags by 11 · 30°, so the delta side lags the star side by as much less.
    const delta = toPhases(turned({ ...toComponents(l1, l2, l3), zero: { re: 0, im: 0 } }, (-11 * Math.PI) / 6));
    [delta.l1, delta.l2, delta.l3].forEach((value, k) => {
      expect(Math.abs(value.re - expected[2 * k])).toBeLessThan(tolerance.abs);
      expect(Math.abs(value.im - expected[2 * k + 1])).toBeLessThan(tolerance.abs);
    });
  });
});
