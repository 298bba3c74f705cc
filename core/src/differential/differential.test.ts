/** Differential protection: compensation against symmetrical components, every vector group by a network, sides that are wrong, taps, sensitivity, saturation. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { magnitude, polar, scale, add, type Complex } from '../linear/complex';
import { faultKinds } from '../faults/kinds';
import { maximumSources, minimumSources } from '../model/condition';
import type { Element } from '../model/element';
import { elementId, neutralOf } from '../model/fields';
import { find, networkOf, type Network } from '../model/network';
import { currentInput, tripCircuit, type RelayInput } from '../model/protection';
import { parseVectorGroup } from '../model/vectorgroup';
import { deviceOf } from '../protection/device';
import { freshDifferential, differential } from '../protection/differential';
import { applied, turning } from '../protection/differential/compensation';
import { pointOf, thresholdAt } from '../protection/differential/characteristic';
import type { DifferentialFunction } from '../protection/differential/schema';
import { seenBy } from '../protection/seen';
import { toComponents, toPhases } from '../sequence/components';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { Builder } from '../test/network';
import { expectFollowed } from '../test/followed';
import { runs } from '../test/runs';
import { finished } from '../working/steps';
import { Trace } from '../working/trace';
import { adequacies } from './adequacy';
import { coreOf } from './core';
import { fitted } from './fit';
import { largestResistance, planeStudy } from './plane';
import { endCandidates, regionOf } from './region';
import { stabilityAt } from './stability';

const id = elementId;
let demo: Network;
beforeAll(() => {
  demo = demoNetwork();
});

const phasor = () =>
  fc.record({ re: fc.double({ min: -5, max: 5, noNaN: true }), im: fc.double({ min: -5, max: 5, noNaN: true }) });

describe('compensation', () => {
  it('turns the positive sequence forward, the negative back, and takes the zero sequence out or leaves it', () => {
    fc.assert(
      fc.property(
        phasor(),
        phasor(),
        phasor(),
        fc.integer({ min: -11, max: 11 }),
        fc.boolean(),
        (p, n, z, clock, keeps) => {
          const { l1, l2, l3 } = toPhases({ positive: p, negative: n, zero: z });
          const after = applied(turning(30 * clock, keeps ? 'kept' : 'removed'), [l1, l2, l3]);
          const { positive, negative, zero } = toComponents(after[0], after[1], after[2]);
          const turn = polar(1, (clock * Math.PI) / 6);
          const near = (a: Complex, b: Complex) => expect(magnitude(add(a, scale(b, -1)))).toBeLessThan(1e-9);
          const times = (a: Complex, b: Complex): Complex => ({
            re: a.re * b.re - a.im * b.im,
            im: a.re * b.im + a.im * b.re,
          });
          near(positive, times(p, turn));
          near(negative, times(n, { re: turn.re, im: -turn.im }));
          near(zero, keeps ? z : { re: 0, im: 0 });
        },
      ),
      { numRuns: runs(100), seed: 87 },
    );
  });

  it('has a threshold that never falls as the restraint rises, and steps nowhere', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.05, max: 2, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 4, noNaN: true }),
        fc.double({ min: 0, max: 1.2, noNaN: true }),
        fc.double({ min: 0, max: 10, noNaN: true }),
        (pickup, slope1, knee, slope2, at) => {
          const c = { pickup, slope1, knee, slope2 };
          expect(thresholdAt(c, at + 1e-6)).toBeGreaterThanOrEqual(thresholdAt(c, at) - 1e-12);
          expect(thresholdAt(c, at + 1e-9) - thresholdAt(c, at)).toBeLessThan(1e-6);
        },
      ),
      { numRuns: runs(100), seed: 88 },
    );
  });
});

/** A source, a transformer between two current transformers, a source behind it. */
function transformerNetwork(vectorGroup: string): { network: Network; fn: DifferentialFunction } {
  const { hv, lv } = parseVectorGroup(vectorGroup)!;
  const earthed = (winding: string) => (winding === 'YN' ? neutralOf('solid') : neutralOf('isolated'));
  const b = new Builder();
  b.add('bus', 'H', { nominalKv: 110 });
  b.add('bus', 'L', { nominalKv: 20 });
  b.add('networkFeeder', 'G');
  b.add('networkFeeder', 'F', {
    max: { given: 'current', ikKa: 4, skMva: null, rOverX: 0.1, x0OverX1: 2, r0OverX0: 0.3 },
    min: { given: 'current', ikKa: 2, skMva: null, rOverX: 0.1, x0OverX1: 2, r0OverX0: 0.3 },
  });
  b.add('currentTransformer', 'CH', { primaryA: 300 });
  b.add('currentTransformer', 'CL', { primaryA: 1500 });
  b.add('switch', 'QH');
  b.add('transformer', 'T', {
    ratedMva: 40,
    hvKv: 110,
    lvKv: 20,
    ukPercent: 12,
    uRPercent: 0.5,
    vectorGroup,
    x0OverX1: 0.9,
    r0OverR1: 1,
    hvNeutral: earthed(hv),
    lvNeutral: earthed(lv),
  });
  b.join('H:0', 'G', 'H:0', 'QH:0', 'QH:1', 'CH:0', 'CH:1', 'T:0', 'T:1', 'CL:0', 'CL:1', 'L:0', 'L:0', 'F');
  const inputs: RelayInput[] = [
    { ...currentInput(id('CH'), 1), id: id('hv') },
    { ...currentInput(id('CL'), 0), id: id('lv') },
  ];
  const made = freshDifferential(id('d'), '87T', id('hv'));
  b.add('relay', 'R', { inputs, circuits: [tripCircuit([id('QH')])], functions: [made] });
  const raw = b.network();
  const fn = fitted(raw, deviceOf(raw, id('R'))!, made);
  const elements = [...raw.elements.values()].map((each): Element =>
    each.kind === 'relay' ? { ...each, functions: [fn] } : each,
  );
  return { network: networkOf(elements), fn };
}

