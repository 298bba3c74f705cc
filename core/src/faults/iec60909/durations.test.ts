/** Breaking, steady and thermal currents. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { elementId } from '../../model/fields';
import { Builder } from '../../test/network';
import { faultCase } from '../../test/reference';
import { solidFault } from '../kinds';
import { breakingCurrent, dcComponent, mu, q } from './breaking';
import { peakFactor } from './peak';
import { lambda, steadyCurrent } from './steady';
import { faultAt, faultAtPlace, iec60909Study, terminalPlace } from './study';
import { heatOfAc, heatOfDc, thermalCurrent } from './thermal';

const at = (b: Builder, bus: string, kind: '3ph' | '1ph' = '3ph') => {
  const result = faultAt(iec60909Study(b.network(), 'max'), elementId(bus), 0, kind);
  if (!result.ok) throw new Error(result.problems[0].message);
  return result.fault;
};

describe('thermal equivalent', () => {
  it('m and Ith, published', () => {
    const { expected, f_Hz } = faultCase<{
      f_Hz: number;
      expected: { kappa: number; Tk_s: number; Ik3_kA: number; m: number; Ith_kA: number; I2t_kA2s: number }[];
    }>('hand-adiabatic-i2t');
    for (const { kappa, Tk_s, Ik3_kA, m, Ith_kA, I2t_kA2s } of expected) {
      const thermal = thermalCurrent(Ik3_kA * 1000, kappa, 1, f_Hz, Tk_s);
      expect(thermal.m).toBeCloseTo(m, 6);
      expect(thermal.n).toBe(1);
      expect(thermal.ithA / 1000).toBeCloseTo(Ith_kA, 5);
      expect(thermal.jouleIntegral / 1e6).toBeCloseTo(I2t_kA2s, 4);
    }
  });

  it('m and n are the means of the currents they stand for, by numerical integration', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1.3, max: 9, noNaN: true }),
        fc.double({ min: 0.02, max: 4, noNaN: true }),
        (ratio, tk) => {
          const transient = ratio / (0.88 + 0.17 * ratio);
          const td = 3.1 / transient;
          const current = (t: number) =>
            1 + (transient - 1) * Math.exp(-t / td) + (ratio - transient) * Math.exp((-10 * t) / td);
          expect(heatOfAc(ratio, tk)).toBeCloseTo(
            mean((t) => (current(t) / ratio) ** 2, tk),
            6,
          );
        },
      ),
      { numRuns: 40 },
    );
    for (const rOverX of [0.05, 0.2, 0.6]) {
      const kappa = peakFactor(rOverX);
      // The d.c. component that has fallen to κ − 1 after half a period of 50 Hz.
      const direct = (t: number) => 2 * Math.exp(2 * Math.log(kappa - 1) * 100 * t);
      expect(heatOfDc(kappa, 50, 0.3)).toBeCloseTo(mean(direct, 0.3), 6);
    }
  });

  it('a current without resistance keeps its d.c. component', () => {
    expect(heatOfDc(2, 50, 1)).toBe(2);
    expect(heatOfDc(1.9999999, 50, 1)).toBeCloseTo(2, 4);
  });

  /** Simpson's rule. */
  function mean(f: (t: number) => number, tk: number): number {
    const n = 4000;
    let sum = f(0) + f(tk);
    for (let k = 1; k < n; k++) sum += f((tk * k) / n) * (k % 2 ? 4 : 2);
    return sum / 3 / n;
  }
});

