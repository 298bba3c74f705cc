/** Each rule on small networks made for it: when it speaks, when it does not, and what it says. */
import { describe, expect, it } from 'vitest';
import { elementId } from '../model/fields';
import { minimumSources, maximumSources } from '../model/condition';
import { find, ofKind, withElements, type Network } from '../model/network';
import { currentInput, tripCircuit, type Relay } from '../model/protection';
import { deviceOf } from '../protection/device';
import { genericRelays, newFunction } from '../protection/overcurrent/library';
import type { OvercurrentFunction } from '../protection/overcurrent/schema';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { expectFollowed } from '../test/followed';
import { Builder } from '../test/network';
import type { Check } from './check';
import { checked, findings, workingOf } from './run';
import { ratedCurrentOf, runOf } from './runs';
import { requiredSensitivity, sensitivities } from './settings/sensitivity';

const id = elementId;
const level = (ikKa: number) => ({
  given: 'current' as const,
  ikKa,
  skMva: null,
  rOverX: 0.1,
  x0OverX1: 1,
  r0OverX0: 0.1,
});

const fn = (over: Partial<OvercurrentFunction> = {}): OvercurrentFunction => ({
  ...newFunction(id('f51'), '51', genericRelays[0].ranges),
  ...over,
});

/** 11 kV bus at 20 kA (12 kA in the minimum), breaker, CT 400/1, line to a second bus, a relay at the CT. */
function feeder(over: { relay?: Partial<Relay>; breaker?: object; ct?: object; far?: boolean } = {}): Network {
  const builder = new Builder();
  builder.add('bus', 'B1', { nominalKv: 11 });
  builder.add('bus', 'B2', { nominalKv: 11 });
  builder.add('networkFeeder', 'N', { max: level(20), min: level(12) });
  const q = builder.add('switch', 'Q', over.breaker);
  const ct = builder.add('currentTransformer', 'CT', { primaryA: 400, ...over.ct });
  builder.join('N', 'B1', 'B1', 'Q:0', 'Q:1', 'CT:0');
  if (over.far !== false) {
    builder.add('line', 'L', { lengthKm: 4, r1OhmPerKm: 0.3, x1OhmPerKm: 0.35, r0OhmPerKm: 0.6, x0OhmPerKm: 1 });
    builder.join('CT:1', 'L:0', 'L:1', 'B2');
  }
  builder.add('relay', 'R', {
    inputs: [currentInput(ct)],
    circuits: [tripCircuit([q])],
    functions: [fn()],
    ...over.relay,
  });
  return builder.network();
}

const about = (network: Network, element: string) =>
  findings(new Studies(network)).filter((problem) => problem.element === element);
const checksOf = (network: Network, rule: string): readonly Check[] =>
  checked(new Studies(network), undefined, [rule]).checks;

describe('parts of a relay', () => {
  const told = (relay: Partial<Relay>) =>
    about(feeder({ relay }), 'R').map(({ severity, code, message, field }) => [severity, code, message, field]);
  it('nothing is said of one that has all', () => {
    expect(told({})).toEqual([]);
  });
  it('no current transformer, no breaker, no function: each for itself', () => {
    expect(told({ inputs: [], functions: [fn({ enabled: false })] })).toEqual([
      ['error', 'relay.ct', 'R measures at no current transformer', 'inputs'],
      ['warning', 'relay.functions', 'R has no function in use', undefined],
    ]);
    expect(told({ circuits: [] })).toEqual([['warning', 'relay.trips', 'R trips no breaker', 'circuits']]);
    expect(told({ functions: [] })).toEqual([['warning', 'relay.functions', 'R has no function in use', undefined]]);
  });
  it('a function in use at an input that is not there; one that is switched off may be', () => {
    const ghost = fn({ input: id('ghost') });
    expect(told({ functions: [ghost] })).toEqual([
      ['error', 'relay.input', 'R: a function measures at no input of it', 'functions'],
    ]);
    expect(told({ functions: [fn(), { ...ghost, id: id('off'), enabled: false }] })).toEqual([]);
  });
  it('a current transformer behind which nothing is', () => {
    expect(about(feeder({ far: false }), 'R')).toMatchObject([
      {
        severity: 'warning',
        code: 'relay.current',
        message: 'no fault current reaches the current transformer of R',
        todo: expect.stringContaining('which side'),
      },
    ]);
  });
});

