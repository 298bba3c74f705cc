/** Conditions by updates of networks at hand, and studies taken over from the model before, against networks assembled anew. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { faultKinds } from '../faults/kinds';
import { faultAt, iec60909Study, type Iec60909Study } from '../faults/iec60909/study';
import { faultCaseOf, maximumSources, minimumSources, outageKinds, type Condition } from '../model/condition';
import { clicked } from '../model/conditionEdit';
import { elementId } from '../model/fields';
import { networkOf, ofKind, withElements, type Network } from '../model/network';
import { inState, networkIn } from '../model/state';
import { demoNetwork } from '../test/demo';
import { everyKind } from '../test/everyKind';
import { differsElectrically } from './electrical';
import { Studies } from './studies';
import { runs } from '../test/runs';

/** Initial, earth and peak currents at every bus and for every kind; null where there is no such fault. */
const table = (study: Iec60909Study, network: Network) =>
  ofKind(network, 'bus').flatMap((bus) =>
    faultKinds.map((kind) => {
      const result = faultAt(study, bus.id, 0, kind);
      return result.ok ? [result.fault.ikA, result.fault.earthA, result.fault.ipA] : null;
    }),
  );

function expectSame(byUpdates: Iec60909Study, assembled: Iec60909Study, network: Network, where: string): void {
  const [p, q] = [table(byUpdates, network), table(assembled, network)];
  p.forEach((values, k) => {
    expect([where, k, values === null]).toEqual([where, k, q[k] === null]);
    values?.forEach((value, j) =>
      expect(Math.abs(value - q[k]![j]), `${where}, ${k}.${j}`).toBeLessThan(1e-6 * (1 + q[k]![j])),
    );
  });
}

const conditionOver = (network: Network, of: Condition) =>
  fc
    .array(
      fc.constantFrom(
        ...[...network.elements.values()].filter(({ kind }) => ([...outageKinds, 'switch'] as string[]).includes(kind)),
      ),
      { minLength: 1, maxLength: 5 },
    )
    .map((some) =>
      some.reduce<Condition>((now, element) => clicked(now, element) ?? now, {
        ...of,
        id: elementId('own'),
        name: 'Own',
      }),
    );

describe('a condition by updates', () => {
  it.each([
    ['the demo', demoNetwork()],
    ['every kind, 3', everyKind(3).network],
    ['every kind, 8', everyKind(8).network],
  ] as const)('is the network assembled in that state: %s', (name, network) => {
    for (const sources of [maximumSources, minimumSources])
      fc.assert(
        fc.property(conditionOver(network, sources), (condition) => {
          const stored = networkOf([...network.elements.values(), condition]);
          const studies = new Studies(stored);
          const state = inState(condition);
          const assembled = iec60909Study(networkIn(stored, state), faultCaseOf(condition));
          expectSame(studies.iec60909(state), assembled, network, `${name} ${JSON.stringify(condition)}`);
        }),
        { seed: 17, numRuns: runs(40) },
      );
  });
  it('with few outages assembles nothing anew, and is kept', () => {
    const network = demoNetwork();
    const own = {
      ...maximumSources,
      id: elementId('own'),
      name: 'Own',
      out: [elementId('fer-bra-1'), elementId('bra-t2')],
    };
    const studies = new Studies(networkOf([...network.elements.values(), own]));
    const study = studies.iec60909(inState(own));
    expect(study.assembly.outages).toEqual(own.out);
    expect(study.assembly.topology).toBe(studies.max.assembly.topology);
    expect(studies.iec60909(inState({ ...own }))).toBe(study);
  });
});

