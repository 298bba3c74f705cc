import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoNetwork } from '../test/demo';
import { Builder } from '../test/network';
import { applyChanges, removalOf, type Change } from './changes';
import { whyNotConnect } from './connect';
import type { Element } from './element';
import { freeName, newElement } from './defaults';
import { elementId, type ElementId } from './fields';
import { ofKind, validateNetwork, type Network } from './network';
import { buildTopology } from './topology';

const sorted = (network: Network) => [...network.elements.values()].map((element) => JSON.stringify(element)).sort();

describe('batches of changes', () => {
  it('a batch and its inverse leave everything as it was, whatever is removed or changed', () => {
    const network = demoNetwork();
    const ids = [...network.elements.keys()];
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.nat(ids.length - 1), { maxLength: 12 }),
        fc.string({ minLength: 1, maxLength: 8 }),
        (picks, text) => {
          const changes: Change[] = [
            ...removalOf(
              network,
              picks.map((k) => ids[k]),
            ),
            { op: 'add', element: newElement('bus', elementId('fresh'), `Fresh ${text.trim() || 'x'}`) },
          ];
          const applied = applyChanges(network, changes);
          expect(applied.ok).toBe(true);
          if (!applied.ok) return;
          expect(validateNetwork(applied.network)).toEqual([]);
          const back = applyChanges(applied.network, applied.inverse);
          expect(back.ok && sorted(back.network)).toEqual(sorted(network));
        },
      ),
      { numRuns: 60 },
    );
  });

  it('is refused as a whole: doubled names, what exists, what is gone, another kind, the settings', () => {
    const network = demoNetwork();
    const bus = ofKind(network, 'bus')[0];
    const codes = (changes: Change[]) => {
      const applied = applyChanges(network, changes);
      return applied.ok ? [] : applied.problems.map((problem) => problem.code);
    };
    expect(codes([{ op: 'add', element: newElement('bus', elementId('n'), bus.name.toLowerCase()) }])).toEqual([
      'name.doubled',
    ]);
    expect(codes([{ op: 'add', element: bus }])).toContain('change.exists');
    expect(codes([{ op: 'remove', id: elementId('nobody') }])).toEqual(['change.missing']);
    expect(codes([{ op: 'update', element: newElement('load', bus.id, 'x') }])).toContain('change.kind');
    expect(codes([{ op: 'remove', id: elementId('settings') }])).toContain('change.settings');
    expect(codes([{ op: 'remove', id: bus.id }])).toContain('connection.dangling');
  });

  it('is refused for what an update alone breaks: names, references, ends of connections', () => {
    const network = demoNetwork();
    const update = (element: Element) => applyChanges(network, [{ op: 'update', element }]);
    const [bus, other] = ofKind(network, 'bus');
    const [relay] = ofKind(network, 'relay');
    const [chart] = ofKind(network, 'gradingChart');
    const [wire] = ofKind(network, 'connection');
    const [line] = ofKind(network, 'line');
    const gone = elementId('gone');
    for (const broken of [
      { ...bus, name: other.name },
      { ...bus, page: gone },
      { ...relay, inputs: [{ ...relay.inputs[0], element: gone }] },
      { ...relay, circuits: [{ ...relay.circuits[0], breakers: [gone] }] },
      { ...chart, relays: [gone] },
      { ...line, tower: gone },
      { ...wire, to: { element: gone, terminal: 0 } },
    ])
      expect(update(broken).ok, JSON.stringify(broken).slice(0, 60)).toBe(false);
    expect(update({ ...bus, x: bus.x + 10, note: 'moved' }).ok).toBe(true);
  });
  it('removes what hangs on an element with it', () => {
    const network = demoNetwork();
    const applied = applyChanges(network, removalOf(network, [elementId('bra-ct32'), elementId('bra-q32-relay')]));
    if (!applied.ok) throw new Error(applied.problems[0].message);
    expect(
      ofKind(applied.network, 'gradingChart').every((chart) => !chart.relays.includes(elementId('bra-q32-relay'))),
    ).toBe(true);
    expect(validateNetwork(applied.network)).toEqual([]);
  });
});

describe('connecting', () => {
  const b = new Builder();
  b.add('bus', 'A', { nominalKv: 33 });
  b.add('bus', 'B', { nominalKv: 11 });
  b.add('bus', 'C', { nominalKv: 11 });
  b.add('transformer', 'T', { hvKv: 33, lvKv: 11.5 });
  b.add('switch', 'Q');
  b.add('switch', 'Q24', { ratedKv: 24 });
  b.join('T:0', 'A');
  const network = b.network();
  const why = (from: string, to: string) => {
    const end = (text: string) => ({
      element: text.split(':')[0] as ElementId,
      terminal: Number(text.split(':')[1] ?? 0),
    });
    return whyNotConnect(network, buildTopology(network), end(from), end(to));
  };
  it('allows what goes together', () => {
    expect(why('T:1', 'B')).toBeNull();
    expect(why('Q:0', 'B')).toBeNull();
    // Made for more than the level it stands on.
    expect(why('Q24:0', 'B')).toBeNull();
    expect(why('B', 'C')).toBeNull();
  });
  it('refuses, with the reason', () => {
    expect(why('A', 'B')).toMatch(/33 kV and 11 kV/);
    expect(why('T:0', 'Q:0')).toMatch(/taken/);
    expect(why('T:1', 'A')).toMatch(/do not go together/);
    expect(why('Q:0', 'Q:1')).toMatch(/same element/);
    expect(why('Q:5', 'B')).toMatch(/no such terminal/);
    expect(why('Q:0', 'Nobody')).toMatch(/does not exist/);
  });
});

describe('topology', () => {
  it('merges closed switches and parts open ones', () => {
    const b = new Builder();
    b.add('bus', 'A', { nominalKv: 11 });
    b.add('bus', 'B', { nominalKv: 11 });
    b.add('switch', 'Q');
    b.join('A', 'Q:0', 'Q:1', 'B');
    const closed = buildTopology(b.network());
    expect(closed.nodeOf.get('A:0')).toBe(closed.nodeOf.get('B:0'));
    (b.elements.find((element) => element.id === 'Q') as { closed: boolean }).closed = false;
    const open = buildTopology(b.network());
    expect(open.nodeOf.get('A:0')).not.toBe(open.nodeOf.get('B:0'));
    expect(open.nodes.length).toBe(2);
  });
  it('carries levels along lines to nodes without a bus', () => {
    const b = new Builder();
    b.add('bus', 'A', { nominalKv: 33 });
    b.add('line', 'L1');
    b.add('line', 'L2');
    b.join('A', 'L1:0', 'L1:1', 'L2:0');
    const topology = buildTopology(b.network());
    expect(topology.nodes[topology.nodeOf.get('L2:1')!].nominalKv).toBe(33);
  });
  it('gives the first free name', () => {
    const b = new Builder();
    b.add('switch', 'Q1');
    b.add('switch', 'q2');
    expect(freeName(b.elements, 'Q')).toBe('Q3');
  });
});
