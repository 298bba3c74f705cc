/** Currents over time: closed forms, the fault they belong to, records. */
import { describe, expect, it } from 'vitest';
import { elementId } from '../../model/fields';
import { demoNetwork } from '../../test/demo';
import { Builder } from '../../test/network';
import { comtrade } from '../../formats/comtrade/write';
import { peakFactor } from '../iec60909/peak';
import { faultKinds, type FaultKind } from '../kinds';
import { exactPeak } from '../c37/factors';
import { faultAt, iec60909Study, type Fault } from '../iec60909/study';
import { currentAt, dcAt, dcHeat, peakOf, rmsAround, timeConstant, worstClosing, type Circuit } from './circuit';
import { courseOf } from './course';
import { highest } from './extreme';
import { acAt, asymmetryAt, currentAt as machineCurrent, type GeneratorData } from './machine';

const circuit: Circuit = { symmetrical: 10, rOverX: 0.07, frequencyHz: 50, closingAngle: 0 };
const fault = (network: ReturnType<typeof demoNetwork>, bus: string, kind: FaultKind): Fault => {
  const found = faultAt(iec60909Study(network, 'max'), elementId(bus), 0, kind);
  if (!found.ok) throw new Error(found.problems[0].message);
  return found.fault;
};
const options = { closingDeg: 0, untilS: 0.3, partingS: 0.07, clearingS: 0.15 };

/** ∫ by the midpoint rule. */
const mean = (of: (t: number) => number, from: number, to: number, steps = 20000) => {
  let sum = 0;
  for (let k = 0; k < steps; k++) sum += of(from + ((k + 0.5) / steps) * (to - from));
  return sum / steps;
};

describe('a circuit of resistance and reactance', () => {
  it('begins with nought, and obeys L·di/dt + R·i = u at every instant', () => {
    for (const closingAngle of [0, 0.7, -1.2]) {
      const own = { ...circuit, closingAngle };
      expect(currentAt(own, 0)).toBeCloseTo(0, 12);
      const omega = 100 * Math.PI;
      // Z = 1: X = cos, R = sin of the same small angle; u = √2·10·sin(ωt + α).
      const x = 1 / Math.hypot(1, own.rOverX);
      for (const t of [0.001, 0.0123, 0.05]) {
        const slope = (currentAt(own, t + 1e-7) - currentAt(own, t - 1e-7)) / 2e-7;
        const u = Math.SQRT2 * 10 * Math.sin(omega * t + closingAngle);
        expect((x / omega) * slope + own.rOverX * x * currentAt(own, t)).toBeCloseTo(u, 4);
      }
    }
  });
  it('peak, rms and heat are those of the curve, by search and by integration', () => {
    const peak = peakOf(circuit);
    expect(peak.value / 10).toBeCloseTo(exactPeak(1 / 0.07), 9);
    expect(Math.abs(peak.value / 10 / (Math.SQRT2 * peakFactor(0.07)) - 1)).toBeLessThan(0.01);
    const around = mean((t) => currentAt(circuit, t) ** 2, 0.04, 0.06);
    expect(rmsAround(circuit, 0.05)).toBeCloseTo(Math.sqrt(around), 6);
    expect(dcHeat(circuit, 0.1)).toBeCloseTo(
      mean((t) => (dcAt(circuit, t) / 10) ** 2, 0, 0.1),
      6,
    );
    expect(dcAt(circuit, timeConstant(circuit)) / dcAt(circuit, 0)).toBeCloseTo(Math.exp(-1), 12);
  });
  it('the zero of the voltage is the worst instant, whatever R/X', () => {
    for (const rOverX of [0.02, 0.2, 0.6, 1.4]) {
      const { angle, peak } = worstClosing({ ...circuit, rOverX });
      expect(Math.abs(angle)).toBeLessThan(1e-6);
      expect(Math.abs(peak.value)).toBeCloseTo(Math.abs(peakOf({ ...circuit, rOverX }).value), 9);
    }
  });
  it('without resistance the d.c. component stays', () => {
    const lossless = { ...circuit, rOverX: 0 };
    expect(dcAt(lossless, 5)).toBeCloseTo(dcAt(lossless, 0), 12);
    expect(dcHeat(lossless, 1)).toBeCloseTo(2, 12);
    expect(rmsAround(lossless, 0.1)).toBeCloseTo(10 * Math.sqrt(3), 9);
  });
});