describe('transformers', () => {
  const groups = ['Dyn1', 'Dyn5', 'Dyn11', 'YNd1', 'YNd5', 'YNd11', 'Dd0', 'Dd6', 'YNyn0', 'YNyn6', 'Yyn0', 'Yd7'];
  it.each(groups)('%s: nothing is left of faults outside, all that is inside is seen', (group) => {
    const { network, fn } = transformerNetwork(group);
    const studies = new Studies(network);
    const device = deviceOf(network, id('R'))!;
    const { points, weakest, nearest, region } = finished(
      planeStudy(studies, [maximumSources, minimumSources], device, fn),
    );
    expect(region.elements).toContain('T');
    expect(region.turned).toEqual([]);
    expect(points.length).toBe(2 * 4 * faultKinds.length);
    // At an end of a tap range the currents outside differ by as much as the turns.
    const tapped = networkOf(
      [...network.elements.values()].map((each): Element =>
        each.kind === 'transformer'
          ? { ...each, tap: { ...each.tap, side: 'hv', steps: 8, stepPercent: 1.25, position: 0 } }
          : each,
      ),
    );
    const ends = finished(planeStudy(new Studies(tapped), [maximumSources], deviceOf(tapped, id('R'))!, fn, ['3ph']));
    const worst = ends.points
      .filter(({ where, tap }) => where === 'outside' && tap === 10)
      .flatMap((each) => each.points);
    for (const { operating, restraining } of worst)
      if (restraining > 0.1) expect(operating / restraining).toBeCloseTo(0.1 / 1.1 / ((1 + 1 / 1.1) / 2), 3);
    // What the tap and rounding of base currents leave: five digits.
    expect(nearest!.multiple).toBeLessThan(1e-3);
    expect(weakest!.multiple).toBeGreaterThan(1.5);
  });

  it('a wrong vector group, base or polarity trips for faults outside', () => {
    const { network, fn } = transformerNetwork('YNd11');
    const study = (over: DifferentialFunction, on = network) =>
      finished(planeStudy(new Studies(on), [maximumSources], deviceOf(on, id('R'))!, over));
    const side = (k: number, part: object) => ({
      ...fn,
      sides: fn.sides.map((each, n) => (n === k ? { ...each, ...part } : each)),
    });
    expect(study(side(1, { clock: 1 })).nearest!.trips).toBe(true);
    expect(study(side(1, { baseA: 3 * fn.sides[1].baseA })).nearest!.trips).toBe(true);
    expect(study(side(0, { zero: 'kept' })).nearest!.trips).toBe(true);
    const turned = networkOf(
      [...network.elements.values()].map((each): Element =>
        each.kind === 'relay'
          ? { ...each, inputs: each.inputs.map((input) => ({ ...input, towards: 1 as const })) }
          : each,
      ),
    );
    const found = study(fn, turned);
    expect(found.region.turned.map(({ through }) => through)).toEqual(['CL']);
    expect(found.nearest!.trips).toBe(true);
  });

  it('sees a resistive fault inside up to the resistance at which the currents meet the characteristic', () => {
    const { network, fn } = transformerNetwork('YNd1');
    const studies = new Studies(network);
    const device = deviceOf(network, id('R'))!;
    const place = { at: 'terminal', element: id('T'), terminal: 0 } as const;
    const ohm = largestResistance(studies, { condition: maximumSources.id }, device, fn, place, '1ph')!;
    expect(ohm).toBeGreaterThan(10);
    const { points } = finished(planeStudy(studies, [maximumSources], device, fn, ['1ph']));
    const solid = points.find(
      (each) => each.place.element === 'T' && each.place.at === 'terminal' && each.place.terminal === 0,
    )!;
    expect(solid.leastA!).toBeGreaterThan(0);
    expect(solid.leastA!).toBeLessThan(solid.faultA);
  });

  it('restricted earth fault sees what the phases hardly do, and nothing outside', () => {
    const { network } = transformerNetwork('YNd1');
    const made = freshDifferential(id('n'), '87N', id('hv'));
    const star: RelayInput = {
      ...currentInput(id('T')),
      id: id('star'),
      type: 'neutral',
      star: { side: 0, primaryA: 300, secondaryA: 1 },
    };
    const with87n = (reversed: boolean) =>
      networkOf(
        [...network.elements.values()].map((each): Element =>
          each.kind === 'relay'
            ? { ...each, inputs: [each.inputs[0], { ...star, reversed }], functions: [made] }
            : each,
        ),
      );
    const on = with87n(false);
    const device = deviceOf(on, id('R'))!;
    const fn = fitted(on, device, made);
    expect(fn.sides.map(({ input }) => input)).toEqual(['hv', 'star']);
    const { weakest, nearest } = finished(planeStudy(new Studies(on), [maximumSources], device, fn, ['1ph', '2phE']));
    expect(nearest!.multiple).toBeLessThan(1e-6);
    expect(weakest!.multiple).toBeGreaterThan(2);
    const wrong = with87n(true);
    const { nearest: reversed } = finished(
      planeStudy(new Studies(wrong), [maximumSources], deviceOf(wrong, id('R'))!, fn, ['1ph']),
    );
    expect(reversed!.trips).toBe(true);
  });

  it('gives its working, which comes to the same', () => {
    const { network, fn } = transformerNetwork('Dyn5');
    const device = deviceOf(network, id('R'))!;
    const [seen] = seenBy(
      new Studies(network).max,
      { at: 'terminal', element: id('T'), terminal: 1 },
      ['3ph'],
      [device],
    );
    const trace = new Trace();
    const at = seen!.devices[0]!.hv;
    const response = differential.respond!(fn, device.inputs[0].rating, at, trace);
    expect(response.pickedUp).toBe(true);
    expect(response.band.latestS).toBeCloseTo(fn.operatingS, 9);
    expectFollowed(trace.sections, '87T');
  });
});

