/** Faults at the generator of a power-station unit and in its auxiliaries, against the formulas of IEC 60909-0, 6.7.3, written out by hand. */
import { describe, expect, it } from 'vitest';
import { add, divide, inverse, magnitude, scale, type Complex } from '../../linear/complex';
import { elementId } from '../../model/fields';
import { Builder } from '../../test/network';
import { faultCase } from '../../test/reference';
import { fromReference, type ReferenceNetwork } from '../../test/network';
import { faultAt, iec60909Study } from './study';

const z = (re: number, im: number): Complex => ({ re, im });
const parallel = (p: Complex, q: Complex) => inverse(add(inverse(p), inverse(q)));

function powerStation(onLoadTapChanger: boolean) {
  const b = new Builder();
  b.add('bus', 'H', { nominalKv: 110 });
  b.add('bus', 'G', { nominalKv: 10 });
  b.add('bus', 'E', { nominalKv: 6 });
  const level = { given: 'current' as const, ikKa: 20, skMva: null, rOverX: 0.1, x0OverX1: null, r0OverX0: null };
  b.add('networkFeeder', 'Q', { earthed: false, max: level, min: level });
  b.add('powerStationUnit', 'U', {
    generator: {
      ratedMva: 100,
      ratedKv: 10.5,
      powerFactor: 0.8,
      xd2Percent: 20,
      x2Percent: null,
      rOhm: 0.003,
      regulationPercent: 5,
      xd1Percent: null,
      xdPercent: null,
      td2S: null,
      td1S: null,
      taS: null,
      rotor: 'turbo',
      excitation: 'series1',
    },
    transformer: {
      ratedMva: 100,
      hvKv: 115,
      lvKv: 10.5,
      ukPercent: 12,
      uRPercent: 0.4,
      vectorGroup: 'YNd5',
      onLoadTapChanger,
      pTPercent: 0,
      x0OverX1: 1,
      r0OverR1: 1,
    },
  });
  b.add('transformer', 'A', { ratedMva: 10, hvKv: 10.5, lvKv: 6.3, ukPercent: 8, uRPercent: 0.5, vectorGroup: 'Dyn5' });
  b.join('Q', 'H', 'U:0', 'H', 'U:1', 'G', 'A:0', 'G', 'A:1', 'E');
  return iec60909Study(b.network(), 'max');
}

const sin = 0.6;
const xT = Math.sqrt(12 ** 2 - 0.4 ** 2) / 100;
const zG = z(0.003, 0.2 * (10.5 ** 2 / 100));
const zT = z(0.004 * (10.5 ** 2 / 100), xT * (10.5 ** 2 / 100));
const xQ = (1.1 * 110) / (Math.sqrt(3) * 20) / Math.hypot(1, 0.1);
const zQ = scale(z(0.1 * xQ, xQ), (10.5 / 115) ** 2);

describe('a fault inside a power-station unit', () => {
  it.each([
    [true, 1],
    [false, 1 / 1.05],
  ])(
    'with on-load tap changer %s: at the generator KG,S and the transformer as it is; in the auxiliaries KT,S too',
    (onLoad, p) => {
      const study = powerStation(onLoad);
      const kG = (p * 1.1) / (1 + 0.2 * sin);
      const kT = (p * 1.1) / (1 - xT * sin);
      const at = (bus: string) => {
        const result = faultAt(study, elementId(bus), 0, '3ph');
        if (!result.ok) throw new Error(result.problems[0].message);
        return result.fault.z1;
      };
      const atGenerator = parallel(scale(zG, kG), add(zT, zQ));
      expect(magnitude(divide(at('G'), atGenerator))).toBeCloseTo(1, 9);
      const before = parallel(scale(zG, kG), add(scale(zT, kT), zQ));
      const xA = Math.sqrt(8 ** 2 - 0.5 ** 2) / 100;
      const base = 6.3 ** 2 / 10;
      const kA = (0.95 * 1.1) / (1 + 0.6 * xA);
      const inAuxiliaries = add(scale(before, (6.3 / 10.5) ** 2), scale(z(0.005 * base, xA * base), kA));
      const found = at('E');
      expect(found.re).toBeCloseTo(inAuxiliaries.re, 9);
      expect(found.im).toBeCloseTo(inAuxiliaries.im, 9);
    },
  );
});

describe('the peak factor by method b (8.1.1)', () => {
  const { network, expected } = faultCase<{ network: ReferenceNetwork; expected: { kappa_radial: number } }>(
    'hand-radial-far-solid',
  );
  const kappa = (reference: ReferenceNetwork) => {
    const result = faultAt(
      iec60909Study(fromReference(reference), 'max', { peak: 'ratioAtPlace' }),
      elementId('C'),
      0,
      '3ph',
    );
    if (!result.ok) throw new Error(result.problems[0].message);
    return result.fault;
  };
  it('goes without 1.15 where one source feeds the fault along one path', () => {
    expect(kappa(network).kappa).toBeCloseTo(expected.kappa_radial, 5);
  });
  it('takes it as soon as a second source feeds it', () => {
    const second = { name: 'Q2', bus: 'C', Un_kV: 20, Ik_kA: 1, R_over_X: 0.5 };
    const fault = kappa({ ...network, feeders: [...network.feeders, second] });
    expect(fault.kappa).toBeCloseTo(1.15 * (1.02 + 0.98 * Math.exp(-3 * (fault.z1.re / fault.z1.im))), 9);
  });
});