describe('breaking current', () => {
  it('µ and q: ends and monotony', () => {
    expect(mu(1.9, 0.1)).toBe(1);
    expect(mu(5, 0.02)).toBeCloseTo(0.84 + 0.26 * Math.exp(-1.3), 12);
    expect(mu(5, 0.075)).toBeCloseTo((mu(5, 0.05) + mu(5, 0.1)) / 2, 12);
    expect(mu(5, 3)).toBe(mu(5, 0.25));
    expect(q(1, 0.1)).toBeCloseTo(0.57, 12);
    expect(q(100, 0.02)).toBe(1);
    for (const t of [0.02, 0.05, 0.1, 0.25])
      for (const ratio of [2, 3, 5, 8]) expect(mu(ratio + 1, t)).toBeLessThanOrEqual(mu(ratio, t));
  });

  const board = () => {
    const b = new Builder();
    const level = { given: 'current' as const, ikKa: 10, skMva: null, rOverX: 0.1, x0OverX1: 1, r0OverX0: 0.1 };
    b.add('bus', 'A', { nominalKv: 11 });
    b.add('networkFeeder', 'N', { max: level, min: level });
    b.join('N', 'A');
    return b;
  };

  it('far from generators nothing decays; a machine at the bus loses µ, a motor µ·q', () => {
    expect(breakingCurrent(at(board(), 'A'), 0.1).ibA).toBeCloseTo(10000, 6);
    const b = board();
    b.add('asynchronousMotor', 'M', { ratedMw: 2, startingRatio: 6 });
    b.join('M', 'A');
    const fault = at(b, 'A');
    const breaking = breakingCurrent(fault, 0.1);
    const [decay] = breaking.decays;
    expect(decay.ratio).toBeGreaterThan(6);
    expect(decay.mu * decay.q).toBeLessThan(0.5);
    // The motor's current lies within some degrees of the whole one.
    const motor = decay.ratio * decay.share.ratedA!;
    expect(breaking.ibA).toBeGreaterThan(fault.ikA - (1 - decay.mu * decay.q) * motor - 1);
    expect(breaking.ibA).toBeLessThan(fault.ikA - 0.95 * (1 - decay.mu * decay.q) * motor);
    expect(breaking.asymmetricalA).toBeCloseTo(Math.hypot(breaking.ibA, breaking.idcA), 9);
    expect(breakingCurrent(at(b, 'A', '1ph'), 0.1).ibA).toBe(at(b, 'A', '1ph').ikA);
  });

  it('the d.c. component starts near √2·Ik″ and falls by the R/X of a feeder', () => {
    const fault = at(board(), 'A');
    for (const t of [0.005, 0.05, 0.2])
      expect(dcComponent(fault, t)).toBeCloseTo(Math.SQRT2 * 10000 * Math.exp(-2 * Math.PI * 50 * t * 0.1), 3);
    const condition = { ...solidFault('3ph'), phaseOhm: { re: 0.5, im: 0 } };
    const damped = faultAtPlace(fault.study, terminalPlace(elementId('A')), condition);
    if (!damped.ok) throw new Error('no result');
    expect(dcComponent(damped.fault, 0.05)).toBeLessThan(0.01 * damped.fault.ikA);
  });

  it('drives that feed back leave with their converters, others give nothing', () => {
    const b = board();
    b.add('staticDrive', 'D', { ratedMva: 3, feedsBack: true });
    b.add('staticDrive', 'E', { ratedMva: 3 });
    b.join('D', 'A', 'E', 'A');
    const fault = at(b, 'A');
    expect(fault.ikA).toBeGreaterThan(10000 + 2.9 * (3000 / Math.sqrt(3) / 11));
    expect(breakingCurrent(fault, 0.1).ibA).toBeLessThan(10010);
  });

  it('the smaller the share of machines, the nearer Ik comes to Ik″; on single paths λ counts', () => {
    const b = board();
    b.add('synchronousMachine', 'G', { ratedMva: 6, xdPercent: 190 });
    b.join('G', 'A');
    const steady = steadyCurrent(at(b, 'A'));
    expect(steady.rule).toBe('single paths');
    const [{ share, lambda: own }] = steady.lambdas;
    expect(steady.maxA).toBeLessThan(10000 + own.max * share.ratedA! + 1);
    expect(steady.maxA).toBeGreaterThan(10000 + 0.9 * own.max * share.ratedA!);
    expect(own.min).toBeLessThan(own.max);
    // Behind a common line the two no longer have paths of their own.
    b.add('bus', 'B', { nominalKv: 11 });
    b.add('line', 'L', { lengthKm: 2 });
    b.join('L:0', 'A', 'L:1', 'B');
    expect(steadyCurrent(at(b, 'B')).rule).toBe('meshed');
  });

  it('λ: never above Ik″/Ir, none with terminal-fed excitation, more with a higher ceiling', () => {
    const data = { xd2Percent: 17.5, xdPercent: 190, powerFactor: 0.8, rotor: 'turbo', excitation: 'series1' } as const;
    for (const ratio of [0.3, 1, 2, 4, 6]) {
      const own = lambda(data, ratio);
      expect(own.max).toBeLessThanOrEqual(ratio);
      expect(own.min).toBeLessThanOrEqual(own.max);
      expect(lambda({ ...data, excitation: 'series2' }, ratio).max).toBeGreaterThanOrEqual(own.max);
    }
    expect(lambda({ ...data, excitation: 'terminalFed' }, 5)).toEqual({ max: 0, min: 0 });
  });
});