describe('lines', () => {
  it('offers the relay at the far end first, and tells which way it looks', () => {
    const device = deviceOf(demo, id('cau-q01-relay'))!;
    const [first] = endCandidates(demo, device, device.inputs[0]);
    expect(first).toMatchObject({ relay: 'fer-q01-relay', through: 'fer-ct01', facing: true });
    expect(first.km).toBeCloseTo(24.3, 6);
    const turned = networkOf(
      [...demo.elements.values()].map((each): Element =>
        each.id === 'fer-q01-relay' && each.kind === 'relay'
          ? {
              ...each,
              inputs: each.inputs.map((input) =>
                input.type === 'current' ? { ...input, towards: 1 as const } : input,
              ),
            }
          : each,
      ),
    );
    const again = deviceOf(turned, id('cau-q01-relay'))!;
    expect(endCandidates(turned, again, again.inputs[0])[0].facing).toBe(false);
  });

  it('with a tap stays still for faults behind its transformer, and tells of them when it is set lower', () => {
    const device = deviceOf(demo, id('tol-q02-relay'))!;
    const fn = device.functions.find((each): each is DifferentialFunction => each.family === 'differential')!;
    const studies = new Studies(demo);
    const { tapped, region, weakest } = finished(planeStudy(studies, [maximumSources], device, fn));
    expect(region.taps).toEqual(['que-t1']);
    expect(region.elements).toEqual(expect.arrayContaining(['mar-que', 'que-tol']));
    expect(tapped!.trips).toBe(false);
    expect(weakest!.trips).toBe(true);
    const low = finished(planeStudy(studies, [maximumSources], device, { ...fn, pickup: 0.3 }));
    expect(low.tapped!.trips).toBe(true);
  });

  it('takes what the other relays send as its own sides, each by its own ratio', () => {
    const device = deviceOf(demo, id('fer-q02-relay'))!;
    const [own, sent] = [device.inputs[0], device.inputs.find(({ from }) => from)!];
    expect(sent).toMatchObject({ through: 'cau-ct02', from: 'cau-q02-relay' });
    expect(own.from).toBeUndefined();
    expect(find(demo, 'relay', id('fer-q02-relay'))!.inputs.some(({ element }) => element === 'cau-ct02')).toBe(false);
  });
});

