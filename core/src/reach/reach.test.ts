/** Reaches on the demo, worked out by hand; tees, routes, rules; where zones really end. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compile } from '../formulas/formula';
import { evaluateComplex } from '../formulas/complexValue';
import { add, magnitude, polar, scale, type Complex } from '../linear/complex';
import { elementId, type ElementId } from '../model/fields';
import { find, networkOf, settingsOf, withElements } from '../model/network';
import type { Rulebook } from '../model/rulebook';
import type { DistanceFunction } from '../protection/distance/schema';
import { terminalPlace } from '../faults/iec60909/study';
import { curvesOf, operatingTime } from '../protection/curve';
import { deviceOf } from '../protection/device';
import { freshDistance } from '../protection/distance';
import { genericRelays, newFunction } from '../protection/overcurrent/library';
import { seenBy } from '../protection/seen';
import { plainPractice } from '../rules/plainPractice';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { runs } from '../test/runs';
import { circuitAt, circuitsOf, pathsFrom } from './circuits';
import { aheadOf } from './figures';
import { apparentWithInfeed } from './infeed';
import { reachPlan, withReaches, type ReachRow } from './plan';
import { loopTrack } from './region';
import { kmAt, routeOf, shareAt } from './route';
import { decided, zoneReaches, type ReachDemand } from './zones';
import { warringtonOhm } from './resistance';

const id = elementId;
const demo = demoNetwork();
const studies = new Studies(demo);
const planOf = (on: Studies, merged = false): readonly ReachRow[] => {
  const steps = reachPlan(on, { merged, fromKv: 50 });
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
};
const plan = planOf(studies);
const rowAt = (line: string, terminal: number) =>
  plan.find(({ end }) => end.line === id(line) && end.terminal === terminal)!;
const sizes = ({ zones }: ReachRow) => zones.slice(0, 3).map(({ reach }) => reach!.value);

/** |0.118 + j0.402| ohm/km: all lines of the ring are alike. */
const perKm = Math.hypot(0.118, 0.402);

describe('reaches on the 132 kV ring, by hand', () => {
  it('FER to MAR: the line, the spur behind it, the way to TOL', () => {
    const [z1, z2, z3] = sizes(rowAt('fer-mar', 0));
    expect(z1).toBeCloseTo(0.85 * 31.6 * perKm, 6);
    expect(z2).toBeCloseTo(1.2 * 31.6 * perKm, 6);
    expect(z2).toBeGreaterThan((31.6 + 0.5 * 10.2) * perKm);
    expect(z3).toBeCloseTo((31.6 + 1.2 * 18.9) * perKm, 6);
    const [, second, third] = rowAt('fer-mar', 0).zones;
    expect([second.reach!.by.rule.id, second.reach!.elements]).toEqual(['zone2-covers', ['fer-mar']]);
    expect([third.reach!.by.rule.id, third.reach!.elements]).toEqual(['zone3-next', ['fer-mar', 'mar-que', 'que-tol']]);
  });
  it('MAR to QUE: the nearest end of the tee for zone 1, the farthest for the others', () => {
    const row = rowAt('mar-que', 1);
    const [z1, z2, z3] = sizes(row);
    expect(z1).toBeCloseTo(0.85 * 10.2 * perKm, 6);
    expect(z2).toBeCloseTo((18.9 + 0.5 * 27.2) * perKm, 6);
    expect(z3).toBeCloseTo((18.9 + 1.2 * 27.2) * perKm, 6);
    expect(row.zones[0].reach!.elements).toEqual(['mar-que', 'que-spur']);
    expect(row.zones[1].reach!.elements).toEqual(['mar-que', 'que-tol', 'tol-cau']);
  });
  it('parallel lines as one halve what follows', () => {
    const [, apart] = sizes(rowAt('tol-cau', 0));
    const one = planOf(studies, true).find(({ end }) => end.line === id('tol-cau') && end.terminal === 0)!;
    const remote = rowAt('tol-cau', 0).figures.shortestNext;
    if (remote.elements.some((line) => line.startsWith('cau-fer')))
      expect(magnitude(one.figures.shortestNext.value!)).toBeCloseTo(magnitude(remote.value!) / 2, 9);
    expect(sizes(one)[1]).toBeLessThanOrEqual(apart + 1e-9);
  });
});

