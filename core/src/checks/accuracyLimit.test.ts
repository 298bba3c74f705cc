/** Accuracy limits by hand (IEC 61869-2), what a directional function needs, and sizes that are not made. */
import { describe, expect, it } from 'vitest';
import { newElement } from '../model/defaults';
import { elementId } from '../model/fields';
import { find, ofKind, withElements } from '../model/network';
import type { CurrentTransformer } from '../model/switching';
import { familyNamed } from '../protection/registry';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { expectFollowed } from '../test/followed';
import { limitFactor } from '../ratings/ctAdequacy';
import { effectiveLimit } from './equipment/accuracyLimit';
import { checked, findingsOf, workingOf } from './run';

const id = elementId;
const ct = (over: Partial<CurrentTransformer>) =>
  newElement('currentTransformer', id('ct'), 'CT', {
    primaryA: 200,
    secondaryA: 1,
    accuracy: '5P20',
    ...over,
  }) as CurrentTransformer;

describe('the accuracy limit', () => {
  it('is read from the class', () => {
    expect(['5P20', '10 P 10', '5PR30', '0.5', 'PX', ''].map(limitFactor)).toEqual([20, 10, 30, null, null, null]);
  });
  it('rises as the burden falls below the rated one', () => {
    const known = { ratedVa: 10, windingOhm: 2 };
    // 20·(2 + 10)/(2 + 4) = 40.
    expect(effectiveLimit(ct({ ...known, burdenOhm: 4 }))).toBeCloseTo(40, 12);
    expect(effectiveLimit(ct({ ...known, burdenOhm: 10 }))).toBeCloseTo(20, 12);
    // At 5 A the rated output is a twenty-fifth of the resistance: 20·(0.2 + 0.4)/(0.2 + 0.4).
    expect(effectiveLimit(ct({ secondaryA: 5, ratedVa: 10, windingOhm: 0.2, burdenOhm: 0.4 }))).toBeCloseTo(20, 12);
    expect(effectiveLimit(ct({ ...known, burdenOhm: null }))).toBe(20);
    expect(effectiveLimit(ct({ accuracy: '0.5' }))).toBeNull();
  });
});

describe('in a project', () => {
  const demo = demoNetwork();
  const relay = find(demo, 'relay', id('bra-q32-relay'))!;
  const transformer = find(demo, 'currentTransformer', id('bra-ct32'))!;
  const [timed, high] = relay.functions;
  const checksOf = (over: Partial<CurrentTransformer>, functions = relay.functions) => {
    const studies = new Studies(
      withElements(demo, [
        { ...transformer, ...over },
        { ...relay, functions },
      ]),
    );
    return {
      studies,
      checks: checked(studies, undefined, ['equipment.accuracyLimit']).checks.filter(
        ({ subject }) => subject === transformer.id,
      ),
    };
  };
  it('a high-set function needs its pickup, a dependent one the current at which its time still falls', () => {
    const { checks } = checksOf({ accuracy: '5P10' });
    const of = (code: string) => checks.find(({ title }) => title.includes(`, ${code}:`))!;
    expect(of(high.family === 'overcurrent' ? high.code : '')).toMatchObject({
      value: 14,
      bound: 10,
      verdict: 'short',
      severity: 'error',
    });
    expect(of('51')).toMatchObject({ value: 20, bound: 10, verdict: 'doubtful', severity: 'warning' });
    expect(checksOf({ accuracy: '5P20' }).checks.every(({ verdict }) => verdict === 'holds')).toBe(true);
    expect(checksOf({ accuracy: '0.5' }).checks).toEqual([]);
    // Beyond the largest current that flows nothing needs to be seen.
    expect(
      checksOf({ accuracy: '5P10' }, [{ ...high, pickup: 39.9, enabled: false } as typeof high, timed]).checks,
    ).toHaveLength(1);
  });
  it('has a working that a calculator follows', () => {
    const { checks, studies } = checksOf({ accuracy: '5P10', ratedVa: 10, windingOhm: 2, burdenOhm: 4 });
    expect(checks[0].bound).toBeCloseTo(20, 12);
    const { sections } = workingOf(studies, studies.conditions, checks[0])!;
    expectFollowed(sections, 'accuracy limit');
    expect(sections.flatMap(({ steps }) => steps).length).toBeGreaterThanOrEqual(2);
  });
  it('a direction without a voltage transformer is told', () => {
    const directional = { ...familyNamed('overcurrent').fresh(id('d'), '67', relay.inputs[0].id) };
    const codes = (inputs: typeof relay.inputs) => {
      const studies = new Studies(withElements(demo, [{ ...relay, inputs, functions: [directional] }]));
      return findingsOf(checked(studies, undefined, ['protection.relayParts']), studies.network)
        .filter(({ element }) => element === relay.id)
        .map(({ code }) => code);
    };
    expect(codes(relay.inputs)).toContain('relay.voltage');
    const vt = ofKind(demo, 'voltageTransformer')[0];
    if (vt)
      expect(
        codes([...relay.inputs, { ...relay.inputs[0], id: id('u'), type: 'voltage', element: vt.id }]),
      ).not.toContain('relay.voltage');
  });
  it('a link that is not made in its size is told, with the nearest', () => {
    const fuse = find(demo, 'switch', id('pen-f1'))!;
    const odd = { ...fuse, functions: fuse.functions.map((fn) => ({ ...fn, linkA: 16 }) as typeof fn) };
    const { checks } = checked(new Studies(withElements(demo, [odd])), undefined, ['settings.steps']);
    expect(checks.find(({ subject }) => subject === fuse.id)).toMatchObject({
      verdict: 'short',
      value: 16,
      bound: 15,
    });
  });
});
