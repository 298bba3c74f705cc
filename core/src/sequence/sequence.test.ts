import { describe, expect, it } from 'vitest';
import { newElement } from '../model/defaults';
import { elementId, neutralOf } from '../model/fields';
import { parseVectorGroup } from '../model/vectorgroup';
import { expectFollowed, lastResult } from '../test/followed';
import { faultCase } from '../test/reference';
import { SilentTrace, Trace } from '../working/trace';
import { voltageFactor } from '../faults/iec60909/voltageFactor';
import { sequenceModel } from './models';
import type { SequenceContext, Series, Shunt } from './stamp';

const factor = voltageFactor(10);
const context = (nominalKv: number, faultCase: 'max' | 'min' = 'max'): SequenceContext => ({
  faultCase,
  basis: 'iec60909',
  frequencyHz: 50,
  element: () => undefined,
  nominalKv: () => nominalKv,
  cFactor: (kv, wanted = faultCase) => factor(kv, wanted),
  minimumFactors: 'one',
  trace: new SilentTrace(),
});
const id = elementId('x');

describe('sequence models, against values worked out by hand', () => {
  it('transformer: ZT, KT (1.6 MVA 11/0.42 kV, 6.1 %, 1.05 %)', () => {
    const model = sequenceModel(
      newElement('transformer', id, 'T', {
        ratedMva: 1.6,
        hvKv: 11,
        lvKv: 0.42,
        ukPercent: 6.1,
        uRPercent: 1.05,
        vectorGroup: 'Dyn5',
        x0OverX1: 0.96,
        r0OverR1: 1,
      }),
      context(0.4),
    )!;
    const [z] = model.positive as [Series];
    // ZT = 0.061 · 0.42² / 1.6 = 6.72525 mΩ; xT = √(0.061² − 0.0105²) = 0.0600895; KT = 0.95 · 1.1 / (1 + 0.6 · xT) = 1.008637
    expect(z.xOhm * 1000).toBeCloseTo(1.008637 * 6.62486, 4);
    expect(z.rOhm * 1000).toBeCloseTo(1.008637 * 1.157625, 5);
    expect(z.ratio).toBeCloseTo(11 / 0.42, 12);
    expect((model.zero as [Shunt])[0]).toMatchObject({ type: 'shunt', terminal: 1 });
    expect((model.zero as [Shunt])[0].xOhm / z.xOhm).toBeCloseTo(0.96, 12);
  });

  it('generator: KG and RGf (6.3 MVA 11 kV, 17.5 %, cos φ 0.8)', () => {
    const machine = newElement('synchronousMachine', id, 'G', {
      ratedMva: 6.3,
      ratedKv: 11,
      xd2Percent: 17.5,
      powerFactor: 0.8,
    });
    const [z] = sequenceModel(machine, context(11))!.positive as [Shunt];
    const kg = 1.1 / (1 + 0.175 * 0.6);
    expect(z.xOhm).toBeCloseTo(kg * 0.175 * (121 / 6.3), 9);
    expect(z.rOhm).toBeCloseTo(0.07 * z.xOhm, 9);
    expect(sequenceModel({ ...machine, runsAtMinimum: false }, context(11, 'min'))!.positive).toEqual([]);
    // A resistance that is typed counts for Ik″; the peak keeps the fictitious one.
    const [typed] = sequenceModel({ ...machine, rOhm: 0.01 }, context(11))!.positive as [Shunt];
    expect(typed.rOhm).toBeCloseTo(kg * 0.01, 12);
    expect(typed.rPeakOhm).toBeCloseTo(z.rPeakOhm, 12);
  });

  it('motor: M1 of IEC TR 60909-4 (5 MW, 10 kV, cos φ 0.88, η 97.5 %, ILR/IrM 5)', () => {
    const [z] = sequenceModel(
      newElement('asynchronousMotor', id, 'M', {
        ratedMw: 5,
        ratedKv: 10,
        powerFactor: 0.88,
        efficiencyPercent: 97.5,
        startingRatio: 5,
        polePairs: 1,
      }),
      context(10),
    )!.positive as [Shunt];
    const size = (1 / 5) * (100 / (5 / (0.88 * 0.975)));
    expect(Math.hypot(z.rOhm, z.xOhm)).toBeCloseTo(size, 9);
    expect(z.rOhm / z.xOhm).toBeCloseTo(0.1, 9);
    expect(z.xOhm).toBeCloseTo(3.4149, 3);
  });

  it('feeder: the same from a current and from a power', () => {
    const base = { rOverX: 0.1, x0OverX1: 3, r0OverX0: 0.15 };
    const byCurrent = newElement('networkFeeder', id, 'N', {
      max: { given: 'current', ikKa: 16, skMva: null, ...base },
    });
    const byPower = newElement('networkFeeder', id, 'N', {
      max: { given: 'power', ikKa: null, skMva: Math.sqrt(3) * 110 * 16, ...base },
    });
    const [p, q] = [byCurrent, byPower].map((feeder) => sequenceModel(feeder, context(110))!.positive[0]);
    expect(p.xOhm).toBeCloseTo(q.xOhm, 9);
    // 1.1 · 110 / (√3 · 16) = 4.36622 Ω
    expect(Math.hypot(p.rOhm, p.xOhm)).toBeCloseTo(4.36622, 4);
  });

  it('line: hotter in the minimum case, and only the conductor', () => {
    const line = newElement('line', id, 'L', {
      lengthKm: 10,
      circuits: 2,
      r1OhmPerKm: 0.2,
      x1OhmPerKm: 0.4,
      r0OhmPerKm: 0.5,
      x0OhmPerKm: 1.2,
      endTemperatureC: 120,
    });
    const hot = sequenceModel(line, context(20, 'min'))!;
    expect(hot.positive[0].rOhm).toBeCloseTo(1.4, 12);
    expect(hot.zero[0].rOhm).toBeCloseTo(2.5 + 0.4, 12);
    expect(sequenceModel(line, context(20))!.positive[0]).toMatchObject({ rOhm: 1, xOhm: 2 });
  });
});

