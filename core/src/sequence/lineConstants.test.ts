import { describe, expect, it } from 'vitest';
import { addTo, denseMatrix, entry, kronReduce, type DenseMatrix } from '../linear/dense';
import type { Tower } from '../model/branches';
import { elementId } from '../model/fields';
import { protectionCases } from '../test/reference';
import {
  carson,
  earthReturnImpedance,
  equivalentDepth,
  lineConstants,
  mutualImpedance,
  primitiveImpedance,
  towerProblem,
} from './lineConstants';

type Pair = [number, number];
const pairOf = (expected: unknown) => expected as Pair;
const milesKm = 1.609344;
const footM = 0.3048;

describe('earth return, published', () => {
  it('equivalent depth', () => {
    const [{ inputs, expected }] = protectionCases('De');
    expect(Math.abs(equivalentDepth(inputs.rho, inputs.f_Hz) / pairOf(expected)[1] - 1)).toBeLessThan(1e-5);
  });
  it.each(protectionCases('carson'))('$id', ({ inputs, expected, tolerance }) => {
    const z = earthReturnImpedance(inputs.f_Hz, inputs.rho, inputs.d_m, 0, 0, 'depth');
    expect(Math.abs(z.re / pairOf(expected)[0] - 1)).toBeLessThan(tolerance.rel!);
    expect(Math.abs(z.im / pairOf(expected)[1] - 1)).toBeLessThan(tolerance.rel!);
  });
  it.each(protectionCases('carson_series'))('$id', ({ inputs, expected, tolerance }) => {
    const z = earthReturnImpedance(inputs.f_Hz, inputs.rho, inputs.d_m, 2 * inputs.h_m, 0, 'series');
    expect(Math.abs(z.re / pairOf(expected)[0] - 1)).toBeLessThan(tolerance.rel!);
    expect(Math.abs(z.im / pairOf(expected)[1] - 1)).toBeLessThan(tolerance.rel!);
  });
  it.each(protectionCases('kersting'))('$id', ({ inputs, expected, tolerance }) => {
    const z = earthReturnImpedance(60, 100, inputs.d_ft * footM, 0, 0, 'depth');
    expect(Math.abs(z.re * milesKm + inputs.r_ohm_mi - pairOf(expected)[0])).toBeLessThan(tolerance.abs!);
    expect(Math.abs(z.im * milesKm - pairOf(expected)[1])).toBeLessThan(tolerance.abs!);
  });
  it('the reduced matrix and sequence impedances of the published line', () => {
    const ohm = new Map(
      protectionCases('kersting').map((each) => [each.id.slice('kersting-'.length), pairOf(each.expected)]),
    );
    const names = ['a', 'b', 'c', 'n'];
    const z = denseMatrix(4);
    names.forEach((p, i) =>
      names.forEach((q, j) => {
        const found = ohm.get(p + q) ?? ohm.get(q + p) ?? (p === q && p !== 'n' ? ohm.get('aa')! : undefined);
        const [re, im] = found!;
        addTo(z, i, j, { re, im });
      }),
    );
    const reduced = kronReduce(z, 3)!;
    const mean = (m: DenseMatrix, same: boolean) => {
      let [re, im, n] = [0, 0, 0];
      for (let i = 0; i < 3; i++)
        for (let j = 0; j < 3; j++)
          if ((i === j) === same) {
            re += entry(m, i, j).re;
            im += entry(m, i, j).im;
            n++;
          }
      return { re: re / n, im: im / n };
    };
    const [s, m] = [mean(reduced, true), mean(reduced, false)];
    const got: Record<string, { re: number; im: number }> = {
      Zaa: entry(reduced, 0, 0),
      Zab: entry(reduced, 0, 1),
      Zbb: entry(reduced, 1, 1),
      Z00: { re: s.re + 2 * m.re, im: s.im + 2 * m.im },
      Z11: { re: s.re - m.re, im: s.im - m.im },
    };
    for (const { inputs, expected } of protectionCases('kersting_red')) {
      const value = got[(inputs as unknown as { term: string }).term];
      // Made from the printed, rounded primitive values: two units of their last digit.
      expect(Math.abs(value.re - pairOf(expected)[0])).toBeLessThan(2e-4);
      expect(Math.abs(value.im - pairOf(expected)[1])).toBeLessThan(2e-4);
    }
  });
});

