/** Damage curves, what they become in the line before a transformer, and the lines of the demo's elements. */
import { describe, expect, it } from 'vitest';
import { magnitude, type Complex } from '../linear/complex';
import { elementId } from '../model/fields';
import { find, ofKind } from '../model/network';
import { timeOn } from '../protection/pointCurve';
import { lineWithstand } from '../ratings/lineWithstand';
import { demoNetwork } from '../test/demo';
import { limitsOf } from './limits';
import {
  categoryOf,
  damageCurve,
  energyTime,
  iecWithstand,
  mechanicalLine,
  thermalK,
  thermalPoints,
  thermalTime,
} from './transformer';
import { lineOverWinding, throughWindings, type WindingKind } from './windings';

const demo = demoNetwork();

describe('damage curves of transformers', () => {
  it('fall with current, end at 2 s of the largest through-fault current where that is mechanical', () => {
    for (const category of ['I', 'II', 'III', 'IV'] as const)
      for (const zt of [0.045, 0.0575, 0.09, 0.125]) {
        const curve = damageCurve(category, zt);
        for (let k = 1; k < curve.length; k++) {
          expect(curve[k][0]).toBeGreaterThanOrEqual(curve[k - 1][0]);
          expect(curve[k][1]).toBeLessThanOrEqual(curve[k - 1][1]);
        }
        const [end, timeS] = curve[curve.length - 1];
        expect(end).toBeCloseTo(Math.min(1 / zt, category === 'I' ? 25 : Infinity), 9);
        if (category !== 'I') expect(timeS).toBe(2);
      }
  });
  it('of category II turn mechanical at 70 % of it, only where faults are frequent', () => {
    const { fromTimes, fromS, thermalS } = mechanicalLine(0.7, 0.0575);
    expect(fromTimes).toBeCloseTo(0.7 / 0.0575, 9);
    expect(fromS).toBeLessThan(thermalS);
    const frequent = damageCurve('II', 0.0575);
    expect(frequent.filter(([times]) => Math.abs(times - fromTimes) < 1e-9)).toHaveLength(2);
    const seldom = damageCurve('II', 0.0575, 0, false);
    expect(seldom[seldom.length - 1]).toEqual([1 / 0.0575, thermalTime(1 / 0.0575)]);
    expect(thermalTime(30)).toBeCloseTo(thermalK / 900, 12);
    // The network in front counts for the larger ones alone.
    expect(damageCurve('II', 0.0575, 0.05)).toEqual(frequent);
    expect(damageCurve('III', 0.09, 0.03).at(-1)![0]).toBeCloseTo(1 / 0.12, 9);
  });
  it('go by rated power; thermal times meet the points and fall in between', () => {
    expect([400, 500, 501, 5000, 5001, 30000, 30001].map(categoryOf)).toEqual([
      'I',
      'I',
      'II',
      'II',
      'III',
      'III',
      'IV',
    ]);
    for (const [times, timeS] of thermalPoints) expect(thermalTime(times)).toBeCloseTo(timeS, 9);
    for (let times = 2; times < 40; times += 0.5) expect(thermalTime(times + 0.5)).toBeLessThan(thermalTime(times));
  });
  it('by IEC last 2 s at the current of a short circuit at the terminals, and heat no more where less flows', () => {
    const curve = iecWithstand(16);
    expect(timeOn(curve, 16)).toBeCloseTo(2, 9);
    expect(timeOn(curve, 8)).toBeCloseTo(8, 9);
    expect(energyTime(16, 2, 8)).toBe(8);
  });
});

