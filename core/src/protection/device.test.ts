/** Relays and switches as devices: where they measure, what they open, what they protect and see. */
import { describe, expect, it } from 'vitest';
import { magnitude } from '../linear/complex';
import { solidFault } from '../faults/kinds';
import { faultAtPlace, faultFlows, iec60909Study, terminalPlace } from '../faults/iec60909/study';
import { throughElement } from '../faults/iec60909/contributions';
import { elementId } from '../model/fields';
import { find, withElements } from '../model/network';
import { currentInput, tripCircuit } from '../model/protection';
import { toPhases } from '../sequence/components';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { Builder } from '../test/network';
import { currentOf, deviceFrom, deviceOf, devicesOf, mainInput, timeCurrents, withFunction } from './device';
import { curvePoints, curvesOf, measuredBy, operatingTime } from './curve';
import { newFunction, genericRelays } from './overcurrent/library';
import { familyNamed } from './registry';
import { figuresOf, seenBy } from './seen';
import { closeInPlace, farEnds } from './zone';

const id = elementId;
const demo = demoNetwork();
const { ranges } = genericRelays[0];
const fn = (code: '51' | '50' | '51N' | '46', name: string = code) => newFunction(id(name), code, ranges);

describe('devices', () => {
  it('are relays, and switches with functions of their own', () => {
    const all = devicesOf(demo);
    const count = (kind: string) => all.filter((each) => each.kind === kind).length;
    expect(['relay', 'recloser', 'fuse', 'release'].map(count)).toEqual([31, 1, 9, 10]);
    // Relays stand before what protects by itself.
    expect(all.slice(0, 29).every(({ kind }) => kind === 'relay')).toBe(true);
    expect(deviceOf(demo, id('bra-q32'))).toBeUndefined();
    expect(deviceOf(demo, id('nobody'))).toBeUndefined();
    expect(deviceOf(demo, id('bra-t1'))).toBeUndefined();
    const recloser = deviceOf(demo, id('pen-r1'))!;
    expect(recloser).toMatchObject({ id: 'pen-r1', name: 'PEN R1', opens: ['pen-r1'] });
    expect(recloser.inputs).toEqual([
      { id: 'own', through: 'pen-r1', towards: 1, reversed: false, rating: { primaryA: 200, secondaryA: 200 } },
    ]);
    const relay = find(demo, 'relay', id('bra-q32-relay'))!;
    const device = deviceFrom(demo, relay)!;
    expect(device).toMatchObject({ kind: 'relay', opens: ['bra-q32'], element: relay, functions: relay.functions });
    expect(mainInput(device)).toMatchObject({ through: 'bra-ct32', rating: { primaryA: 150, secondaryA: 1 } });
    const twice = { ...relay, circuits: [tripCircuit([id('bra-q32')]), tripCircuit([id('bra-q32'), id('bra-q21')])] };
    expect(deviceFrom(demo, twice)!.opens).toEqual(['bra-q32', 'bra-q21']);
    const lost = { ...relay, inputs: [currentInput(null), currentInput(id('nobody')), relay.inputs[0]] };
    expect(deviceFrom(demo, lost)!.inputs).toHaveLength(1);
  });
  it('switches are told by their type, and by what protects there', () => {
    const q = find(demo, 'switch', id('bra-q32'))!;
    const overload = familyNamed('overload').fresh(id('o'), '49', null);
    const release = familyNamed('release').fresh(id('r'), 'release', null);
    const kindOf = (type: typeof q.type, ...functions: (typeof overload | typeof release)[]) =>
      deviceFrom(demo, { ...q, type, functions })?.kind;
    expect(kindOf('breaker', release)).toBe('release');
    expect(kindOf('breaker', overload)).toBe('motorProtection');
    expect(kindOf('contactor', release)).toBe('motorProtection');
    expect(kindOf('fuse', release)).toBe('fuse');
    expect(kindOf('recloser', release)).toBe('recloser');
    expect(kindOf('breaker')).toBeUndefined();
    const bare = deviceFrom(demo, { ...q, ratedA: null, functions: [release] })!;
    expect(bare.inputs[0].rating).toEqual({ primaryA: 1, secondaryA: 1 });
  });
  it('have curves of what is in use and measures somewhere', () => {
    const relay = find(demo, 'relay', id('bra-q32-relay'))!;
    const input = relay.inputs[0].id;
    const functions = [
      { ...fn('51'), input },
      { ...fn('50'), input, enabled: false },
      { ...fn('51N'), input: id('ghost') },
      { ...familyNamed('reclosing').fresh(id('79'), '79', input) },
    ];
    const device = deviceFrom(demo, { ...relay, functions })!;
    expect(timeCurrents(device).map(({ code }) => code)).toEqual(['51']);
    const replaced = withFunction({ ...relay, functions }, { ...functions[1], enabled: true });
    expect(replaced.functions.map(({ enabled }) => enabled)).toEqual([true, true, true, true]);
    expect(replaced.functions[0]).toBe(functions[0]);
    const recloser = deviceOf(demo, id('pen-r1'))!;
    expect(timeCurrents(recloser).map(({ code, input: at }) => [code, at])).toEqual([
      ['51', 'own'],
      ['51', 'own'],
    ]);
  });
});