describe('saturation', () => {
  const device = () => deviceOf(demo, id('fer-t1-relay'))!;
  const fn = () => device().functions.find((each): each is DifferentialFunction => each.family === 'differential')!;
  const withCt = (over: object, which = 'fer-ct21'): Network =>
    networkOf(
      [...demo.elements.values()].map((each): Element =>
        each.id === which ? ({ ...each, ...over } as Element) : each,
      ),
    );
  const at = (network: Network, times: Partial<DifferentialFunction> = {}) => {
    const own = deviceOf(network, id('fer-t1-relay'))!;
    const of = {
      ...own.functions.find((each): each is DifferentialFunction => each.family === 'differential')!,
      ...times,
    };
    const { region } = finished(planeStudy(new Studies(network), [maximumSources], own, of, ['3ph']));
    return stabilityAt(new Studies(network), { condition: maximumSources.id }, own, of, region.outside[1], '3ph')!;
  };
  it('of one side makes a current that restrains less and operates more; a larger burden, the more', () => {
    expect(fn().code).toBe('87T');
    const good = at(demo);
    const poor = at(withCt({ burdenOhm: 40 }));
    const worse = at(withCt({ burdenOhm: 120 }));
    expect(good.holds).toBe(true);
    expect(poor.saturationS).not.toBeNull();
    expect(worse.saturationS!).toBeLessThan(poor.saturationS!);
    expect(poor.multiple).toBeGreaterThan(good.multiple);
    expect(worse.multiple).toBeGreaterThan(poor.multiple);
    expect(worse.bearsA!).toBeLessThan(good.bearsA!);
    // What was left in the core by a fault before makes it come sooner.
    const remanent = at(withCt({ burdenOhm: 40, remanencePercent: 70 }));
    expect(remanent.multiple).toBeGreaterThan(poor.multiple);
    // A steeper second slope bears more.
    expect(at(withCt({ burdenOhm: 120 }), { slope2Percent: 100 }).bearsA!).toBeGreaterThanOrEqual(worse.bearsA!);
  });
  it('says what is missing, and what is taken as typical', () => {
    expect(at(withCt({ burdenOhm: null })).unknown).toEqual(['fer-ct21']);
    expect(at(demo).assumed.length).toBeGreaterThan(0);
    const ct = find(demo, 'currentTransformer', id('fer-ct21'))!;
    expect(coreOf({ ...ct, kneeV: 500, kneeA: 0.02 }, 50)).toMatchObject({ kneeV: 500, assumed: [] });
  });
  it('asks of current transformers what fault, offset and burden make of it', () => {
    const trace = new Trace();
    const all = adequacies(new Studies(demo), [maximumSources], trace, id('fer-t1-relay'));
    const low = all.find(({ ct }) => ct === 'fer-ct21')!;
    const ct = find(demo, 'currentTransformer', id('fer-ct21'))!;
    expect(low.requiredV).toBeCloseTo(low.kssc * low.ktd * ct.secondaryA * (ct.windingOhm! + ct.burdenOhm!), 9);
    expect(low.builtV).toBeCloseTo(20 * 1 * (5.5 + 30), 9);
    expect(low.holds).toBe(low.builtV! >= low.requiredV);
    expectFollowed(trace.sections, 'adequacy');
  });
  it('asks of each current transformer by its own largest current, and of what is compared by faults that pass through it too', () => {
    const studies = new Studies(demo);
    const device = deviceOf(demo, id('fer-t1-relay'))!;
    const all = adequacies(studies, [maximumSources], new Trace(), device.id);
    expect(all).toHaveLength(2);
    for (const { ct, faultA, kssc } of all) {
      const input = device.inputs.find(({ through }) => through === ct)!;
      const sizes = [0, 1].flatMap((terminal) =>
        seenBy(studies.max, { at: 'terminal', element: ct, terminal }, faultKinds, [device]).map(
          (seen) => seen!.devices[0]![input.id].phaseA,
        ),
      );
      expect(faultA).toBeCloseTo(Math.max(...sizes), 6);
      expect(kssc).toBeCloseTo(faultA / find(demo, 'currentTransformer', ct)!.primaryA, 12);
    }
    expect(all[0].faultA).not.toBeCloseTo(all[1].faultA, 0);
  });
});

