/** What stands on a setting sheet, and what does not. */
import { describe, expect, it } from 'vitest';
import type { Element, ElementOf } from '../model/element';
import { elementId } from '../model/fields';
import { find, withElements, type Network } from '../model/network';
import { Studies } from '../studies/studies';
import { demoNetwork, networkOfFile } from '../test/demo';
import { digestible, inForm1 } from './digestible';
import { notFinite } from './finite';
import type { SheetContent } from './content';
import { sheetContent } from './sheet';

const id = elementId;
const demo = demoNetwork();
const relayOf = (name: string, network = demo) => find(network, 'relay', id(name))!;
const sheet = (name: string, network: Network = demo): SheetContent => sheetContent(new Studies(network), id(name))!;
const changed = (...elements: Element[]) => withElements(demo, elements);
/** Without an element; nothing else is tidied up. */
const lacking = (network: Network, name: string): Network => {
  const elements = new Map(network.elements);
  elements.delete(id(name));
  return { elements };
};

describe('a setting sheet', () => {
  const q32 = sheet('bra-q32-relay');

  it('says what the device is: a relay by its type, any other by its sort', () => {
    expect(q32.relay).toMatchObject({ name: 'BRA Q32 relay', device: relayOf('bra-q32-relay').device });
    expect(sheet('pen-r1').relay.device).toBe('Recloser');
    expect(sheet('pen-f1').relay.device).toBe('Fuse');
    expect(sheet('pen-f1')).toMatchObject({
      ct: null,
      functions: [{ code: 'fuse', curve: 'expulsionK' }],
      margins: [{ verdict: 'holds' }],
    });
    expect(sheetContent(new Studies(demo), id('nobody'))).toBeNull();
  });
  it('has functions in use with their settings, and the codes of the others', () => {
    const relay = relayOf('bra-q32-relay');
    expect(q32.functions).toHaveLength(3);
    expect(q32.notInUse).toEqual([]);
    const [first, ...rest] = relay.functions;
    const off = sheet('bra-q32-relay', changed({ ...relay, functions: [{ ...first, enabled: false }, ...rest] }));
    expect(off.functions.map(({ code }) => code)).toEqual(['50', '51N']);
    expect(off.notInUse).toEqual(['51']);
  });
  it('takes the rating of the input that a function measures at, not of the first one', () => {
    const relay = relayOf('bra-q32-relay');
    const other = find(demo, 'currentTransformer', id('bra-ct21'))!;
    const inputs = [...relay.inputs, { ...relay.inputs[0], id: id('second'), element: other.id }];
    const [first, ...rest] = relay.functions;
    const two = sheet(
      'bra-q32-relay',
      changed({ ...relay, inputs, functions: [{ ...first, input: id('second') }, ...rest] }),
    );
    const own = find(demo, 'currentTransformer', relay.inputs[0].element!)!;
    expect(own.primaryA).not.toBe(other.primaryA);
    const primary = (content: SheetContent) => content.functions.map(({ primaryA }) => primaryA);
    const [before, after] = [primary(q32), primary(two)];
    expect(after[0] / before[0]).toBeCloseTo(other.primaryA / own.primaryA, 9);
    expect(after.slice(1)).toEqual(before.slice(1));
  });
  it('of a device without an input has what is known without one', () => {
    const relay = relayOf('bra-q32-relay');
    const blind = sheet('bra-q32-relay', changed({ ...relay, inputs: [] }));
    expect(blind).toMatchObject({ ct: null, nominalKv: null, functions: [], faults: [], sensitivities: [], chart: [] });
    expect(blind.trips).toEqual(q32.trips);
  });
  it('has a fault that the device does not see with its currents, and no time', () => {
    const { faults } = sheet('fer-q21-relay');
    const unseen = faults.filter(({ tripS }) => tripS === null);
    expect(unseen).toHaveLength(2);
    for (const { by } of unseen) expect(by).toBeNull();
    for (const { by, tripS } of faults) expect(by === null).toBe(tripS === null);
    // A fuse clears by its curve.
    expect(sheet('pen-f1').faults.find(({ kind }) => kind === '3ph')).toMatchObject({ by: '10 A K' });
    const [fault] = q32.faults;
    expect(fault).toMatchObject({ condition: 'Maximum sources', conditionId: 'maximum', by: '50' });
  });
  it('has the margins of its own pairs, whichever side it is on', () => {
    expect(q32.margins.map(({ downstream, upstream, measured }) => [downstream, upstream, measured])).toEqual([
      ['BRA Q41 relay', 'BRA Q32 relay', 'phase'].map((text) => text.replace('Q41', 'F41')),
      ['BRA Q32 relay', 'BRA Q21 relay', 'phase'],
      ['BRA Q32 relay', 'BRA Q21 relay', 'earth'],
      ['BRA F41 relay', 'BRA Q32 relay', 'phase'],
    ]);
    for (const { marginS, atA, wantedS } of q32.margins) {
      expect(marginS).not.toBeNull();
      expect(atA).toBeGreaterThan(0);
      expect(wantedS).toBeGreaterThan(0);
    }
  });
  it('a pair without anything to compare has a verdict and no figure; one of a device that is gone is left out', () => {
    const relay = relayOf('bra-f41-relay');
    const idle = changed({ ...relay, functions: relay.functions.map((fn) => ({ ...fn, enabled: false })) });
    const [with41] = sheet('bra-q32-relay', idle).margins;
    expect(with41).toMatchObject({ downstream: 'BRA F41 relay', marginS: null, atA: null });
    expect(with41.verdict).not.toBe('holds');
    const { margins } = sheet('bra-q32-relay', lacking(demo, 'bra-f41-relay'));
    expect(margins.map(({ downstream }) => downstream)).toEqual(['BRA Q32 relay', 'BRA Q32 relay']);
  });
  it('draws its own curve and those of its partners in charts of that quantity, at its own level', () => {
    const shown = (content: SheetContent) =>
      content.chart.map(({ measured, referenceKv, curves }) => [
        measured,
        referenceKv,
        curves.map(({ label }) => label),
      ]);
    expect(shown(q32)).toEqual([
      ['phase', 11, ['BRA Q32 relay', 'BRA F41 relay', 'BRA Q21 relay']],
      ['earth', 11, ['BRA Q32 relay', 'BRA Q21 relay']],
    ]);
    for (const { curves } of q32.chart) expect(curves.map(({ own }) => own)).toEqual(curves.map((_, k) => k === 0));
    // It has 51N, and no partner in a chart of earth faults.
    expect(shown(sheet('fer-q31-relay')).at(-1)).toEqual(['earth', 33, ['FER Q31 relay']]);
    // Two functions of one quantity: the curve begins at the lower pickup.
    const [phase] = q32.chart;
    const pickups = q32.functions.filter(({ code }) => code !== '51N').map(({ primaryA }) => primaryA);
    const start = Math.min(...phase.curves[0].points.map(({ currentA }) => currentA));
    expect(start).toBeGreaterThanOrEqual(Math.min(...pickups) * 0.999);
    expect(start).toBeLessThan(Math.max(...pickups) / 2);
    // A partner on another level is drawn at the currents of this one.
    const q21 = sheet('bra-q21-relay').chart[0];
    const upstream = q21.curves.find(({ label }) => label === 'BRA Q11 relay')!;
    const own = sheet('bra-q11-relay').chart[0].curves[0];
    const lowest = (points: readonly { currentA: number }[]) => Math.min(...points.map(({ currentA }) => currentA));
    expect(lowest(upstream.points) / lowest(own.points)).toBeCloseTo(33 / 11.5, 6);
  });
  it('leaves out partners whose currents have nothing to do with its own', () => {
    const chart = find(demo, 'gradingChart', id('chart-phase')) as ElementOf<'gradingChart'>;
    const blind = { ...relayOf('bra-q21-relay'), inputs: [] };
    const network = changed(blind, chart);
    const [phase] = sheet('bra-q32-relay', network).chart;
    expect(phase.curves.map(({ label }) => label)).toEqual(['BRA Q32 relay', 'BRA F41 relay']);
  });
  it('of a device that no fault reaches still has a curve, to twenty times its pickup', () => {
    const dead = ['mainland', 'fer-g1'].reduce(lacking, demo);
    const feeders = [...dead.elements.values()].filter(({ kind }) =>
      [
        'networkFeeder',
        'synchronousMachine',
        'powerStationUnit',
        'converterSource',
        'doublyFedMachine',
        'asynchronousMotor',
        'staticDrive',
      ].includes(kind),
    );
    const dark = feeders.reduce((network, { id: gone }) => lacking(network, gone), dead);
    const content = sheet('bra-q32-relay', dark);
    expect(content.faults).toEqual([]);
    const [own] = content.chart[0].curves;
    const pickup = Math.min(...content.functions.filter(({ code }) => code !== '51N').map(({ primaryA }) => primaryA));
    const most = Math.max(...own.points.map(({ currentA }) => currentA));
    expect(most / pickup).toBeCloseTo(20, 6);
  });
  it('is data alone: rounded to nine digits, nothing that is not a number', () => {
    expect(notFinite(q32)).toBeNull();
    const numbers = JSON.stringify(q32).match(/-?\d+\.\d+(e-?\d+)?/g)!;
    for (const text of numbers) expect(text.replace(/e.*|[-.]/g, '').replace(/^0+/, '').length).toBeLessThanOrEqual(9);
  });
});