describe('lines as protection takes them', () => {
  it('end at breakers, and are joined at the tee of QUE', () => {
    const teed = circuitAt(demo, { line: id('mar-que') });
    expect([...teed.lines].sort()).toEqual(['mar-que', 'que-spur', 'que-tol']);
    expect(teed.ends).toHaveLength(3);
    for (const { lines, ends } of circuitsOf(demo).filter((each) => each !== teed && each.lines[0].startsWith('cau')))
      expect([lines.length, ends.length]).toEqual([1, 2]);
    const paths = pathsFrom(studies.max.assembly, teed, { line: id('mar-que'), terminal: 1 });
    expect(paths.map(({ ohm }) => magnitude(ohm) / perKm).sort((p, q) => p - q)[0]).toBeCloseTo(10.2, 6);
  });
  it('do not depend on the order of the elements', () => {
    const lines = (on: typeof demo) =>
      circuitsOf(on)
        .map((circuit) => [...circuit.lines].sort().join())
        .sort();
    expect(lines(networkOf([...demo.elements.values()].reverse()))).toEqual(lines(demo));
  });
});

describe('what a zone is decided by', () => {
  const demand = (sense: 'atLeast' | 'atMost', value: number, importance: number): ReachDemand => ({
    rule: { ...plainPractice.rules[0], id: `${sense}${value}`, sense, importance },
    value,
    figures: [],
  });
  it('is the largest floor under the lowest cap; the more important one where they cross', () => {
    const of = (...demands: ReachDemand[]) => decided(demands)!.value;
    expect(of(demand('atLeast', 3, 5), demand('atLeast', 5, 5), demand('atMost', 9, 1))).toBe(5);
    expect(of(demand('atMost', 9, 1), demand('atMost', 7, 5))).toBe(7);
    expect(of(demand('atLeast', 12, 5), demand('atMost', 9, 3))).toBe(9);
    expect(of(demand('atLeast', 12, 2), demand('atMost', 9, 3))).toBe(12);
    // Of two floors only the one that matters more than the cap holds against it.
    expect(of(demand('atLeast', 12, 5), demand('atLeast', 10, 1), demand('atMost', 9, 3))).toBe(10);
    expect(decided([])).toBeNull();
    expect(decided([demand('atLeast', 12, 5), demand('atMost', 9, 3)])!.against.map(({ value }) => value)).toEqual([
      12,
    ]);
  });
  it('keeps to the transformer at the far end where rules say so', () => {
    const own: Rulebook = {
      ...plainPractice,
      id: id('own-rules'),
      rules: plainPractice.rules.map((rule) =>
        rule.id === 'zone3-next' ? { ...rule, formula: 'own + 20 * longestNext' } : rule,
      ),
    };
    const book = withElements(demo, [own, { ...settingsOf(demo), rulebook: own.id }]);
    const row = planOf(new Studies(book)).find(({ end }) => end.line === id('fer-mar') && end.terminal === 0)!;
    const third = row.zones[2].reach!;
    expect(third.by.rule.id).toBe('zone3-transformer');
    expect(third.elements).toEqual(['fer-mar', 'mar-t1']);
    expect(third.value).toBeCloseTo(
      magnitude(add(row.figures.own.value!, scale(row.figures.transformer.value!, 0.8))),
      9,
    );
    expect(third.against.map(({ rule }) => rule.id)).toEqual(['zone3-next']);
  });
  it('never makes a later zone smaller than the one before, by plain practice', () => {
    for (const { zones } of plan) {
      const found = zones.flatMap(({ reach }) => (reach ? [reach.value] : []));
      expect([...found].sort((p, q) => p - q)).toEqual(found);
    }
  });
  it('says nothing for a line that leads nowhere', () => {
    const spur = zoneReaches(plainPractice, {
      ...aheadOf(studies, { line: id('que-spur'), terminal: 1 }, { merged: false }),
    });
    expect(spur[0].reach!.value).toBeCloseTo(0.85 * 10.2 * perKm, 6);
  });
});