describe('available settings', () => {
  it('each setting of each function in use is held against its range', () => {
    const checks = checksOf(
      feeder({ relay: { functions: [fn({ pickup: 1.5, timeMultiplier: 0.3 })] } }),
      'settings.steps',
    );
    expect(checks.length).toBeGreaterThanOrEqual(2);
    expect(checks[0]).toEqual({
      id: 'steps R f51 pickup',
      rule: 'settings.steps',
      code: 'setting.step',
      subject: 'R',
      title: '51 pickup available',
      value: 1.5,
      bound: 1.5,
      unit: '× In',
      sense: 'atLeast',
      deciding: null,
      verdict: 'holds',
      severity: 'error',
      message: 'R, 51: pickup 1.5 is an available setting',
      field: 'functions.f51.pickup',
    });
    const { step } = fn().ranges.pickup;
    const [off] = checksOf(feeder({ relay: { functions: [fn({ pickup: 1.5 + step / 3 })] } }), 'settings.steps');
    expect(off).toMatchObject({ bound: 1.5, verdict: 'short' });
    expect(off.message).toMatch(/^R, 51: pickup 1.50\d+ is not an available setting; nearest 1.5$/);
    expect(
      checksOf(feeder({ relay: { functions: [fn({ enabled: false, pickup: 1.507 })] } }), 'settings.steps'),
    ).toEqual([]);
  });
});

describe('sensitivity at the far end', () => {
  const sens = (network: Network) => {
    const studies = new Studies(network);
    return sensitivities(studies, deviceOf(network, id('R'))!, studies.conditions);
  };
  const at = (pickup: number) => feeder({ relay: { functions: [fn({ pickup })] } });
  it('is the smallest fault there over the lowest pickup, in the condition that gives least', () => {
    const [one] = sens(at(1));
    expect(one).toMatchObject({ measured: 'phase', pickupA: 400, by: { code: '51' } });
    // Two phases at the far end, minimum sources, by hand: √3/2 · c·U/√3 over |Z|, and the line warmed to its end temperature.
    const z = { re: 0, im: 0 };
    const zq = (1.0 * 11000) / Math.sqrt(3) / 12000;
    z.im = zq / Math.hypot(1, 0.1);
    z.re = 0.1 * z.im;
    const line = find(at(1), 'line', id('L'))!;
    z.re += 4 * 0.3 * (1 + 0.004 * (line.endTemperatureC - 20));
    z.im += 4 * 0.35;
    const two = (Math.sqrt(3) / 2) * (11000 / Math.sqrt(3) / Math.hypot(z.re, z.im));
    expect(one.currentA / two).toBeCloseTo(1, 3);
    expect(one.factor).toBeCloseTo(one.currentA / 400, 9);
    expect(one.figure).toMatchObject({ condition: minimumSources.id, kind: '2ph', place: 'L' });
    const both = feeder({ relay: { functions: [fn({ pickup: 2 }), fn({ id: id('g'), pickup: 1.2 })] } });
    expect(sens(both)[0].pickupA).toBeCloseTo(480, 9);
    expect(sens(feeder({ relay: { functions: [] } }))).toEqual([]);
  });
  it('measures each quantity by its own functions', () => {
    const earth: OvercurrentFunction = { ...newFunction(id('e'), '51N', genericRelays[0].ranges), pickup: 0.2 };
    const found = sens(feeder({ relay: { functions: [fn(), earth] } }));
    expect(found.map(({ measured, pickupA }) => [measured, pickupA])).toEqual([
      ['phase', 480],
      ['earth', 80],
    ]);
    expect(found[1].figure.kind === '1ph' || found[1].figure.kind === '2phE').toBe(true);
    expect(sens(feeder({ relay: { functions: [earth] } })).map(({ measured }) => measured)).toEqual(['earth']);
  });
  it('below the required factor is doubtful, below the pickup short; and the working divides one by the other', () => {
    const { factor } = sens(at(1))[0];
    const verdicts = [1.01, 1.49, 1.51].map((times) => {
      const network = at(factor / times);
      const [check] = checksOf(network, 'settings.sensitivity');
      return [check.verdict, check.severity];
    });
    expect(verdicts).toEqual([
      ['doubtful', 'warning'],
      ['doubtful', 'warning'],
      ['holds', 'warning'],
    ]);
    const blind = at(factor / 0.5);
    const [check] = checksOf(blind, 'settings.sensitivity');
    expect(check).toMatchObject({
      id: 'sensitivity R phase',
      title: 'Sensitivity, phase faults at B2',
      value: expect.closeTo(0.5, 6),
      bound: requiredSensitivity,
      unit: '× pickup',
      sense: 'atLeast',
      verdict: 'short',
      severity: 'error',
      message: 'R, 51: smallest two-phase fault at B2 is 0.50 × pickup (required 1.5 ×)',
      deciding: { condition: 'minimum', kind: '2ph', place: 'L' },
    });
    const studies = new Studies(blind);
    const { sections } = workingOf(studies, studies.conditions, check)!;
    expect(sections.map(({ title }) => title)).toEqual(['R, phase faults at B2']);
    expect(sections[0].steps).toHaveLength(1);
    expectFollowed(sections, 'sensitivity');
  });
});