const conductor = (circuit: number, phase: number, xM: number, heightM: number) => ({
  circuit,
  phase,
  xM,
  heightM,
  rOhmPerKm: circuit === 0 ? 0.4 : 0.118,
  gmrMm: circuit === 0 ? 5 : 8.6,
  radiusMm: circuit === 0 ? 7 : 10.9,
  bundle: 1,
  bundleSpacingMm: 0,
  sectionMm2: null,
  metal: 'aluminium' as const,
});
const tower = (over: Partial<Tower> = {}): Tower => ({
  kind: 'tower',
  id: elementId('t'),
  name: 'T',
  earthResistivityOhmM: 120,
  conductors: [
    ...[
      [1, -4],
      [2, 4],
    ].flatMap(([circuit, x]) => [1, 2, 3].map((phase) => conductor(circuit, phase, x, 10 + 4 * phase))),
    conductor(0, 0, 0, 27),
  ],
  ...over,
});

describe('towers', () => {
  it('a double-circuit 132 kV tower gives the usual figures', () => {
    const line = lineConstants(tower(), 1, 50)!;
    expect(line.z1.re).toBeCloseTo(0.118, 2);
    expect(line.z1.im).toBeGreaterThan(0.36);
    expect(line.z1.im).toBeLessThan(0.46);
    expect(line.z0.im / line.z1.im).toBeGreaterThan(2);
    expect(line.z0.im / line.z1.im).toBeLessThan(4);
    expect(line.b1UsPerKm).toBeGreaterThan(2.4);
    expect(line.b1UsPerKm).toBeLessThan(3.2);
    expect(line.b0UsPerKm).toBeLessThan(line.b1UsPerKm);
    const mutual = mutualImpedance(tower(), 1, 2, 50)!;
    expect(mutual.im / line.z0.im).toBeGreaterThan(0.4);
    expect(mutual.im / line.z0.im).toBeLessThan(0.75);
    // The tower is the same from both sides.
    expect(lineConstants(tower(), 2, 50)!.z0.im).toBeCloseTo(line.z0.im, 9);
  });
  it('matrices are symmetric; a bundle lowers the reactance; the shield wire lowers the zero sequence', () => {
    const z = primitiveImpedance(tower().conductors, 50, 120);
    for (let i = 0; i < z.rows; i++)
      for (let j = 0; j < i; j++) expect(entry(z, i, j).im).toBeCloseTo(entry(z, j, i).im, 12);
    const bundled = tower({
      conductors: tower().conductors.map((c) => (c.circuit === 1 ? { ...c, bundle: 2, bundleSpacingMm: 400 } : c)),
    });
    expect(lineConstants(bundled, 1, 50)!.z1.im).toBeLessThan(lineConstants(tower(), 1, 50)!.z1.im - 0.08);
    const bare = tower({ conductors: tower().conductors.filter((c) => c.circuit > 0) });
    expect(lineConstants(bare, 1, 50)!.z0.im).toBeGreaterThan(lineConstants(tower(), 1, 50)!.z0.im);
  });
  it('Carson tends to his limit for low heights', () => {
    const { p, q } = carson(1e-6, 0);
    expect(p).toBeCloseTo(Math.PI / 8, 6);
    expect(q).toBeCloseTo(-0.0386 + Math.log(2e6) / 2, 4);
  });
  it('says what is wrong with a tower', () => {
    expect(towerProblem(tower(), 1)).toBeNull();
    expect(towerProblem(tower(), 3)).toMatch(/L1 of circuit 3/);
    const twice = [...tower().conductors, { ...conductor(0, 0, 0, 27) }];
    expect(towerProblem(tower({ conductors: twice }), 1)).toMatch(/same place/);
    expect(lineConstants(tower(), 4, 50)).toBeNull();
    expect(mutualImpedance(tower(), 1, 1, 50)).toBeNull();
  });
});
