import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newElement, type PlaceableKind } from '../model/defaults';
import { kinds, type Element, type ElementKind } from '../model/element';
import { elementId, neutralOf } from '../model/fields';
import { SilentTrace } from '../working/trace';
import { derivedOf } from './derived';
import { sequenceModel } from './models';
import type { Impedance, SequenceContext } from './stamp';

const id = elementId('x');
const around = { kv: 11, baseMva: 100, frequencyHz: 50 };
const make = (kind: PlaceableKind, over: object = {}): Element => newElement(kind, id, 'X', over as never);
const of = (element: Element, over: Partial<typeof around> = {}): Record<string, number> =>
  Object.fromEntries(derivedOf(element, { ...around, ...over }).map(({ title, value }) => [title, value]));

describe('what follows from the data, worked out by hand', () => {
  it('transformer: 1 MVA, 11/0.42 kV, uk 5 %, uR 1 %', () => {
    const values = of(make('transformer', { ratedMva: 1, hvKv: 11, lvKv: 0.42, ukPercent: 5, uRPercent: 1 }));
    // 1000 / (√3 · 11) and / (√3 · 0.42); 0.05 · 11²; 0.01 · 11²; √(6.05² − 1.21²); 0.05 · 100 / 1; 1 % of 1 MVA
    expect(values['Rated current, HV']).toBeCloseTo(52.486, 3);
    expect(values['Rated current, LV']).toBeCloseTo(1374.64, 2);
    expect(values['|ZT|']).toBeCloseTo(6.05, 9);
    expect(values.RT).toBeCloseTo(1.21, 9);
    expect(values.XT).toBeCloseTo(5.927765, 5);
    expect(values['X/R of T']).toBeCloseTo(4.89898, 5);
    expect(values['|zT| on 100 MVA']).toBeCloseTo(500, 9);
    expect(values['Load losses']).toBeCloseTo(0.01, 12);
  });
  it('cable: 2 km, two circuits, 0.12 + j0.11 Ω/km, 80 µS/km', () => {
    const values = of(
      make('line', {
        lengthKm: 2,
        circuits: 2,
        r1OhmPerKm: 0.12,
        x1OhmPerKm: 0.11,
        r0OhmPerKm: 0.6,
        x0OhmPerKm: 0.33,
        b1UsPerKm: 80,
      }),
    );
    expect([values.R1, values.X1]).toEqual([0.12, 0.11]);
    expect(values['|Z1|']).toBeCloseTo(Math.hypot(0.12, 0.11), 12);
    expect(values['|z1| on 100 MVA']).toBeCloseTo((100 * (Math.hypot(0.12, 0.11) * 100)) / 121, 10);
    expect(values['X0/X1']).toBeCloseTo(3, 12);
    // 80 µS/km · 2 km · 2 circuits · 121 kV²
    expect(values.Charging).toBeCloseTo(0.03872, 9);
  });
  it('network feeder: power from current and current from power', () => {
    const level = { given: 'current', ikKa: 10, skMva: null, rOverX: 0.1, x0OverX1: 1, r0OverX0: 0.1 } as const;
    const values = of(make('networkFeeder', { max: level, min: { ...level, given: 'power', ikKa: null, skMva: 150 } }));
    expect(values['Sk″ max']).toBeCloseTo(190.526, 3);
    expect(values['Ik″ min']).toBeCloseTo(7.873, 4);
    expect(values['X/R max']).toBeCloseTo(10, 12);
  });
  it('machines, loads, shunts, current and earthing transformers', () => {
    const machine = of(make('synchronousMachine', { ratedMva: 6, ratedKv: 11, xd2Percent: 18, powerFactor: 0.8 }));
    expect(machine['Rated current']).toBeCloseTo(314.92, 2);
    expect(machine['X″d']).toBeCloseTo(3.63, 9);
    expect(machine['Rated active power']).toBeCloseTo(4.8, 12);
    const motor = of(
      make('asynchronousMotor', {
        ratedMw: 1,
        ratedKv: 11,
        powerFactor: 0.88,
        efficiencyPercent: 96,
        startingRatio: 5.5,
        count: 2,
      }),
    );
    // Two of 1 / (0.96 · 0.88) = 1.18371 MVA
    expect(motor['Rated apparent power']).toBeCloseTo(2.36742, 5);
    expect(motor['Rated current of all']).toBeCloseTo(124.2575, 3);
    expect(motor['Starting current']).toBeCloseTo(683.4165, 3);
    const load = of(make('load', { ratedMva: 1, powerFactor: 0.8 }));
    expect([load['Active power'], load['Reactive power']].map((value) => Number(value.toFixed(9)))).toEqual([0.8, 0.6]);
    const bank = of(make('shunt', { type: 'capacitor', ratedMvar: 1, ratedKv: 11 }));
    expect(bank.Reactance).toBeCloseTo(121, 9);
    expect(bank.Capacitance).toBeCloseTo(26.3066, 4);
    expect(of(make('currentTransformer', { primaryA: 400, secondaryA: 5 })).Ratio).toBe(80);
    expect(of(make('voltageTransformer', { primaryKv: 33, secondaryV: 110 })).Ratio).toBe(300);
    const neutral = neutralOf('resistor', 20, 999);
    const earthing = { ratedKv: 11, r0Ohm: 1, x0Ohm: 20 };
    // The reactance that stood in the field before a resistor was chosen has no part: √3 · 11000 / |61 + j20|
    expect(of(make('earthingTransformer', { ...earthing, neutral }))['Earth current at Un']).toBeCloseTo(296.79, 2);
    expect(of(make('earthingTransformer', { ...earthing, neutral: { ...neutral, earthing: 'isolated' } }))).toEqual({});
  });
});