describe('margins as checks', () => {
  const demo = demoNetwork();
  const pair = (network: Network, name: string): Check | undefined =>
    checksOf(network, 'grading.pairs').find(({ id: key }) => key === `pair ${name}`);
  const relay = (name: string) => find(demo, 'relay', id(name))!;
  const with51 = (name: string, over: Partial<OvercurrentFunction>) => {
    const found = relay(name);
    return withElements(demo, [
      { ...found, functions: found.functions.map((each) => ({ ...each, ...over }) as OvercurrentFunction) },
    ]);
  };
  const low = 'chart-phase bra-f41-relay bra-q32-relay';
  it('hold with what is left, or are short by how much', () => {
    const holds = pair(demo, low)!;
    expect(holds).toMatchObject({
      code: 'grading.holds',
      subject: 'chart-phase',
      elements: ['bra-f41-relay', 'bra-q32-relay'],
      title: 'Margin BRA F41 relay → BRA Q32 relay, phase faults',
      bound: 0.3,
      unit: 's',
      sense: 'atLeast',
      verdict: 'holds',
      severity: 'warning',
    });
    expect(holds.message).toMatch(/^BRA F41 relay → BRA Q32 relay, phase faults: margin 0\.342 s at 35\d\d\d A$/);
    expect(holds.deciding).toEqual({ condition: 'maximum', kind: '3ph' });
    const short = pair(demo, 'chart-phase bra-q32-relay bra-q21-relay')!;
    expect(short).toMatchObject({ code: 'grading.short', verdict: 'short', severity: 'error' });
    expect(short.message).toMatch(/margin 0\.223 s at 5119 A, 0\.077 s below the required 0\.3 s$/);
  });
  it('are short for a device that is blind, doubtful without backup or without what it takes to tell', () => {
    const blind = pair(with51('bra-f41-relay', { pickup: 400 }), low)!;
    expect(blind).toMatchObject({
      code: 'grading.blind',
      verdict: 'short',
      severity: 'error',
      value: null,
      deciding: null,
    });
    const alone = pair(with51('bra-q32-relay', { pickup: 400 }), low)!;
    expect(alone).toMatchObject({ code: 'grading.noBackup', verdict: 'doubtful', severity: 'warning' });
    const without = withElements(demo, [{ ...relay('bra-f41-relay'), inputs: [] }]);
    expect(pair(without, low)).toMatchObject({
      code: 'grading.unknown',
      verdict: 'doubtful',
      severity: 'warning',
      value: null,
    });
    for (const check of [blind, alone])
      expect(check.message).toMatch(/^BRA F41 relay → BRA Q32 relay, phase faults: .{10}/);
    const gone = new Map(demo.elements);
    gone.delete(id('bra-f41-relay'));
    expect(pair({ elements: gone }, low)).toBeUndefined();
  });
  it('have a working: both times by the functions that trip, their difference, and what is left of it', () => {
    const studies = new Studies(demo);
    const check = pair(demo, low)!;
    const working = workingOf(studies, studies.conditions, check)!;
    expect(working.sections.map(({ title }) => title)).toEqual(
      ['BRA F41 relay, 50', 'BRA Q32 relay, 50', 'Margin'].map((title, k) =>
        k < 2 ? working.sections[k].title : title,
      ),
    );
    expect(working.sections.map(({ element }) => element)).toEqual(['bra-f41-relay', 'bra-q32-relay', undefined]);
    expect(working.sections[0].title).toMatch(/^BRA F41 relay, 5[01]$/);
    expect(working.sections[1].title).toMatch(/^BRA Q32 relay, 5[01]$/);
    for (const { steps } of working.sections) expect(steps.length).toBeGreaterThan(0);
    expectFollowed(working.sections, 'pair');
    const [margin, left] = working.sections[2].steps;
    expect(margin.result).toMatchObject({ symbol: 'Δt', value: check.value, unit: 's' });
    expect(left.result.value).toBeCloseTo(check.value! - 0.3, 9);
    const blind = with51('bra-f41-relay', { pickup: 400 });
    const none = new Studies(blind);
    expect(workingOf(none, none.conditions, pair(blind, low)!)!.sections).toEqual([]);
  });
});