describe('how a study of a state is made', () => {
  const network = demoNetwork();
  const lines = ofKind(network, 'line').map(({ id }) => id);
  const closed = ofKind(network, 'switch').filter((each) => each.closed && each.type === 'breaker');
  /** Elements whose breakers may open without a look at levels: heads of lines. */
  const heads = ['fer-q01', 'fer-q02', 'tol-q01', 'mar-q01', 'fer-q33', 'pen-q03', 'pen-q04', 'cau-q01'].map(elementId);
  const own = (changes: Partial<Condition>): Condition => ({
    ...maximumSources,
    id: elementId('own'),
    name: 'Own',
    ...changes,
  });
  const of = (changes: Partial<Condition>, ...more: Condition[]) => {
    const condition = own(changes);
    const studies = new Studies(networkOf([...network.elements.values(), condition, ...more]));
    return { studies, study: studies.iec60909(inState(condition)) };
  };
  /** What an update takes along, and assembling makes anew. */
  const byUpdate = ({ studies, study }: ReturnType<typeof of>) =>
    study.assembly.options === studies.max.assembly.options;

  it('by updates up to four elements out and six switches turned; anew beyond, and for what reaches further', () => {
    expect(heads.every((id) => closed.some((each) => each.id === id))).toBe(true);
    for (const [changes, wanted] of [
      [{ out: lines.slice(0, 4) }, true],
      [{ out: lines.slice(0, 5) }, false],
      [{ out: [lines[0]], stopped: [elementId('bra-g1')] }, true],
      [{ open: heads.slice(0, 6) }, true],
      [{ open: heads.slice(0, 7) }, false],
      [{ open: heads.slice(0, 1), out: [lines[3]] }, true],
      [{ earthed: [lines[0]] }, false],
      [{ out: [lines[1]], taps: [{ element: elementId('bra-t1'), position: 2 }] }, false],
      [{ out: [lines[1]], voltages: [{ element: elementId('mainland'), percent: 102 }] }, false],
      [{ out: [lines[1]], running: [elementId('bra-g1')] }, false],
      // Not in the network, or drawn so: nothing of it is to be done.
      [{ out: [elementId('nobody')] }, false],
      [{ closed: heads.slice(0, 1) }, false],
      [{ out: [lines[0], elementId('nobody')], closed: heads.slice(0, 1) }, true],
    ] as const)
      expect([JSON.stringify(changes), byUpdate(of(changes as Partial<Condition>))]).toEqual([
        JSON.stringify(changes),
        wanted,
      ]);
    expect(of({ out: [lines[0]], stopped: [lines[0]] }).study.assembly.outages).toEqual([lines[0]]);
    const ended = of({}).studies;
    const openEnd = { element: lines[0], terminal: 1 };
    const atEnd = ended.iec60909({ condition: elementId('own'), openEnd });
    expect(atEnd.assembly.options).not.toBe(ended.max.assembly.options);
  });
  it('of the minimum from the minimum', () => {
    const { study, studies } = of({ sources: 'minimum', out: [lines[0]] });
    expect(study.faultCase).toBe('min');
    expect(study.assembly.options).toBe(studies.min.assembly.options);
    expect(studies.min).not.toBe(studies.max);
    expect(studies.conditions.map(({ id }) => id)).toEqual(['maximum', 'minimum', 'cable-out', 'coupler-open', 'own']);
  });
  it('once, by what the state is and not by what it is called', () => {
    const twin = { ...own({ out: [lines[0]] }), id: elementId('twin'), name: 'Twin', note: 'the same' };
    const { studies, study } = of({ out: [lines[0]] }, twin);
    expect(studies.iec60909(inState(twin))).toBe(study);
    expect(studies.iec60909({ condition: maximumSources.id, alterations: { out: [lines[0]] } })).toBe(study);
    const others = [
      studies.iec60909({ condition: maximumSources.id, alterations: { out: [lines[1]] } }),
      studies.iec60909({ condition: maximumSources.id, alterations: { open: heads.slice(0, 1) } }),
      studies.iec60909({ condition: maximumSources.id, alterations: { earthed: [lines[0]] } }),
      studies.iec60909({ condition: maximumSources.id, outage: lines[0] }),
      studies.iec60909({ condition: maximumSources.id, openEnd: { element: lines[0], terminal: 0 } }),
      studies.iec60909({ condition: maximumSources.id, openEnd: { element: lines[0], terminal: 1 } }),
      studies.iec60909(inState(twin), { peak: 'ratioAtPlace' }),
      studies.iec60909(inState(twin), { charging: 'never' }),
      studies.max,
      studies.min,
    ];
    expect(new Set([study, ...others]).size).toBe(others.length + 1);
    expect(studies.iec60909(inState(twin), { peak: 'equivalentFrequency', charging: 'auto' })).toBe(study);
    expect(others[3].assembly.outages).toEqual([lines[0]]);
  });
  it('from the model before for eight changed elements, anew for nine; what was changed adds up', () => {
    const coupled = ofKind(network, 'lineCoupling').flatMap(({ first, second }) => [first, second]);
    const free = ofKind(network, 'line').filter(({ id }) => !coupled.includes(id));
    const ids = free.map(({ id }) => id);
    expect(free.length).toBeGreaterThanOrEqual(9);
    const longer = (count: number) =>
      withElements(
        network,
        free.slice(0, count).map((line) => ({ ...line, lengthKm: 2 * line.lengthKm })),
      );
    const before = new Studies(network);
    void before.max;
    const after = (studies: Studies, count: number) =>
      new Studies(longer(count), { studies, changed: ids.slice(0, count) });
    const takenOver = (studies: Studies) => studies.max.assembly.topology === before.max.assembly.topology;
    expect(takenOver(after(before, 8))).toBe(true);
    expect(takenOver(after(before, 9))).toBe(false);
    expectSame(after(before, 8).max, iec60909Study(longer(8), 'max'), network, 'eight lines');
    // In two steps, the first of which nobody asked anything: both belong to what is to be put in.
    const idle = after(before, 4);
    const later = new Studies(longer(8), { studies: idle, changed: ids.slice(4, 8) });
    expect(takenOver(later)).toBe(true);
    expectSame(later.max, iec60909Study(longer(8), 'max'), network, 'four and four');
    expect(takenOver(new Studies(longer(9), { studies: later, changed: [ids[8]] }))).toBe(true);
    const far = new Studies(longer(9), { studies: idle, changed: ids.slice(4, 9) });
    expect(takenOver(far)).toBe(false);
  });
});