describe('machines', () => {
  it('compare what flows in at their terminals with what leaves at their star point', () => {
    const motor = id('bra-p1');
    const ct = id('bra-ct33');
    const inputs: RelayInput[] = [
      { ...currentInput(ct, 1), id: id('t') },
      { ...currentInput(motor), id: id('s'), type: 'winding', star: { side: 0, primaryA: 200, secondaryA: 1 } },
    ];
    const made = freshDifferential(id('m'), '87M', id('t'));
    const withMotor = (reversed: boolean) =>
      networkOf(
        [...demo.elements.values()].map((each): Element =>
          each.id === 'bra-q33-relay' && each.kind === 'relay'
            ? {
                ...each,
                inputs: inputs.map((input, k) => ({ ...input, reversed: k === 1 && reversed })),
                functions: [made],
              }
            : each,
        ),
      );
    const study = (network: Network) => {
      const device = deviceOf(network, id('bra-q33-relay'))!;
      const fn = fitted(network, device, made);
      // Rated current of the motor: P/(√3·U·cos φ·η).
      expect(fn.sides[0].baseA).toBeGreaterThan(80);
      expect(fn.sides[0].baseA).toBeLessThan(180);
      return finished(planeStudy(new Studies(network), [maximumSources], device, fn, ['3ph', '2ph']));
    };
    const right = study(withMotor(false));
    expect(right.region.elements).toContain('bra-p1');
    expect(right.nearest!.multiple).toBeLessThan(1e-6);
    expect(right.weakest!.multiple).toBeGreaterThan(2);
    // The star-point side the wrong way round doubles what the motor feeds to a fault outside.
    expect(study(withMotor(true)).nearest!.trips).toBe(true);
  });
});