describe('feeders without protection', () => {
  const told = (network: Network) =>
    findings(new Studies(network))
      .filter(({ code }) => code === 'protection.none')
      .map(({ message, elements }) => [message, elements]);
  it('are those whose breakers nothing opens that is in use', () => {
    expect(told(feeder())).toEqual([]);
    expect(told(feeder({ relay: { functions: [fn({ enabled: false })] } }))).toEqual([['no relay trips Q', ['Q']]]);
    expect(told(feeder({ relay: { circuits: [] } }))).toEqual([['no relay trips Q', ['Q']]]);
    expect(told(feeder({ relay: { circuits: [] }, breaker: { type: 'disconnector' } }))).toEqual([]);
  });
  it('leave out couplers and spare breakers; one relay or fuse stands for all switches of a run', () => {
    const builder = new Builder();
    for (const name of ['B1', 'B2']) builder.add('bus', name, { nominalKv: 11 });
    builder.add('networkFeeder', 'N');
    for (const name of ['K', 'S', 'Q1', 'Q2', 'Q3']) builder.add('switch', name);
    builder.add('switch', 'F', { type: 'fuse' });
    for (const name of ['V1', 'V2']) builder.add('load', name);
    builder.join('N', 'B1', 'B1', 'K:0', 'K:1', 'B2', 'B1', 'S:0');
    builder.join('B1', 'Q1:0', 'Q1:1', 'Q2:0', 'Q2:1', 'V1', 'B2', 'Q3:0', 'Q3:1', 'F:0', 'F:1', 'V2');
    expect(told(builder.network())).toEqual([['no relay trips Q1, Q2', ['Q1', 'Q2']]]);
  });
});