describe('a generator at its terminals', () => {
  const data: GeneratorData = { xd: 2, xd1: 0.3, xd2: 0.2, xq2: 0.25, td2S: 0.03, td1S: 1, taS: 0.2 };
  it('passes from 1/x″d over 1/x′d to 1/xd', () => {
    expect(acAt(data, 0)).toBeCloseTo(5, 12);
    expect(acAt({ ...data, td1S: 1e9 }, 1)).toBeCloseTo(1 / 0.3, 6);
    expect(acAt(data, 20)).toBeCloseTo(0.5, 6);
    expect(machineCurrent(data, 50, 0)).toBeCloseTo(0, 12);
  });
  it('has no zero of the current while the d.c. component is above the peak of the a.c. one', () => {
    const slow = { ...data, td2S: 0.02, td1S: 0.1, taS: 0.5 };
    expect(asymmetryAt(slow, 0.1)).toBeGreaterThan(1);
    const least = Math.min(
      ...Array.from({ length: 200 }, (_, k) => machineCurrent({ ...slow, xq2: slow.xd2 }, 50, 0.1 + k * 1e-4)),
    );
    expect(least).toBeGreaterThan(0);
  });
});

describe('the largest of a function', () => {
  it('of either sign, also at an end', () => {
    expect(highest((t) => -((t - 0.3) ** 2) + 2, 1)).toMatchObject({
      t: expect.closeTo(0.3, 6),
      value: expect.closeTo(2, 9),
    });
    expect(highest((t) => -3 * t, 1).value).toBeCloseTo(-3, 6);
  });
});