describe('formulas of impedances', () => {
  const names = [
    { name: 'own', title: '', unit: 'ohm' },
    { name: 'next', title: '', unit: 'ohm' },
  ];
  const lookup = new Map(names.map((each) => [each.name, each]));
  const value = (text: string, values: Record<string, Complex | null>) => {
    const compiled = compile(text, names, 'ohm');
    if (!compiled.ok) throw new Error(compiled.problems[0].message);
    return evaluateComplex(compiled.formula, values, lookup);
  };
  it('are sums of phasors, and take the larger by magnitude, with what decided', () => {
    const number = fc.double({ min: 0.1, max: 50, noNaN: true });
    fc.assert(
      fc.property(number, number, number, number, number, (a, b, c, d, k) => {
        const [own, next] = [
          { re: a, im: b },
          { re: c, im: d },
        ];
        const sum = value(`own + ${k} * next`, { own, next });
        expect(sum.ok && magnitude(sum.value)).toBeCloseTo(Math.hypot(a + k * c, b + k * d), 9);
        const most = value('max(own, next)', { own, next });
        const isOwn = Math.hypot(a, b) >= Math.hypot(c, d);
        expect(most.ok && most.used).toEqual([isOwn ? 'own' : 'next']);
        const asked = value('next > own ? next : own', { own, next });
        expect(asked.ok && magnitude(asked.value)).toBeCloseTo(Math.max(Math.hypot(a, b), Math.hypot(c, d)), 9);
      }),
      { numRuns: runs(200) },
    );
  });
  it('know what is missing, and what is there instead', () => {
    const own = { re: 1, im: 2 };
    expect(value('own + next', { own, next: null })).toEqual({ ok: false, missing: ['next'] });
    const instead = value('firstKnown(next, 1.5 * own)', { own, next: null });
    expect(instead.ok && instead.value).toEqual({ re: 1.5, im: 3 });
    expect(value('abs(own - 2 * own) - min(own, 3 ohm) / 2 + sqrt(own^2)', { own, next: null }).ok).toBe(true);
  });
});

describe('along a route', () => {
  it('the share of a line at which a reach ends is where the magnitude is the reach', () => {
    const number = fc.double({ min: -20, max: 20, noNaN: true });
    fc.assert(
      fc.property(
        number,
        number,
        number,
        number,
        fc.double({ min: 0.1, max: 40, noNaN: true }),
        (a, b, c, d, reach) => {
          const [s, z] = [
            { re: a, im: b },
            { re: c, im: d },
          ];
          fc.pre(magnitude(z) > 0.1 && magnitude(s) < reach);
          const share = shareAt(s, z, reach);
          const end = magnitude(add(s, z));
          if (share === null) expect(end).toBeLessThanOrEqual(reach * (1 + 1e-6));
          else expect(magnitude(add(s, scale(z, share)))).toBeCloseTo(reach, 6);
        },
      ),
      { numRuns: runs(300) },
    );
  });
  it('takes lines one after the other, and refuses those that do not meet', () => {
    const { assembly } = studies.max;
    const route = routeOf(assembly, [id('fer-mar'), id('mar-que'), id('que-tol')])!;
    expect(route.lengthKm).toBeCloseTo(31.6 + 7.4 + 11.5, 9);
    expect(kmAt(route, 0, 40 * perKm)).toBeCloseTo(40, 6);
    expect(kmAt(route, 1, 10 * perKm)).toBeCloseTo(41.6, 6);
    expect(kmAt(route, 0, 60 * perKm)).toBeNull();
    expect(routeOf(assembly, [id('fer-mar'), id('cau-fer-1'), id('que-tol')])).toBeNull();
    expect(routeOf(assembly, [])).toBeNull();
  });
});

describe('a relay takes what is proposed', () => {
  const fn: DistanceFunction = freshDistance(id('z'), id('ct'));
  const row = rowAt('fer-mar', 0);
  const relay = { device: null as never, fn, secondary: 0.4 };
  it('in secondary ohms on its steps, whole or one zone', () => {
    const whole = withReaches(relay, row)!;
    row.zones.slice(0, 3).forEach(({ reach }, k) => {
      expect(whole.zones[k].reachOhm).toBeCloseTo(reach!.value * 0.4, 2);
      expect(Math.round(whole.zones[k].reachOhm * 100)).toBeCloseTo(whole.zones[k].reachOhm * 100, 6);
    });
    expect(whole.lineAngleDeg).toBe(73.6);
    expect(whole.k0).toBeCloseTo(magnitude(row.k0!), 3);
    const second = withReaches(relay, row, new Set([2]))!;
    expect([second.zones[0], second.zones[2]]).toEqual([fn.zones[0], fn.zones[2]]);
    expect(second.zones[1]).toEqual(whole.zones[1]);
    expect(withReaches({ ...relay, secondary: null }, row)).toBeNull();
  });
});