describe('busbars', () => {
  it('are protected by what is connected to each, and two that are joined are one', () => {
    const b = new Builder();
    for (const n of [1, 2]) b.add('bus', `B${n}`, { nominalKv: 110 });
    b.add('networkFeeder', 'G');
    const feeders = [1, 2, 3].map((n) => {
      b.add('switch', `Q${n}`);
      b.add('currentTransformer', `C${n}`, { primaryA: 600 });
      // Each bay can stand at either busbar.
      b.add('switch', `D${n}1`, { type: 'disconnector', closed: n !== 3 });
      b.add('switch', `D${n}2`, { type: 'disconnector', closed: n === 3 });
      b.add('line', `L${n}`, { lengthKm: 20, r0OhmPerKm: 0.3, x0OhmPerKm: 1.2, r1OhmPerKm: 0.1, x1OhmPerKm: 0.4 });
      b.add('bus', `E${n}`, { nominalKv: 110 });
      b.join(
        'B1:0',
        `D${n}1:0`,
        'B2:0',
        `D${n}2:0`,
        `D${n}1:1`,
        `Q${n}:0`,
        `D${n}2:1`,
        `Q${n}:0`,
        `Q${n}:1`,
        `C${n}:0`,
      );
      b.join(`C${n}:1`, `L${n}:0`, `L${n}:1`, `E${n}:0`);
      return n;
    });
    b.add('networkFeeder', 'G3');
    b.add('switch', 'QK', { closed: false });
    b.join('E1:0', 'G', 'E3:0', 'G3', 'B1:0', 'QK:0', 'QK:1', 'B2:0');
    const inputs = feeders.map((n): RelayInput => ({ ...currentInput(id(`C${n}`), 0), id: id(`i${n}`) }));
    const fn: DifferentialFunction = {
      ...freshDifferential(id('d'), '87B', id('i1')),
      buses: [id('B1'), id('B2')],
      sides: feeders.map((n) => ({ input: id(`i${n}`), baseA: 600, clock: 0, zero: 'kept' as const })),
    };
    b.add('relay', 'R', {
      inputs,
      circuits: [tripCircuit([id('Q1'), id('Q2'), id('Q3'), id('QK')])],
      functions: [fn],
    });
    const timersAt = (network: Network, bus: string) => {
      const device = deviceOf(network, id('R'))!;
      const [seen] = seenBy(
        new Studies(network).max,
        { at: 'terminal', element: id(bus), terminal: 0 },
        ['3ph'],
        [device],
      );
      return differential.timers!(fn, device.inputs[0].rating, seen!.devices[0]!.i1);
    };
    const apart = b.network();
    const first = timersAt(apart, 'B1');
    expect(first).toHaveLength(1);
    expect(first[0].opens).toEqual(expect.arrayContaining(['Q1', 'Q2']));
    expect(first[0].opens).not.toContain('Q3');
    expect(timersAt(apart, 'B2')[0].opens).toEqual(['Q3']);
    // A fault on a line trips neither.
    expect(timersAt(apart, 'E2')).toEqual([]);
    const joined = networkOf(
      [...apart.elements.values()].map((each): Element =>
        each.id === 'QK' && each.kind === 'switch' ? { ...each, closed: true } : each,
      ),
    );
    const both = timersAt(joined, 'B2');
    expect(both).toHaveLength(1);
    expect(both[0].opens).toEqual(expect.arrayContaining(['Q1', 'Q2', 'Q3']));
    expect(timersAt(joined, 'E2')).toEqual([]);
    for (const network of [apart, joined]) {
      const studies = new Studies(network);
      const study = finished(planeStudy(studies, [maximumSources], deviceOf(network, id('R'))!, fn));
      // A fault at either busbar is judged by its own zone.
      const at = new Set(study.points.filter(({ where }) => where === 'inside').map(({ place }) => place.element));
      expect([...at]).toEqual(expect.arrayContaining(['B1', 'B2']));
      expect(study.weakest!.trips).toBe(true);
      expect(study.nearest!.trips).toBe(false);
    }
  });
});

describe('the plane', () => {
  it('judges three sides by the restraint of the device', () => {
    const currents: Complex[] = [polar(2, 0), polar(1, 3), polar(1, -3)];
    const c = { pickup: 0.3, slope1: 0.3, knee: 2, slope2: 0.7 };
    const of = (by: 'mean' | 'sum' | 'max') => pointOf(currents, by, c).restraining;
    expect(of('sum')).toBeCloseTo(4, 12);
    expect(of('mean')).toBeCloseTo(4 / 3, 12);
    expect(of('max')).toBeCloseTo(2, 12);
  });
  it('is of the transformer that lies between the current transformers', () => {
    const device = deviceOf(demo, id('fer-t1-relay'))!;
    const fn = device.functions.find((each): each is DifferentialFunction => each.family === 'differential')!;
    const { elements, taps, turned } = regionOf(demo, device, fn);
    expect(elements.filter((each) => find(demo, 'transformer', each))).toEqual(['fer-t1']);
    expect([taps, turned]).toEqual([[], []]);
  });
});