describe('what a device sees', () => {
  const study = new Studies(demo).max;
  const two = [deviceOf(demo, id('bra-q32-relay'))!, deviceOf(demo, id('bra-q21-relay'))!];
  const place = terminalPlace(id('bra-0-4'));
  it('is the current through its current transformer, by phases, residual and negative sequence', () => {
    for (const kind of ['3ph', '2ph', '1ph'] as const) {
      const [seen] = seenBy(study, place, [kind], two);
      const whole = faultAtPlace(study, place, solidFault(kind));
      if (!whole.ok || !seen) throw new Error('no fault');
      const flows = faultFlows(whole.fault);
      two.forEach((device, k) => {
        const { id: input, through } = device.inputs[0];
        const components = throughElement(whole.fault, flows, through)!;
        const phases = toPhases(components);
        const here = seen.devices[k]![input];
        expect(here.phaseA).toBeCloseTo(Math.max(...[phases.l1, phases.l2, phases.l3].map(magnitude)), 6);
        expect(here.residualA).toBeCloseTo(3 * magnitude(components.zero), 6);
        expect(here.negativeA).toBeCloseTo(magnitude(components.negative), 6);
        expect(figuresOf(components)).toEqual({
          phaseA: expect.closeTo(here.phaseA, 6),
          residualA: expect.closeTo(here.residualA, 6),
          negativeA: expect.closeTo(here.negativeA, 6),
        });
        expect([currentOf(here, 'phase'), currentOf(here, 'residual'), currentOf(here, 'negative')]).toEqual([
          here.phaseA,
          here.residualA,
          here.negativeA,
        ]);
      });
      expect(seen.fault.ikA).toBeCloseTo(whole.fault.ikA, 9);
    }
  });
  it('is dealt to its inputs in order; nothing where the first one is cut off, or the place has no fault', () => {
    const relay = find(demo, 'relay', id('bra-q32-relay'))!;
    const second = { ...currentInput(id('bra-ct21')), id: id('second') };
    const both = deviceFrom(demo, { ...relay, inputs: [relay.inputs[0], second] })!;
    const [seen] = seenBy(study, place, ['3ph'], [both, ...two]);
    const [mine, q32, q21] = seen!.devices;
    expect(Object.keys(mine!)).toEqual([relay.inputs[0].id, 'second']);
    expect(mine![relay.inputs[0].id]).toEqual(q32![relay.inputs[0].id]);
    expect(mine!.second).toEqual(Object.values(q21!)[0]);
    expect(mine!.second).not.toEqual(mine![relay.inputs[0].id]);
    const none = deviceFrom(demo, { ...relay, inputs: [] })!;
    const [[blind]] = [seenBy(study, place, ['3ph'], [none])];
    expect(blind!.devices).toEqual([null]);
    expect(seenBy(study, terminalPlace(id('nobody')), ['3ph', '1ph'], two)).toEqual([null, null]);
    const open = withElements(demo, [{ ...find(demo, 'switch', id('bra-q32'))!, closed: false }]);
    const [apart] = seenBy(iec60909Study(open, 'max'), terminalPlace(id('bra-33')), ['3ph'], two);
    expect(apart!.devices[1]).not.toBeNull();
  });
});