describe('currents through windings', () => {
  // Ampere-turns by hand, leg by leg: what a matrix of the vector group gives.
  const matrix = (hv: WindingKind, lv: readonly Complex[]): number[] => {
    const sub = (p: Complex, q: Complex) => ({ re: p.re - q.re, im: p.im - q.im });
    if (hv === 'D') return [0, 1, 2].map((k) => magnitude(sub(lv[k], lv[(k + 1) % 3])) / Math.sqrt(3));
    const mean = { re: (lv[0].re + lv[1].re + lv[2].re) / 3, im: (lv[0].im + lv[1].im + lv[2].im) / 3 };
    return lv.map((each) => magnitude(sub(each, mean)));
  };
  it('two phases behind Dyn show 2/√3 in one line, an earth fault 1/√3', () => {
    const two = [
      { re: 0, im: 0 },
      { re: 0.75 ** 0.5, im: 0 },
      { re: -(0.75 ** 0.5), im: 0 },
    ];
    const one = [
      { re: 1, im: 0 },
      { re: 0, im: 0 },
      { re: 0, im: 0 },
    ];
    expect(throughWindings('D', 'Y', '2ph').line).toBeCloseTo(Math.max(...matrix('D', two)), 9);
    expect(throughWindings('D', 'Y', '1ph').line).toBeCloseTo(Math.max(...matrix('D', one)), 9);
    expect(throughWindings('Y', 'Y', '1ph').line).toBeCloseTo(2 / 3, 9);
    expect(throughWindings('Y', 'Y', '2ph').line).toBeCloseTo(Math.max(...matrix('Y', two)), 9);
    expect(lineOverWinding('D', 'Y', '2ph')).toBeCloseTo(2 / Math.sqrt(3), 9);
    expect(lineOverWinding('D', 'Y', '1ph')).toBeCloseTo(1 / Math.sqrt(3), 9);
    expect(lineOverWinding('D', 'D', '2ph')).toBeCloseTo(Math.sqrt(3) / 2, 9);
    for (const hv of ['Y', 'D'] as const)
      for (const lv of ['Y', 'D'] as const) expect(throughWindings(hv, lv, '3ph')).toEqual({ line: 1, winding: 1 });
  });
});

describe('the lines of an element', () => {
  it('of a transformer: withstand by both standards, inrush and rated current, at its high-voltage side', () => {
    const transformer = find(demo, 'transformer', elementId('bra-t1'))!;
    const lines = limitsOf(demo, transformer, 33);
    expect(lines.map(({ line }) => line)).toEqual(
      transformer.vectorGroup.startsWith('D')
        ? ['withstand', 'category', 'withstandEarth', 'inrush', 'load', 'loadNow', 'loadGrown']
        : ['withstand', 'category', 'inrush', 'load', 'loadNow', 'loadGrown'],
    );
    const ratedA = (transformer.ratedMva * 1000) / (Math.sqrt(3) * transformer.hvKv);
    expect(timeOn(lines[0].points, (100 / transformer.ukPercent) * ratedA)).toBeCloseTo(2, 6);
    const inrush = lines.find(({ kind }) => kind === 'inrush')!;
    expect(inrush.points.map(([i]) => i / ratedA)).toEqual([8, 12, 25].map((times) => expect.closeTo(times, 9)));
    expect(lines.every(({ kv }) => kv === transformer.hvKv)).toBe(true);
    expect(lines[1]).toMatchObject({ mark: 'remembered' });
  });
  it('of a delta–star transformer: less in the line than in the winding where the fault is one to earth', () => {
    const pole = find(demo, 'transformer', elementId('pole-2'))!;
    expect(pole.vectorGroup).toBe('Dyn11');
    const lines = limitsOf(demo, pole, 11);
    const [whole, earth] = ['withstand', 'withstandEarth'].map((line) => lines.find((each) => each.line === line)!);
    earth.points.forEach(([currentA, timeS], k) => {
      expect(currentA).toBeCloseTo(whole.points[k][0] / Math.sqrt(3), 9);
      expect(timeS).toBe(whole.points[k][1]);
    });
    const isolated = { ...pole, lvNeutral: { ...pole.lvNeutral, earthing: 'isolated' as const } };
    expect(limitsOf(demo, isolated, 11).some((each) => each.line === 'withstandEarth')).toBe(false);
    expect(limitsOf(demo, { ...pole, vectorGroup: 'YNd1' }, 11)).toHaveLength(6);
  });
  it('of a cable: what its conductor bears over each time', () => {
    const cable = ofKind(demo, 'line').find(
      ({ sectionMm2, insulation }) => sectionMm2 !== null && insulation !== 'none',
    )!;
    const [conductor] = limitsOf(demo, cable, 33);
    const { allowedA } = lineWithstand(cable, 33)!;
    for (const [currentA, timeS] of conductor.points) expect(currentA).toBeCloseTo(allowedA(timeS) * cable.circuits, 6);
    for (let k = 1; k < conductor.points.length; k++)
      expect(conductor.points[k][1]).toBeLessThan(conductor.points[k - 1][1]);
    expect(limitsOf(demo, cable, null)).toEqual([]);
  });
  it('of a motor: the current of its start until it has run up, then its own', () => {
    const motors = ofKind(demo, 'asynchronousMotor').filter(({ inertiaKgM2 }) => inertiaKgM2 !== null);
    expect(motors.length).toBeGreaterThan(0);
    for (const motor of motors) {
      const [start] = limitsOf(demo, motor, motor.ratedKv);
      const currents = start.points.map(([i]) => i);
      expect(currents).toEqual([...currents].sort((p, q) => p - q));
      expect(currents.at(-1)! / currents[0]).toBeCloseTo(motor.startingRatio, 6);
    }
    const bare = { ...motors[0], inertiaKgM2: null };
    expect(limitsOf(demo, bare, 11)).toEqual([]);
  });
  it('of anything else: none', () => {
    // Beyond the models of arc energy.
    expect(limitsOf(demo, find(demo, 'bus', elementId('bra-33'))!, 33)).toEqual([]);
  });
});

