/** Motors that start: closed forms, torque and time by hand. */
import { describe, expect, it } from 'vitest';
import { magnitude } from '../linear/complex';
import { elementId } from '../model/fields';
import { Builder } from '../test/network';
import { impedanceAt, leastTorquesOf, loadTorqueAt, runUp, startingMotor, torqueAt } from './motor';
import { startMotor } from './start';

const level = { given: 'power' as const, ikKa: null, skMva: 100, rOverX: 0, x0OverX1: 1, r0OverX0: 0 };

function plant(over: object = {}, machine?: object) {
  const b = new Builder();
  b.add('bus', 'B', { nominalKv: 11 });
  b.add('networkFeeder', 'N', { max: level, min: level });
  b.join('N', 'B');
  b.add('asynchronousMotor', 'M', {
    ratedMw: 2,
    ratedKv: 11,
    efficiencyPercent: 95,
    powerFactor: 0.88,
    startingRatio: 5,
    startPowerFactor: 0.0001,
    ...over,
  });
  b.join('M', 'B');
  if (machine) {
    b.add('synchronousMachine', 'G', { ratedMva: 10, ratedKv: 11, ...machine });
    b.join('G', 'B');
  }
  return b.network();
}
const started = (network: ReturnType<typeof plant>, reduction = 1) => {
  const result = startMotor(network, elementId('M'), { voltageFactor: () => 1, reduction });
  if (!result.ok) throw new Error(result.problems[0].message);
  return result.start;
};

describe('a motor that starts', () => {
  it('divides the voltage with the network, reactances only: u = Xm/(Xm + Xq)', () => {
    const { terminalPercent, startingA, motor, torqueFactor } = started(plant());
    const xq = 121 / 100;
    const ratedA = 2000 / (Math.sqrt(3) * 11 * 0.95 * 0.88);
    expect(motor.ratedA).toBeCloseTo(ratedA, 9);
    const xm = 11000 / Math.sqrt(3) / (5 * ratedA);
    const u = xm / (xm + xq);
    expect(terminalPercent).toBeCloseTo(100 * u, 5);
    expect(startingA).toBeCloseTo(u * 5 * ratedA, 3);
    expect(torqueFactor).toBeCloseTo(u ** 2, 7);
  });

  it('star–delta draws a third, and has a third of the torque', () => {
    const direct = started(plant());
    const third = started(plant(), 1 / 3);
    expect(third.terminalPercent).toBeGreaterThan(direct.terminalPercent);
    expect(third.torqueFactor).toBeCloseTo((third.terminalPercent / 100) ** 2 / 3, 9);
    expect(third.startingA).toBeCloseTo(((third.terminalPercent / 100) * 5 * third.motor.ratedA) / 3, 6);
  });

  it('a generator stands behind x′d, not behind x″d; without it behind x″d', () => {
    const dip = (machine: object) => 100 - started(plant({}, machine)).terminalPercent;
    const [without, transient, subtransient] = [
      100 - started(plant()).terminalPercent,
      dip({ xd2Percent: 15, xd1Percent: 30 }),
      dip({ xd2Percent: 15, xd1Percent: null }),
    ];
    expect(transient).toBeLessThan(without);
    expect(subtransient).toBeLessThan(transient);
    // x′d = 0.3 · 121/10 beside the network.
    const xq = 1 / (100 / 121 + 10 / (0.3 * 121));
    const xm = 11000 / Math.sqrt(3) / (5 * started(plant()).motor.ratedA);
    expect(transient).toBeCloseTo(100 - (100 * xm) / (xm + xq), 1);
  });

  it('of a group one starts while the others run', () => {
    const { before, motor } = started(plant({ count: 3 }));
    const drawn = before.demands.find(({ element }) => element === 'M')!;
    expect(drawn.mva.re).toBeCloseTo((2 / 0.95) * 2, 9);
    expect(motor.startingA).toBeCloseTo(5 * motor.ratedA, 9);
  });

  it('that the network cannot carry, that is not there, or without supply, is told', () => {
    const b = new Builder();
    b.add('bus', 'B', { nominalKv: 11 });
    b.add('asynchronousMotor', 'M');
    b.join('M', 'B');
    const dead = startMotor(b.network(), elementId('M'), { voltageFactor: () => 1 });
    expect(dead).toMatchObject({ ok: false, problems: [{ code: 'supply.none' }] });
    expect(startMotor(plant(), elementId('nobody'), { voltageFactor: () => 1 })).toMatchObject({
      ok: false,
      problems: [{ code: 'start.motor' }],
    });
    const weak = new Builder();
    weak.add('bus', 'B', { nominalKv: 11 });
    weak.add('bus', 'C', { nominalKv: 11 });
    weak.add('networkFeeder', 'N');
    weak.add('line', 'L', { lengthKm: 20, r1OhmPerKm: 0.1, x1OhmPerKm: 0.35 });
    weak.add('load', 'D', { ratedMva: 4, powerFactor: 0.95 });
    weak.add('asynchronousMotor', 'M', { ratedMw: 4, ratedKv: 11, startingRatio: 6 });
    weak.join('N', 'B', 'L:0', 'B', 'L:1', 'C', 'D', 'C', 'M', 'C');
    expect(startMotor(weak.network(), elementId('M'), { voltageFactor: () => 1 })).toMatchObject({
      ok: false,
      problems: [{ code: 'start.collapse', element: 'M' }],
    });
  });

  it('runs up in the time that its torque gives: no load, constant voltage, Kloss by hand', () => {
    const torque = { breakdownNm: 4000, breakdownSlip: 0.2 };
    const given = {
      torque,
      load: { follows: 'constant' as const, nm: 0 },
      inertiaKgM2: 30,
      synchronousRpm: 1500,
      endSlip: 0.05,
      factor: () => 1,
    };
    const { runsUp, timeS, course } = runUp(given);
    // t = J·ωs/(2·Tb)·∫(s/sb + sb/s)ds = J·ωs/(2·Tb)·((1 − e²)/(2·sb) + sb·ln(1/e))
    const omega = 50 * Math.PI;
    const byHand = ((30 * omega) / 8000) * ((1 - 0.05 ** 2) / 0.4 + 0.2 * Math.log(20));
    expect(runsUp).toBe(true);
    expect(timeS).toBeCloseTo(byHand, 9);
    expect(course.at(-1)).toMatchObject({ slip: expect.closeTo(0.05, 12), timeS });
    // Twice the inertia takes twice the time; at 80 % voltage it takes 1/0.64 of it.
    expect(runUp({ ...given, inertiaKgM2: 60 }).timeS).toBeCloseTo(2 * byHand, 9);
    expect(runUp({ ...given, factor: () => 0.64 }).timeS).toBeCloseTo(byHand / 0.64, 9);
  });

  it('lower voltage while it starts makes it slower, by the voltage that it finds at each speed', () => {
    const data = { inertiaKgM2: 100, startTorque: 0.8, pullOutTorque: 2.2, startPowerFactor: 0.2 };
    const weak = started(plant(data)).runUp!;
    const stiff = startMotor(
      (() => {
        const b = new Builder();
        b.add('bus', 'B', { nominalKv: 11 });
        b.add('networkFeeder', 'N', { max: { ...level, skMva: 1e9 }, min: level });
        b.add('asynchronousMotor', 'M', {
          ratedMw: 2,
          ratedKv: 11,
          efficiencyPercent: 95,
          powerFactor: 0.88,
          startingRatio: 5,
          ...data,
        });
        b.join('N', 'B', 'M', 'B');
        return b.network();
      })(),
      elementId('M'),
      { voltageFactor: () => 1 },
    );
    if (!stiff.ok) throw new Error();
    expect(weak.timeS!).toBeGreaterThan(stiff.start.runUp!.timeS! * 1.1);
  });
});