describe('studies of the model before', () => {
  const network = demoNetwork();
  const [line] = ofKind(network, 'line');
  const next = (studies: Studies, element: Parameters<typeof withElements>[1] extends Iterable<infer E> ? E : never) =>
    new Studies(withElements(studies.network, [element]), { studies, changed: [element.id] });
  it('are the very same after what no current depends on', () => {
    const studies = new Studies(network);
    const { max } = studies;
    const found = studies.remembered('x', () => ({}));
    const [relay] = ofKind(network, 'relay');
    for (const element of [
      { ...line, x: line.x + 10 },
      { ...line, note: 'seen' },
      { ...relay, name: 'Other' },
    ]) {
      const after = next(studies, element);
      expect(after.max).toBe(max);
      expect(after.remembered('x', () => ({}))).toBe(found);
      expect(after.sharesCurrentsWith(studies)).toBe(true);
    }
  });
  it('are what assembling anew gives after a change of values, and forget what was found', () => {
    const studies = new Studies(network);
    void studies.max;
    studies.remembered('x', () => 1);
    const after = next(studies, { ...line, lengthKm: 2 * line.lengthKm });
    expect(after.sharesCurrentsWith(studies)).toBe(false);
    expect(after.remembered('x', () => 2)).toBe(2);
    expectSame(after.max, iec60909Study(after.network, 'max'), network, 'a line twice as long');
    const again = next(after, { ...line, lengthKm: line.lengthKm });
    expectSame(again.max, iec60909Study(network, 'max'), network, 'and back');
  });
  it('a condition that changes is another study', () => {
    const own: Condition = { ...maximumSources, id: elementId('own'), name: 'Own', open: [elementId('bra-q30')] };
    const studies = new Studies(networkOf([...network.elements.values(), own]));
    const first = studies.iec60909(inState(own));
    const after = next(studies, { ...own, open: [] });
    expect(after.iec60909(inState(own))).not.toBe(first);
    expect(after.iec60909(inState(own))).toBe(after.max);
  });
  it('names, settings and values matter; places, notes and protection do not', () => {
    const differs = (over: object) => differsElectrically(line, { ...line, ...over } as typeof line);
    expect([{ name: 'X' }, { lengthKm: 1 }, { r1OhmPerKm: 1 }].map(differs)).toEqual([true, true, true]);
    expect([{ x: 1 }, { note: 'X' }, { page: elementId('p') }, { entry: 'lib-x' }].map(differs)).toEqual([
      false,
      false,
      false,
      false,
    ]);
    expect(differsElectrically(undefined, line)).toBe(true);
    expect(differsElectrically(ofKind(network, 'relay')[0], undefined)).toBe(false);
  });
});