describe('what follows from the data, against the models of the calculation', () => {
  /** Without correction factors, at the principal tapping. */
  const context: SequenceContext = {
    faultCase: 'max',
    basis: 'operating',
    frequencyHz: 50,
    element: () => undefined,
    nominalKv: () => 11,
    cFactor: () => 1,
    minimumFactors: 'one',
    trace: new SilentTrace(),
  };
  const first = (element: Element): Impedance => sequenceModel(element, context)!.positive[0];
  const positive = (max: number) => fc.double({ min: 0.05, max, noNaN: true });

  it('impedances are the same, on the side they are given for', () => {
    fc.assert(
      fc.property(positive(50), positive(20), positive(0.9), positive(30), (rating, percent, share, kv) => {
        const unit = make('transformer', {
          ratedMva: rating,
          hvKv: 33,
          lvKv: kv,
          ukPercent: percent,
          uRPercent: percent * share,
        });
        const z = first(unit);
        const values = of(unit);
        expect(values.RT / z.rOhm).toBeCloseTo((33 / kv) ** 2, 6);
        expect(values.XT / z.xOhm).toBeCloseTo((33 / kv) ** 2, 6);
        const reactor = make('seriesReactor', { ratedKv: kv, ratedA: 100 * rating, ukPercent: percent, rOverX: share });
        expect(of(reactor).R).toBeCloseTo(first(reactor).rOhm, 9);
        expect(of(reactor).X).toBeCloseTo(first(reactor).xOhm, 9);
        const line = make('line', { lengthKm: rating, circuits: 3, r1OhmPerKm: share, x1OhmPerKm: percent });
        expect(of(line).R1).toBeCloseTo(first(line).rOhm, 9);
        expect(of(line).X1).toBeCloseTo(first(line).xOhm, 9);
        const bank = make('shunt', { type: 'reactor', ratedMvar: rating, ratedKv: kv });
        expect(of(bank).Reactance).toBeCloseTo(first(bank).xOhm, 9);
      }),
    );
  });
  it('exist for whatever kind of element, and are finite', () => {
    const without = [
      'connection',
      'projectSettings',
      'gradingChart',
      'tower',
      'lineCoupling',
      'textNote',
      'panel',
      'page',
    ];
    for (const kind of Object.keys(kinds) as ElementKind[])
      if (!without.includes(kind))
        for (const kv of [11, null])
          for (const { value } of derivedOf(make(kind as PlaceableKind), { ...around, kv }))
            expect(Number.isFinite(value)).toBe(true);
  });
});