describe('what a device protects', () => {
  const builder = new Builder();
  for (const [name, nominalKv] of Object.entries({ A: 33, B: 33, C: 33, D: 11, E: 33 }))
    builder.add('bus', name, { nominalKv });
  builder.add('networkFeeder', 'N');
  for (const name of ['CT', 'CT2', 'CT3', 'CTX']) builder.add('currentTransformer', name);
  builder.add('switch', 'Q');
  builder.add('line', 'L');
  builder.add('line', 'M');
  builder.add('seriesReactor', 'X', { ratedKv: 33 });
  builder.add('transformer', 'T', { hvKv: 33, lvKv: 11 });
  builder.add('threeWindingTransformer', 'W', { hvKv: 33, mvKv: 11, lvKv: 6 });
  builder.join('N', 'A', 'A', 'CT:0', 'CT:1', 'Q:0', 'Q:1', 'L:0', 'Q:1', 'T:0', 'L:1', 'B', 'T:1', 'D');
  builder.join(
    'B',
    'CT2:0',
    'CT2:1',
    'M:1',
    'M:0',
    'C',
    'B',
    'CT3:0',
    'CT3:1',
    'X:0',
    'X:1',
    'E',
    'E',
    'CTX:0',
    'CTX:1',
    'W:0',
  );
  const relayAt = (ct: string, towards: 0 | 1 = 1) => {
    builder.add('relay', `R${ct}${towards}`, { inputs: [currentInput(id(ct), towards)] });
  };
  for (const ct of ['CT', 'CT2', 'CT3', 'CTX']) relayAt(ct);
  relayAt('CT', 0);
  builder.add('relay', 'blind', { inputs: [] });
  const network = builder.network();
  const study = iec60909Study(network, 'max');
  const device = (name: string) => deviceOf(network, id(name))!;
  const ends = (name: string) =>
    farEnds(study, device(name))
      .map(({ element, terminal }) => `${element}:${terminal}`)
      .sort();
  it('begins just beyond its transformer, on the protected side', () => {
    expect(closeInPlace(device('RCT1'))).toEqual(terminalPlace(id('CT'), 1));
    expect(closeInPlace(device('RCT0'))).toEqual(terminalPlace(id('CT'), 0));
    expect(closeInPlace(device('blind'))).toBeNull();
  });
  it('ends at the far ends of all branches there, or at its own busbar', () => {
    expect(ends('RCT1')).toEqual(['L:1', 'T:1']);
    expect(ends('RCT21')).toEqual(['M:0']);
    expect(ends('RCT31')).toEqual(['X:1']);
    expect(ends('RCTX1')).toEqual(['W:1', 'W:2']);
    expect(ends('RCT0')).toEqual(['A:0']);
    expect(farEnds(study, device('blind'))).toEqual([]);
  });
});

describe('the curves of a device', () => {
  const relay = find(demo, 'relay', id('bra-q32-relay'))!;
  const input = relay.inputs[0].id;
  const device = deviceFrom(demo, {
    ...relay,
    functions: [
      { ...fn('51'), input, pickup: 1, timeMultiplier: 0.2, characteristic: 'iecA' as const },
      { ...fn('50'), input, pickup: 10, delayS: 0 },
      { ...fn('51N'), input, pickup: 0.2, timeMultiplier: 0.2, characteristic: 'iecA' as const },
    ],
  })!;
  const curves = curvesOf(device);
  const seen = (phaseA: number, residualA = 0) => ({ [input]: { phaseA, residualA, negativeA: 0 } });
  it('the quickest function trips, on what it measures; nothing at an input that sees nothing', () => {
    expect(operatingTime(curves, seen(450)).by!.code).toBe('51');
    expect(operatingTime(curves, seen(2000))).toMatchObject({ timeS: 0, by: { code: '50' } });
    expect(operatingTime(curves, seen(450, 400)).by!.code).toBe('51N');
    expect(operatingTime(curves, seen(100))).toEqual({ timeS: Infinity, by: null });
    expect(operatingTime(curves, {})).toEqual({ timeS: Infinity, by: null });
    expect(measuredBy({ input: id('x'), quantity: 'phase' }, seen(5))).toBe(0);
  });
  it('are drawn from the lowest pickup to the end, rising in current, falling in time, never below a millisecond', () => {
    const points = curvePoints(curves, 'phase', 3000, 40);
    const currents = points.map(({ currentA }) => currentA);
    expect(currents).toEqual([...currents].sort((p, q) => p - q));
    expect(new Set(currents).size).toBe(currents.length);
    expect(currents[0]).toBeGreaterThan(150);
    expect(currents[0]).toBeLessThan(150.001);
    expect(currents.at(-1)).toBeCloseTo(3000, 6);
    for (let k = 1; k < points.length; k++) expect(points[k].timeS).toBeLessThanOrEqual(points[k - 1].timeS);
    expect(points.at(-1)!.timeS).toBe(1e-3);
    // The step of the high-set function stands at its pickup, not between two points.
    const before = points.filter(({ currentA }) => currentA <= 1500).at(-1)!;
    const after = points.find(({ currentA }) => currentA > 1500)!;
    expect(before.currentA).toBe(1500);
    expect(after.currentA).toBeCloseTo(1500, 4);
    expect(after.timeS).toBe(1e-3);
    expect(before.timeS).toBeGreaterThan(0.3);
    expect(points.length).toBeGreaterThan(40 * Math.log10(3000 / 150));
    expect(curvePoints(curves, 'phase', 150)).toEqual([]);
    expect(curvePoints(curves, 'negative', 3000)).toEqual([]);
    expect(curvePoints(curves, 'residual', 3000)[0].currentA).toBeLessThan(31);
    // An end below the second pickup leaves its step out.
    expect(curvePoints(curves, 'phase', 1000).every(({ currentA }) => currentA <= 1000.0001)).toBe(true);
  });
});