describe('what loops come to along a line', () => {
  it('is the impedance of the line up to the fault, for every kind without resistance, as long as nothing else feeds', () => {
    for (const kind of ['3ph', '2ph', '1ph', '2phE'] as const) {
      const row = rowAt('tol-cau', 1);
      const end = row.end;
      const steps = loopTrack(studies, {
        end,
        lines: [id('tol-cau')],
        kind,
        phaseOhm: 0,
        earthOhm: 0,
        state: { condition: id('maximum') as ElementId },
        k0: row.k0!,
      });
      let step = steps.next();
      while (!step.done) step = steps.next();
      expect(step.value.length).toBeGreaterThan(15);
      for (const { km, loops } of step.value) {
        expect(loops.length).toBeGreaterThan(0);
        for (const { ohm } of loops) expect(magnitude(ohm)).toBeCloseTo(km * perKm, 3);
      }
    }
  });
  it('grows by what another source feeds in: Z1 + Z2·(1 + IB/IA)', () => {
    const equal = apparentWithInfeed({
      own: { re: 100, im: 0 },
      other: { re: 100, im: 0 },
      sourceOhm: polar(1, 1.4),
      toTapOhm: polar(3, 1.4),
      otherOhm: polar(4, 1.4),
      toFaultOhm: polar(2, 1.4),
    });
    expect(equal.factor).toBeCloseTo(2, 9);
    expect(magnitude(equal.impedance)).toBeCloseTo(3 + 2 * 2, 9);
  });
});

it('arcs are longer the less current feeds them', () => {
  expect(warringtonOhm(4, 1000)).toBeCloseTo((28_710 * 4) / 1000 ** 1.4, 9);
  expect(warringtonOhm(4, 500) / warringtonOhm(4, 1000)).toBeCloseTo(2 ** 1.4, 9);
  expect(find(demo, 'line', id('fer-mar'))!.lengthKm).toBe(31.6);
});

describe('delays against overcurrent devices behind', () => {
  it('know the slowest at the far busbars, with its breaker; the rule that asks for it is there to be put in use', () => {
    // A relay at the transformer of Marrow Head.
    const relay = find(demo, 'relay', id('bra-q11-relay'))!;
    const stage = newFunction(id('mar-51'), '51', genericRelays[0].ranges);
    const at = {
      ...relay,
      id: id('mar-q11-relay'),
      name: 'MAR Q11 relay',
      functions: [{ ...stage, timeMultiplier: 0.4 }],
    };
    const own: typeof relay = {
      ...at,
      inputs: [{ ...relay.inputs[0], element: id('mar-ct11') } as (typeof relay.inputs)[number]],
      circuits: [{ ...relay.circuits[0], breakers: [id('mar-q11')] }],
    };
    const extended = new Studies(withElements(demo, [own]));
    const row = planOf(extended).find(({ end }) => end.line === id('fer-mar') && end.terminal === 0)!;
    const figure = row.figures.overcurrentAhead;
    expect(figure.elements).toEqual([own.id]);
    const device = deviceOf(extended.network, own.id)!;
    const place = terminalPlace(id('mar-ct11'), device.inputs[0].towards);
    const [seen] = seenBy(extended.max, place, ['3ph'], [device]);
    const { timeS } = operatingTime(curvesOf(device), seen!.devices[0]!);
    expect(figure.value!.re).toBeCloseTo(timeS + device.openingS, 12);
    // Without it there is none; the other way round neither.
    expect(rowAt('fer-mar', 0).figures.overcurrentAhead.value).toBeNull();
    expect(row.zones[1].delay!.by.rule.id).toBe('zone2-delay');
    const book: Rulebook = {
      ...plainPractice,
      id: id('own'),
      rules: plainPractice.rules.map((rule) => ({ ...rule, enabled: true })),
    };
    const asked = zoneReaches(book, row.figures)[1].delay!;
    expect(asked.by.rule.id).toBe('zone2-delay-overcurrent');
    expect(asked.value).toBeCloseTo(figure.value!.re + settingsOf(demo).wantedMarginS, 9);
  });
});
