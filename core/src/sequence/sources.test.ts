/** Converters, drives, units and reactors against values worked out by hand. */
import { describe, expect, it } from 'vitest';
import { newElement } from '../model/defaults';
import { elementId, neutralOf } from '../model/fields';
import { expectFollowed } from '../test/followed';
import { Trace } from '../working/trace';
import { voltageFactor } from '../faults/iec60909/voltageFactor';
import { motorMultiplier } from './c37';
import { sequenceModel } from './models';
import type { Basis, SequenceContext, Series, Shunt } from './stamp';

const factor = voltageFactor(10);
const id = elementId('x');
function context(nominalKv: number, over: Partial<SequenceContext> = {}): SequenceContext {
  const faultCase = over.faultCase ?? 'max';
  return {
    faultCase,
    basis: 'iec60909',
    frequencyHz: 50,
    element: () => undefined,
    nominalKv: () => nominalKv,
    cFactor: (kv, wanted = faultCase) => factor(kv, wanted),
    minimumFactors: 'one',
    trace: new Trace(),
    ...over,
  };
}

describe('converters and drives', () => {
  it('full converter: k · Sr/(√3 · Ur), reactive; none in the minimum case', () => {
    const source = newElement('converterSource', id, 'P', { ratedMva: 24, ratedKv: 33, faultRatio: 1.15 });
    const at = context(33);
    const { injection, positive, zero } = sequenceModel(source, at)!;
    // 1.15 · 24000 kVA/(√3 · 33 kV) = 482.87 A
    expect(injection!.current).toMatchObject({ re: 0, im: expect.closeTo(-482.871, 2) as number });
    expect([positive, zero]).toEqual([[], []]);
    expectFollowed(at.trace.sections, 'a converter');
    expect(sequenceModel(source, context(33, { faultCase: 'min' }))!.injection).toBeUndefined();
  });
  it('doubly-fed machine: √2 · κ · U/(√3 · i)', () => {
    const machine = newElement('doublyFedMachine', id, 'W', { ratedKv: 33, peakKa: 0.4, kappa: 1.7, rOverX: 0.1 });
    const [z] = sequenceModel(machine, context(33))!.positive as [Shunt];
    expect(Math.hypot(z.rOhm, z.xOhm)).toBeCloseTo((Math.SQRT2 * 1.7 * 33) / (Math.sqrt(3) * 0.4), 9);
    expect(z.rOhm / z.xOhm).toBeCloseTo(0.1, 12);
    expect(z.supplies).toBe(false);
  });
  it('static drive: like a motor with three times rated current, only when it feeds back, only in IEC 60909', () => {
    const drive = newElement('staticDrive', id, 'D', { ratedMva: 2, ratedKv: 11, feedsBack: true });
    const [z] = sequenceModel(drive, context(11))!.positive as [Shunt];
    expect(Math.hypot(z.rOhm, z.xOhm)).toBeCloseTo(121 / 2 / 3, 9);
    expect(z.xOhm / Math.hypot(z.rOhm, z.xOhm)).toBeCloseTo(0.995, 3);
    expect(sequenceModel({ ...drive, feedsBack: false }, context(11))!.positive).toEqual([]);
    expect(sequenceModel(drive, context(11, { basis: 'firstCycle' }))!.positive).toEqual([]);
  });
});