describe('the currents of a fault', () => {
  it.each(faultKinds)('%s: phases add up to the residual current, each begins with nought', (kind) => {
    const own = fault(demoNetwork(), 'fer-132', kind);
    const { phases } = courseOf(own, options);
    for (const { current, dc, upper, lower } of phases) {
      expect(current[0]).toBeCloseTo(0, 9);
      current.forEach((value, k) => {
        expect(value).toBeLessThanOrEqual(upper[k] + 1e-9);
        expect(value).toBeGreaterThanOrEqual(lower[k] - 1e-9);
      });
      expect(Math.abs(dc.at(-1)!)).toBeLessThanOrEqual(Math.abs(dc[0]) + 1e-12);
    }
    if (kind === '2ph') phases[1].current.forEach((value, k) => expect(value + phases[2].current[k]).toBeCloseTo(0, 9));
    const rms = Math.max(...phases.map(({ upper, dc }) => (upper[0] - dc[0]) / Math.SQRT2));
    expect(rms).toBeCloseTo(own.ikA / 1000, 6);
  });
  it('of a network alone: peak of the circuit, d.c. component by R/X, nothing falls', () => {
    const b = new Builder();
    b.add('bus', 'B', { nominalKv: 20 });
    const level = { given: 'current' as const, ikKa: 12, skMva: null, rOverX: 0.08, x0OverX1: 1, r0OverX0: 0.1 };
    b.add('networkFeeder', 'N', { max: level, min: level });
    b.join('N', 'B');
    const course = courseOf(fault(b.network(), 'B', '3ph'), options);
    expect(course.tauS).toBeCloseTo(1 / (100 * Math.PI * 0.08), 9);
    expect(course.phases[0].peak.value).toBeCloseTo(12 * exactPeak(1 / 0.08), 6);
    expect(course.phases[0].parting.acKa).toBeCloseTo(12, 9);
    expect(course.sources).toEqual([{ name: 'N', by: 'does not fall' }]);
    const { dcKa, totalKa, dcPercent } = course.phases[0].parting;
    expect(totalKa).toBeCloseTo(Math.hypot(12, dcKa), 9);
    expect(dcPercent).toBeCloseTo((100 * dcKa) / (Math.SQRT2 * 12), 9);
  });
  it('machines fall: by their time constants where these are given, else by µ, q and λ', () => {
    const course = courseOf(fault(demoNetwork(), 'bra-11-a', '3ph'), { ...options, untilS: 2 });
    const by = Object.fromEntries(course.sources.map(({ name, by: how }) => [name, how]));
    expect(by['BRA G1']).toBe('time constants');
    expect(by['BRA P1']).toBe('µ, q and λ');
    expect(by.Mainland).toBe('does not fall');
    const [{ upper, dc }] = course.phases;
    const amplitude = upper.map((value, k) => value - dc[k]);
    expect(amplitude[1500]).toBeLessThan(0.95 * amplitude[0]);
    amplitude.forEach((value, k) => k > 0 && expect(value).toBeLessThanOrEqual(amplitude[k - 1] + 1e-9));
  });
  it('a generator at its terminals falls as its own formula says', () => {
    const b = new Builder();
    b.add('bus', 'B', { nominalKv: 11 });
    b.add('synchronousMachine', 'G', {
      ratedMva: 10,
      ratedKv: 11,
      xd2Percent: 20,
      xd1Percent: 30,
      xdPercent: 200,
      td2S: 0.03,
      td1S: 0.8,
      taS: 0.2,
      rOhm: 0.001,
    });
    b.join('G', 'B');
    const own = fault(b.network(), 'B', '3ph');
    const course = courseOf(own, { ...options, untilS: 1, partingS: 0.2 });
    const data = { xd: 2, xd1: 0.3, xd2: 0.2, xq2: 0.2, td2S: 0.03, td1S: 0.8, taS: 0.2 };
    // The voltage factor makes the ratio a little larger than 1/x″d: nothing lies between, and the formula is that of the terminals.
    expect(course.phases[0].parting.acKa / (own.ikA / 1000)).toBeCloseTo(acAt(data, 0.2) / acAt(data, 0), 3);
  });
});

describe('a record', () => {
  const values = Array.from({ length: 200 }, (_, k) => 1000 * Math.sin(k / 10));
  const { cfg, dat } = comtrade({
    station: 'Sorrel, Island',
    device: 'BRA 11 A',
    frequencyHz: 50,
    rateHz: 4000,
    triggerSample: 40,
    channels: [
      { name: 'I L1', phase: 'A', unit: 'A', values },
      { name: 'I L2', phase: 'B', unit: 'A', values: values.map(() => 0) },
    ],
  });
  it('reads back to what was written', () => {
    const lines = cfg.split('\r\n');
    expect(lines[0]).toBe('Sorrel; Island,BRA 11 A,1999');
    expect(lines[1]).toBe('2,2A,0D');
    expect(lines.slice(4, 8)).toEqual(['50', '1', '4000,200', '01/01/2000,00:00:00.000000']);
    expect(lines[8]).toBe('01/01/2000,00:00:00.010000');
    expect(lines[9]).toBe('ASCII');
    const a = Number(lines[2].split(',')[5]);
    const rows = dat
      .trim()
      .split('\r\n')
      .map((line) => line.split(',').map(Number));
    expect(rows).toHaveLength(200);
    rows.forEach(([n, micro, first, second], k) => {
      expect(n).toBe(k + 1);
      expect(micro).toBe(250 * k);
      expect(first * a).toBeCloseTo(values[k], 1);
      expect(Math.abs(first)).toBeLessThanOrEqual(99998);
      expect(second).toBe(0);
    });
  });
});