describe('what is not a number', () => {
  it('is found with its path, wherever it stands', () => {
    expect(notFinite({ a: 1, b: [0, -2.5], c: { d: null, e: 'NaN', f: true, g: undefined } })).toBeNull();
    expect(notFinite({ a: 1, b: { c: [0, 1, Number.NaN] } })).toEqual(['b', 'c', '2']);
    expect(notFinite([Infinity])).toEqual(['0']);
    expect(notFinite(-Infinity)).toEqual([]);
    expect(notFinite({ first: { x: 1 }, second: Number.NaN })).toEqual(['second']);
    for (const value of [null, undefined, 'text', 3, {}, []]) expect(notFinite(value)).toBeNull();
  });
});

describe('the digest of a sheet', () => {
  const now = sheet('bra-q32-relay', networkOfFile('core/reference/projects/version-1.json'));
  it('keeps lists as lists', () => {
    const { functions, chart } = digestible(now) as SheetContent;
    expect(Array.isArray(functions) && Array.isArray(chart[0].curves[0].points)).toBe(true);
  });
  it('in form 1 has the titles of then, and only quantities that there were', () => {
    const renamed = { ...now, functions: now.functions.map((fn) => ({ ...fn, characteristic: 'Called otherwise' })) };
    const then = (content: SheetContent) =>
      inForm1(content) as { functions: { characteristic: string }[]; chart: { measured: string }[] };
    expect(then(renamed).functions.map(({ characteristic }) => characteristic)).toEqual(
      then(now).functions.map(({ characteristic }) => characteristic),
    );
    // One that there was not then keeps what it is called now.
    const [first, ...rest] = renamed.functions;
    expect(then({ ...now, functions: [{ ...first, curve: 'later' }, ...rest] }).functions[0].characteristic).toBe(
      'Called otherwise',
    );
    const negative = { ...now.chart[0], measured: 'negative' as const };
    expect(then({ ...now, chart: [...now.chart, negative] }).chart.map(({ measured }) => measured)).toEqual([
      'phase',
      'earth',
    ]);
  });
});