describe('data', () => {
  const told = (network: Network, code: string) =>
    findings(new Studies(network))
      .filter((problem) => problem.code === code)
      .map(({ severity, message, element, field }) => [severity, message, element, field]);
  it('free ends, by which terminal', () => {
    const builder = new Builder();
    builder.add('bus', 'A', { nominalKv: 33 });
    builder.add('bus', 'B', { nominalKv: 11 });
    builder.add('networkFeeder', 'N');
    builder.add('transformer', 'T1', { hvKv: 33, lvKv: 11 });
    builder.add('transformer', 'T2', { hvKv: 33, lvKv: 11 });
    builder.add('load', 'V');
    builder.add('switch', 'Q');
    builder.join('N', 'A', 'A', 'T1:0', 'T2:1', 'B');
    expect(
      told(builder.network(), 'terminal.open')
        .map(([severity, message]) => [severity, message])
        .sort(),
    ).toEqual([
      ['warning', 'T1 is connected at one end only (terminal 2 is free)'],
      ['warning', 'T2 is connected at one end only (terminal 1 is free)'],
      ['warning', 'V is connected to nothing'],
    ]);
  });
  it('rated voltages that do not match the level, at either end and of every kind', () => {
    const builder = new Builder();
    for (const [name, nominalKv] of Object.entries({ A: 33, B: 11, C: 0.4 })) builder.add('bus', name, { nominalKv });
    builder.add('networkFeeder', 'N');
    builder.add('transformer', 'T', { hvKv: 30, lvKv: 6.6 });
    builder.add('transformer', 'U', { hvKv: 22, lvKv: 0.42 });
    builder.add('synchronousMachine', 'G', { ratedKv: 10.5 });
    builder.add('asynchronousMotor', 'M', { ratedKv: 6 });
    builder.add('shunt', 'S', { ratedKv: 9 });
    builder.add('voltageTransformer', 'V', { primaryKv: 33 });
    builder.add('switch', 'Q', { ratedKv: 7.2 });
    builder.add('switch', 'P', { ratedKv: 0.69 });
    builder.join(
      'N',
      'A',
      'A',
      'T:0',
      'T:1',
      'B',
      'B',
      'U:0',
      'U:1',
      'C',
      'B',
      'G',
      'B',
      'M',
      'B',
      'S',
      'B',
      'V',
      'B',
      'Q:0',
    );
    expect(told(builder.network(), 'voltage.rated')).toEqual([
      ['error', "Q: rated voltage 7.2 kV is below the network's 11 kV", 'Q', 'ratedKv'],
      ['warning', 'T: rated voltage 6.6 kV does not match B (11 kV)', 'T', 'lvKv'],
      ['warning', 'U: rated voltage 22 kV does not match B (11 kV)', 'U', 'hvKv'],
      ['warning', 'M: rated voltage 6 kV does not match B (11 kV)', 'M', 'ratedKv'],
      ['warning', 'S: rated voltage 9 kV does not match B (11 kV)', 'S', 'ratedKv'],
      ['warning', 'V: rated voltage 33 kV does not match B (11 kV)', 'V', 'primaryKv'],
    ]);
  });
  it('zero-sequence data that are missing, once for each element; values that nobody confirmed, by kind', () => {
    const builder = new Builder();
    for (const [name, nominalKv] of Object.entries({ A: 132, M: 33, L: 11 })) builder.add('bus', name, { nominalKv });
    builder.add('networkFeeder', 'N', { assumed: ['max.ikKa'] });
    builder.add('threeWindingTransformer', 'T', { hvKv: 132, mvKv: 33, lvKv: 11, assumed: [] });
    for (const name of ['V1', 'V2']) builder.add('load', name, { assumed: ['ratedMva'] });
    builder.join('N', 'A', 'A', 'T:0', 'T:1', 'M', 'T:2', 'L', 'M', 'V1', 'L', 'V2');
    const network = builder.network();
    expect(told(network, 'zeroSequence.missing')).toEqual([
      ['warning', 'zero-sequence data of T are missing; earth faults around it are not computed', 'T', 'hvLv.x0OverX1'],
    ]);
    const assumed = findings(new Studies(network)).filter(({ code }) => code === 'data.assumed');
    expect(assumed.map(({ message, element, elements }) => [message, element, elements])).toEqual([
      ['Network feeder: typical values stand in for data of N', 'N', ['N']],
      ['Load: typical values stand in for data of V1, V2', 'V1', ['V1', 'V2']],
    ]);
  });
});