describe('lines of machines and of load', () => {
  it('the decrement of a generator goes from I″ to I by its time constants', () => {
    const machine = {
      ...find(demo, 'synchronousMachine', elementId('bra-g1'))!,
      xd2Percent: 20,
      xd1Percent: 30,
      xdPercent: 200,
      td2S: 0.03,
      td1S: 1,
    };
    const [line] = limitsOf(demo, machine, 11);
    const ratedA = 6300 / (Math.sqrt(3) * 11);
    expect(line).toMatchObject({ line: 'decrement', kind: 'supply', mark: '' });
    // By hand, after a second: only the transient part and the steady one are left.
    const after = 1 / 2 + (1 / 0.3 - 1 / 2) * Math.exp(-1);
    const at = line.points.find(([, timeS]) => Math.abs(timeS - 1.0024) < 0.01)!;
    expect(at[0] / ratedA / (1 / 2 + (1 / 0.3 - 1 / 2) * Math.exp(-at[1]))).toBeCloseTo(1, 6);
    expect(after).toBeGreaterThan(1.5);
    expect(line.points[0][0] / ratedA).toBeCloseTo(0.5, 3);
    expect(line.points[line.points.length - 1][0] / ratedA).toBeGreaterThan(4);
    for (let k = 1; k < line.points.length; k++) {
      expect(line.points[k][0]).toBeGreaterThanOrEqual(line.points[k - 1][0]);
      expect(line.points[k][1]).toBeLessThan(line.points[k - 1][1]);
    }
    expect(limitsOf(demo, { ...machine, td1S: null }, 11)[0].mark).toBe('typical');
  });
  it('a conductor that is reclosed onto the fault bears half as long', () => {
    const line = find(demo, 'line', elementId('fer-pen'))!;
    const of = (name: string) => limitsOf(demo, line, 33).find((each) => each.line === name)!;
    of('reclosed').points.forEach(([currentA, timeS], k) =>
      expect([currentA, 2 * timeS]).toEqual([...of('conductor').points[k]]),
    );
  });
});