describe('zero-sequence paths by vector group and earthing', () => {
  const solid = neutralOf('solid');
  const isolated = neutralOf('isolated');
  const through10 = neutralOf('impedance', 10, 1);
  const zero = (
    vectorGroup: string,
    hvNeutral: typeof solid | typeof isolated | typeof through10,
    lvNeutral: typeof hvNeutral,
  ) =>
    sequenceModel(
      newElement('transformer', id, 'T', {
        hvKv: 110,
        lvKv: 20,
        ratedMva: 40,
        ukPercent: 10,
        uRPercent: 0,
        vectorGroup,
        x0OverX1: 1,
        r0OverR1: 1,
        hvNeutral,
        lvNeutral,
      }),
      context(20),
    )!.zero;

  it.each([
    ['Dyn5', isolated, solid, 'shunt 1'],
    ['Dyn5', isolated, isolated, 'open'],
    ['Dy5', isolated, solid, 'open'],
    ['YNd11', solid, isolated, 'shunt 0'],
    ['YNyn0', solid, solid, 'series'],
    ['YNyn0', solid, isolated, 'shunt 0'],
    ['Yzn5', isolated, solid, 'shunt 1'],
    ['Dd0', solid, solid, 'open'],
  ] as const)('%s: %s', (group, hv, lv, expected) => {
    const [path] = zero(group, hv, lv);
    expect(path === undefined ? 'open' : path.type === 'series' ? 'series' : `shunt ${path.terminal}`).toBe(expected);
  });

  it('counts a neutral impedance threefold, without KT, and on its own side', () => {
    const [plain, loaded] = [zero('YNyn0', solid, solid), zero('YNyn0', through10, through10)] as unknown as [
      [Series],
      [Series],
    ];
    expect(loaded[0].rOhm - plain[0].rOhm).toBeCloseTo(30 + 30 / 5.5 ** 2, 9);
    expect(loaded[0].xOhm - plain[0].xOhm).toBeCloseTo(3 + 3 / 5.5 ** 2, 9);
  });

  it('reads vector groups and refuses impossible ones', () => {
    expect(parseVectorGroup('Dyn11')).toEqual({ hv: 'D', lv: 'YN', clock: 11 });
    for (const wrong of ['Dyn0', 'YNyn5', 'Dyn12', 'dyn11', 'XY3', '', 'Dyn'])
      expect(parseVectorGroup(wrong), wrong).toBeNull();
  });
});

describe('three windings and units, published', () => {
  it('one correction factor for each pair of windings, then the star (IEC TR 60909-4)', () => {
    const { transformer: t, expected } = faultCase<{
      transformer: Record<string, number>;
      expected: Record<string, number> & Record<'ZA_at120kV_ohm' | 'ZB_at120kV_ohm' | 'ZC_at120kV_ohm', number[]>;
    }>('iec-tr-60909-4-three-winding');
    const pair = (ratedMva: number, ukPercent: number, uRPercent: number) => ({
      ratedMva,
      ukPercent,
      uRPercent,
      x0OverX1: null,
      r0OverR1: null,
    });
    const trace = new Trace();
    const model = sequenceModel(
      newElement('threeWindingTransformer', id, 'T', {
        hvKv: t.UrHV_kV,
        mvKv: t.UrMV_kV,
        lvKv: t.UrLV_kV,
        vectorGroup: 'Yy0d5',
        hvMv: pair(t.SrHVMV_MVA, t.ukr_HVMV_pct, t.uRr_HVMV_pct),
        hvLv: pair(t.SrHVLV_MVA, t.ukr_HVLV_pct, t.uRr_HVLV_pct),
        mvLv: pair(t.SrMVLV_MVA, t.ukr_MVLV_pct, t.uRr_MVLV_pct),
      }),
      { ...context(30), trace },
    )!;
    for (const [name, symbol] of [
      ['KT_HVMV', 'KTHVMV'],
      ['KT_HVLV', 'KTHVLV'],
      ['KT_MVLV', 'KTMVLV'],
    ])
      expect(lastResult(trace.sections, symbol)).toBeCloseTo(expected[name], 5);
    const legs = model.positive as Series[];
    [expected.ZA_at120kV_ohm, expected.ZB_at120kV_ohm].forEach(([r, x], k) => {
      expect(legs[k].rOhm).toBeCloseTo(r, 5);
      expect(legs[k].xOhm).toBeCloseTo(x, 4);
    });
    expect(legs[2].xOhm * (t.UrMV_kV / t.UrLV_kV) ** 2).toBeCloseTo(expected.ZC_at120kV_ohm[1], 4);
    expectFollowed(trace.sections, 'a three-winding transformer');
  });
});