describe('equipment', () => {
  it('breaking capacity: the largest of all places, kinds and conditions decides', () => {
    const [holds, total] = checksOf(feeder({ breaker: { breakingKa: 25 } }), 'equipment.breaking');
    const { duty, ...told } = holds;
    expect(told).toEqual({
      id: 'breaking Q',
      rule: 'equipment.breaking',
      code: 'rating.breaking',
      subject: 'Q',
      title: 'Breaking capacity',
      value: 25,
      bound: expect.closeTo(20, 9),
      unit: 'kA',
      sense: 'atLeast',
      deciding: { condition: maximumSources.id, kind: '3ph' },
      verdict: 'holds',
      severity: 'warning',
      message: 'Q: breaking capacity 25 kA covers Ib 20 kA',
      field: 'breakingKa',
    });
    expect(duty).toMatchObject({
      table: 'breaking',
      standard: 'IEC 62271-100',
      utilisationPercent: expect.closeTo(80, 9),
      xOverR: expect.closeTo(10, 6),
      whole: false,
    });
    // 70 ms after the fault, R/X = 0.1: e^(−2π·50·0.07·0.1) = 0.1109 of the peak; rated e^(−70/45) = 0.2111.
    expect(total.duty!.dcPercent).toBeCloseTo(11.09, 2);
    expect(total.bound).toBeCloseTo(20 * Math.sqrt(1 + 2 * 0.1109 ** 2), 3);
    expect(total.value).toBeCloseTo(25 * Math.sqrt(1 + 2 * Math.exp(-140 / 45)), 9);
    for (const type of ['disconnector', 'link'])
      expect(checksOf(feeder({ breaker: { breakingKa: 1, type } }), 'equipment.breaking')).toEqual([]);
    expect(checksOf(feeder(), 'equipment.breaking')).toEqual([]);
    // Both sides dead: nothing to compare.
    const dead = new Map(feeder({ breaker: { breakingKa: 25 } }).elements);
    dead.delete(id('N'));
    expect(checksOf({ elements: dead }, 'equipment.breaking')).toEqual([]);
    const studies = new Studies(feeder({ breaker: { breakingKa: 25 } }));
    const { sections, clause } = workingOf(studies, studies.conditions, holds)!;
    expect(clause).toContain('IEC 62271-100');
    expect(sections[0].steps[0].result.value).toBeCloseTo(20, 9);
    expectFollowed(sections, 'breaking');
  });
  it('rated current: the largest of what hangs on the run, on both sides', () => {
    const builder = new Builder();
    builder.add('bus', 'B', { nominalKv: 11 });
    builder.add('networkFeeder', 'N');
    for (const name of ['Q', 'P']) builder.add('switch', name, { ratedA: 100 });
    builder.add('currentTransformer', 'CT', { primaryA: 100 });
    builder.add('transformer', 'T', { ratedMva: 1.6, hvKv: 11, lvKv: 0.42 });
    builder.add('asynchronousMotor', 'M', {
      ratedMw: 2,
      ratedKv: 11,
      efficiencyPercent: 95,
      powerFactor: 0.85,
      count: 1,
    });
    builder.join('N', 'B', 'B', 'Q:0', 'Q:1', 'CT:0', 'CT:1', 'T:0', 'CT:1', 'M', 'B', 'P:0');
    const network = builder.network();
    const run = runOf(network, id('CT'));
    expect(run.inline.map(({ id: each }) => each).sort()).toEqual(['CT', 'Q']);
    expect(run.buses.map(({ id: each }) => each)).toEqual(['B']);
    expect(run.others.map(({ element, terminal }) => [element.id, terminal]).sort()).toEqual([
      ['M', 0],
      ['T', 0],
    ]);
    const motorA = 2000 / (0.95 * 0.85 * Math.sqrt(3) * 11);
    const checks = checksOf(network, 'equipment.ratedCurrent');
    expect(checks).toEqual([
      {
        id: 'ratedCurrent Q',
        rule: 'equipment.ratedCurrent',
        code: 'rating.current',
        subject: 'Q',
        title: 'Rated current',
        value: 100,
        bound: expect.closeTo(motorA, 9),
        unit: 'A',
        sense: 'atLeast',
        deciding: null,
        verdict: 'short',
        severity: 'warning',
        message: 'Q: rated current 100 A is below the rated current of M, 130 A',
        field: 'ratedA',
        proposal: { text: '160 A', takes: [{ path: 'ratedA', value: 160 }] },
      },
      expect.objectContaining({
        subject: 'CT',
        message: 'CT: rated primary current 100 A is below the rated current of M, 130 A',
        field: 'primaryA',
        proposal: { text: '150 A', takes: [{ path: 'primaryA', value: 150 }] },
      }),
    ]);
  });
  it('rated currents by kind and terminal', () => {
    const builder = new Builder();
    builder.add('transformer', 'T', { ratedMva: 10, hvKv: 33, lvKv: 11 });
    builder.add('asynchronousMotor', 'M', {
      ratedMw: 1,
      ratedKv: 6,
      efficiencyPercent: 90,
      powerFactor: 0.8,
      count: 3,
    });
    builder.add('synchronousMachine', 'G', { ratedMva: 5, ratedKv: 10.5 });
    builder.add('staticDrive', 'D', { ratedMva: 2, ratedKv: 0.69 });
    builder.add('load', 'V');
    const network = builder.network();
    const of = (name: string, terminal = 0) => ratedCurrentOf(network.elements.get(id(name))!, terminal);
    expect(of('T')).toBeCloseTo(174.955, 3);
    expect(of('T', 1)).toBeCloseTo(524.864, 3);
    expect(of('M')).toBeCloseTo(3000 / (0.9 * 0.8 * Math.sqrt(3) * 6), 9);
    expect(of('G')).toBeCloseTo(274.929, 3);
    expect(of('D')).toBeCloseTo(1673.479, 3);
    expect(of('V')).toBeNull();
    expect(ofKind(network, 'load')).toHaveLength(1);
  });
});