describe('power-station units', () => {
  const unit = newElement('powerStationUnit', id, 'U', {
    hvNeutral: neutralOf('reactor', 0, 22),
  });
  const loaded = (onLoadTapChanger: boolean) => ({
    ...unit,
    generator: {
      ...unit.generator,
      ratedMva: 150,
      ratedKv: 21,
      powerFactor: 0.85,
      xd2Percent: 14,
      rOhm: 0.002,
      regulationPercent: 5,
    },
    transformer: {
      ...unit.transformer,
      ratedMva: 150,
      hvKv: 115,
      lvKv: 21,
      ukPercent: 16,
      uRPercent: 0.5,
      onLoadTapChanger,
      pTPercent: 12,
      x0OverX1: 0.95,
      r0OverR1: 1,
    },
  });
  const sin = Math.sqrt(1 - 0.85 ** 2);
  const xT = Math.sqrt(0.16 ** 2 - 0.005 ** 2);
  const xG = 0.14 * (21 ** 2 / 150);
  it('KS with on-load tap changer, KSO without', () => {
    for (const [onLoad, k] of [
      [true, ((110 * 21) ** 2 / (21 * 115) ** 2) * (1.1 / (1 + Math.abs(0.14 - xT) * sin))],
      [false, (110 / (21 * 1.05)) * (21 / 115) * 0.88 * (1.1 / (1 + 0.14 * sin))],
    ] as const) {
      const at = context(110);
      const { positive, zero } = sequenceModel(loaded(onLoad), at)!;
      const [branch, machine] = positive as [Series, Shunt];
      expect(machine.xOhm / xG).toBeCloseTo(k, 9);
      expect(branch.xOhm / (xT * (21 ** 2 / 150))).toBeCloseTo(k, 9);
      // The neutral reactor is not corrected.
      const [earth] = zero as [Shunt];
      expect(earth.xOhm).toBeCloseTo(k * 0.95 * xT * (115 ** 2 / 150) + 66, 6);
      expect(earth.terminal).toBe(0);
      expectFollowed(at.trace.sections, 'a unit');
    }
  });
  it('a fault at the generator: KG,S or KG,SO, transformer as it is', () => {
    for (const [onLoad, k] of [
      [true, 1.1 / (1 + 0.14 * sin)],
      [false, 1.1 / 1.05 / (1 + 0.14 * sin)],
    ] as const) {
      const [branch, machine] = sequenceModel(
        loaded(onLoad),
        context(110, { faultInside: { unit: id, auxiliaries: false } }),
      )!.positive as [Series, Shunt];
      expect(machine.xOhm / xG).toBeCloseTo(k, 9);
      expect(branch.xOhm).toBeCloseTo(xT * (21 ** 2 / 150), 9);
    }
  });
  it('a fault in the auxiliaries: the unit transformer takes KT,S or KT,SO (6.7.3)', () => {
    for (const [onLoad, kT, kG] of [
      [true, 1.1 / (1 - xT * sin), 1.1 / (1 + 0.14 * sin)],
      [false, 1.1 / 1.05 / (1 - xT * sin), 1.1 / 1.05 / (1 + 0.14 * sin)],
    ] as const) {
      const at = context(110, { faultInside: { unit: id, auxiliaries: true } });
      const [branch, machine] = sequenceModel(loaded(onLoad), at)!.positive as [Series, Shunt];
      expect(machine.xOhm / xG).toBeCloseTo(kG, 9);
      expect(branch.xOhm / (xT * (21 ** 2 / 150))).toBeCloseTo(kT, 9);
      expectFollowed(at.trace.sections, 'a unit with a fault in its auxiliaries');
    }
  });
  it('takes factors of 1 in the minimum case, or those of the maximum when the project keeps them (7.1.2)', () => {
    for (const [minimumFactors, factor] of [
      ['one', 1],
      ['asMaximum', (110 ** 2 / 21 ** 2) * (21 ** 2 / 115 ** 2) * (1.1 / (1 + Math.abs(0.14 - xT) * sin))],
    ] as const) {
      const at = context(110, { faultCase: 'min', minimumFactors });
      const [branch, machine] = sequenceModel(loaded(true), at)!.positive as [Series, Shunt];
      expect(machine.xOhm / xG).toBeCloseTo(factor, 9);
      expect(branch.xOhm / (xT * (21 ** 2 / 150))).toBeCloseTo(factor, 9);
      expectFollowed(at.trace.sections, 'a unit, minimum');
    }
  });
  it('stands still with minimum sources when told so', () => {
    const minimum = context(110, { faultCase: 'min' });
    expect(sequenceModel({ ...loaded(true), runsAtMinimum: false }, minimum)!.positive).toEqual([]);
    expect(sequenceModel(loaded(true), minimum)!.positive).toHaveLength(2);
  });
});

describe('reactors, capacitors, earthing switches', () => {
  it('series reactor: ukR of rated voltage at rated current', () => {
    const reactor = newElement('seriesReactor', id, 'X', {
      ratedKv: 11,
      ratedA: 1000,
      ukPercent: 6,
      rOverX: 0.03,
      x0OverX1: 0.9,
    });
    const { positive, zero } = sequenceModel(reactor, context(11))!;
    const [z] = positive as [Series];
    expect(Math.hypot(z.rOhm, z.xOhm)).toBeCloseTo(0.06 * (11 / Math.sqrt(3)), 9);
    expect((zero[0] as Series).xOhm / z.xOhm).toBeCloseTo(0.9, 12);
  });
  it('a capacitor counts where the network is taken as it runs, its star point as an earth path', () => {
    const unit = newElement('shunt', id, 'C', {
      ratedKv: 11,
      ratedMvar: 2,
      neutral: neutralOf('solid'),
    });
    expect(sequenceModel(unit, context(11))!.positive).toEqual([]);
    const { positive, zero } = sequenceModel(unit, context(11, { basis: 'operating' }))!;
    expect((positive[0] as Shunt).xOhm).toBeCloseTo(-60.5, 9);
    expect((zero[0] as Shunt).xOhm).toBeCloseTo(-60.5, 9);
    expect((zero[0] as Shunt).role).toBe('earth');
  });
  it('an earthing switch is a short circuit in all sequences while it is closed', () => {
    expect(sequenceModel(newElement('earthingSwitch', id, 'E'), context(11))!.positive).toEqual([]);
    const { positive, zero } = sequenceModel(newElement('earthingSwitch', id, 'E', { closed: true }), context(11))!;
    expect(positive).toEqual(zero);
    expect((positive[0] as Shunt).xOhm).toBe(0);
  });
});

describe('C37 multipliers of induction motors', () => {
  it.each<[Basis, number, number, number | null]>([
    ['firstCycle', 2, 2, 1],
    ['firstCycle', 0.3, 2, 1.2],
    ['firstCycle', 0.3, 1, 1],
    ['firstCycle', 0.01, 2, 1.67],
    ['interrupting', 2, 2, 1.5],
    ['interrupting', 0.3, 2, 3],
    ['interrupting', 0.01, 2, null],
    ['thirtyCycle', 2, 2, null],
  ])('%s, %d MW, %d pole pairs: %s', (basis, mw, polePairs, wanted) =>
    expect(motorMultiplier(basis, mw, polePairs)).toBe(wanted),
  );
});