describe('data of a motor', () => {
  const network = plant({ startTorque: 0.7, pullOutTorque: 2.1, inertiaKgM2: 90 });
  const motor = startingMotor(network.elements.get(elementId('M')) as never, 50);
  it('torque passes through locked rotor, breakdown and rated torque', () => {
    expect(torqueAt(motor.torque, 1)).toBeCloseTo(0.7 * motor.ratedNm, 6);
    expect(torqueAt(motor.torque, motor.torque.breakdownSlip)).toBeCloseTo(2.1 * motor.ratedNm, 6);
    expect(torqueAt(motor.torque, motor.ratedSlip)).toBeCloseTo(motor.ratedNm, 6);
    // P = T·ω
    expect((motor.ratedNm * 2 * Math.PI * 1500 * (1 - motor.ratedSlip)) / 60).toBeCloseTo(2e6, 3);
  });
  it('the load asks for its torque at rated speed, and for none of a fan at rest', () => {
    expect(loadTorqueAt(motor.load, motor.ratedSlip)).toBeCloseTo(motor.ratedNm, 6);
    expect(loadTorqueAt(motor.load, 1)).toBe(0);
    expect(loadTorqueAt({ follows: 'linear', nm: 100 }, 0.25)).toBe(75);
    expect(loadTorqueAt({ follows: 'constant', nm: 100 }, 0.9)).toBe(100);
  });
  it('the impedance at standstill is that of the starting current, and grows with speed', () => {
    expect(magnitude(impedanceAt(motor, 1))).toBeCloseTo(1, 12);
    expect(magnitude(impedanceAt({ ...motor, powerFactor: 0.3 }, 0.02))).toBeGreaterThan(3);
  });
  it('typical values stand in where nothing is given, and are named', () => {
    const bare = startingMotor(plant().elements.get(elementId('M')) as never, 50);
    expect(bare.assumed).toEqual(['startTorque', 'pullOutTorque']);
    expect(leastTorquesOf(2000, 2)).toEqual({ lockedRotor: 0.5, breakdown: 1.6 });
    expect(leastTorquesOf(11, 1)).toEqual({ lockedRotor: 1.4, breakdown: 2 });
    expect(leastTorquesOf(11, 9)).toEqual({ lockedRotor: 1.2, breakdown: 1.7 });
  });
});
