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
