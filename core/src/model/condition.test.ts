import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { networkOfFile } from '../test/demo';
import { applyChanges, removalOf } from './changes';
import { conditionSchema, faultCaseOf, maximumSources, minimumSources, outageKinds, type Condition } from './condition';
import { clicked, conditionChanges, conditionSummary, drawnIn, without, withTap, withVoltage } from './conditionEdit';
import { elementId } from './fields';
import { find, networkOf, ofKind, validateNetwork } from './network';
import { altered, conditionOf, conditionsOf, networkIn, together } from './state';

const network = networkOfFile('core/reference/projects/version-1.json');
const id = elementId;
const own: Condition = { ...maximumSources, id: id('own'), name: 'Own' };
const withOwn = (condition: Condition) => networkOf([...network.elements.values(), condition]);

describe('conditions', () => {
  it('two always exist, those of the project come after', () => {
    expect(conditionsOf(network)).toEqual([maximumSources, minimumSources]);
    expect(conditionsOf(withOwn(own)).map(({ name }) => name)).toEqual(['Maximum sources', 'Minimum sources', 'Own']);
    expect(conditionOf(network, id('minimum'))).toBe(minimumSources);
    expect(conditionOf(network, id('own'))).toBeUndefined();
    expect([maximumSources, minimumSources].map(faultCaseOf)).toEqual(['max', 'min']);
    expect(networkIn(network, { condition: maximumSources.id })).toBe(network);
  });
  it('take no name and no identifier of these, and are either or', () => {
    const codes = (condition: Condition) => validateNetwork(withOwn(condition)).map(({ code }) => code);
    expect(codes(own)).toEqual([]);
    expect(codes({ ...own, name: 'minimum Sources' })).toEqual(['name.doubled']);
    expect(codes({ ...own, id: id('maximum') })).toEqual(['condition.reserved']);
    expect(conditionSchema.safeParse({ ...own, open: [id('q')], closed: [id('q')] }).success).toBe(false);
    expect(conditionSchema.safeParse({ ...own, running: [id('g')], stopped: [id('g')] }).success).toBe(false);
    expect(conditionSchema.parse({ kind: 'condition', id: 'x', name: 'X', sources: 'minimum' })).toMatchObject({
      out: [],
      taps: [],
    });
  });
  it('lose what is removed from the network', () => {
    const condition = {
      ...own,
      open: [id('bra-q30')],
      out: [id('bra-t1')],
      taps: [{ element: id('fer-t1'), position: 2 }],
    };
    const before = withOwn(condition);
    const applied = applyChanges(before, removalOf(before, [id('bra-t1'), id('bra-q30')]));
    expect(applied.ok && applied.network.elements.get(id('own'))).toMatchObject({
      open: [],
      out: [],
      taps: [{ element: 'fer-t1', position: 2 }],
    });
  });
});

describe('the network in a condition', () => {
  it('has switches, outages, earths, machines, taps and voltages as it says', () => {
    const machine = ofKind(network, 'synchronousMachine')[0];
    const changed = altered(network, {
      open: [id('bra-q32')],
      out: [id('fer-bra-1')],
      earthed: [id('fer-bra-2')],
      stopped: [machine.id],
      taps: [{ element: id('fer-t1'), position: -3 }],
      voltages: [{ element: id('mainland'), percent: 103 }],
    });
    expect(find(changed, 'switch', id('bra-q32'))!.closed).toBe(false);
    expect(changed.elements.has(id('fer-bra-1'))).toBe(false);
    expect(changed.elements.has(machine.id)).toBe(false);
    expect(find(changed, 'transformer', id('fer-t1'))!.tap.position).toBe(-3);
    expect(find(changed, 'networkFeeder', id('mainland'))!.voltagePercent).toBe(103);
    const earths = ofKind(changed, 'earthingSwitch').length - ofKind(network, 'earthingSwitch').length;
    expect(earths).toBe(2);
    expect(validateNetwork(changed)).toEqual([]);
  });
  it('keeps a tap within its steps, and knows machines that run at minimum', () => {
    const far = altered(network, { taps: [{ element: id('fer-t1'), position: 40 }] });
    const { tap } = find(far, 'transformer', id('fer-t1'))!;
    expect(tap.position).toBe(tap.steps);
    const [machine] = ofKind(network, 'synchronousMachine');
    const resting = networkOf([...network.elements.values(), { ...machine, runsAtMinimum: false }]);
    expect(find(altered(resting, { running: [machine.id] }), 'synchronousMachine', machine.id)!.runsAtMinimum).toBe(
      true,
    );
  });
  it('one set of changes on top of another is the second where they differ', () => {
    const both = together(
      { open: [id('a'), id('b')], out: [id('l')], taps: [{ element: id('t'), position: 1 }], stopped: [id('g')] },
      { closed: [id('a')], out: [id('l'), id('m')], taps: [{ element: id('t'), position: 2 }], running: [id('g')] },
    );
    expect(both).toMatchObject({
      open: ['b'],
      closed: ['a'],
      out: ['l', 'm'],
      taps: [{ element: 't', position: 2 }],
      stopped: [],
      running: ['g'],
    });
  });
});

describe('changing a condition by clicks', () => {
  const elements = [...network.elements.values()];
  it('goes round through the states of an element, and back to the network as drawn', () => {
    for (const element of elements) {
      let condition: Condition | null = own;
      const seen = new Set<string>();
      for (let k = 0; k < 4 && condition; k++) {
        const key = JSON.stringify(condition);
        if (seen.has(key)) break;
        seen.add(key);
        condition = clicked(condition, element);
      }
      const changeable = [...outageKinds, 'switch', 'earthingSwitch'].includes(element.kind as never);
      expect([element.kind, condition === null]).toEqual([element.kind, !changeable]);
      expect(seen.size).toBe(element.kind === 'line' ? 3 : changeable ? 2 : 1);
      if (condition) expect(condition).toEqual(own);
    }
  });
  it('leaves a condition that the model takes, and says what it changes', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...elements), { maxLength: 12 }), (some) => {
        const condition = some.reduce<Condition>((now, element) => clicked(now, element) ?? now, own);
        expect(validateNetwork(withOwn(condition))).toEqual([]);
        const changes = conditionChanges(condition);
        expect(changes.reduce(without, condition)).toEqual(own);
        if (changes.length > 0) expect(conditionSummary(network, condition)).not.toBe('');
      }),
      { seed: 21, numRuns: 100 },
    );
  });
  it('taps and voltages are set once each, and told with their sign', () => {
    const set = withVoltage(withTap(withTap(own, id('fer-t1'), 2), id('fer-t1'), -3), id('mainland'), 104);
    expect(conditionChanges(set).map(({ text }) => text)).toEqual(['tap −3', '104 % Un']);
    expect(conditionSummary(network, set)).toBe('FER T1 tap −3, Mainland 104 % Un');
  });
  it('is drawn with its switch positions, everything still there', () => {
    const opened = drawnIn(network, { ...own, open: [id('bra-q32')], out: [id('fer-bra-1')] });
    expect(opened.elements.size).toBe(network.elements.size);
    expect(find(opened, 'switch', id('bra-q32'))!.closed).toBe(false);
    expect(drawnIn(network, own)).toBe(network);
  });
});
