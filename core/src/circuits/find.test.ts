/** Circuits found in networks: those of the demo, feeders between boards, ways that are none. */
import { describe, expect, it } from 'vitest';
import { elementId as id } from '../model/fields';
import { find, nameIn, networkOf, withElements } from '../model/network';
import { demoNetwork } from '../test/demo';
import { Builder } from '../test/network';
import { circuitsIn, mainCable } from './find';

const told = (network: ReturnType<typeof demoNetwork>) =>
  circuitsIn(network).map(({ board, switches, cables, ends }) =>
    [board, ...switches, ...cables, ...ends].map((each) => nameIn(network, each)).join(' > '),
  );

describe('circuits of boards', () => {
  it('of the demo: what each low-voltage board supplies', () => {
    const demo = demoNetwork();
    expect(told(demo)).toEqual(
      expect.arrayContaining([
        'BRA 0.4 > BRA F51 > Dosing cable > Brine dosing',
        'BRA 0.4 > BRA F52 > Filter hall',
        'BRA 0.4 > BRA F53 > Workshop',
      ]),
    );
    // Nothing that leads back to the transformer.
    expect(told(demo).join()).not.toContain('TL1');
    const dosing = circuitsIn(demo).find(({ ends }) => ends.includes(id('brine-dosing')))!;
    expect(mainCable(demo, dosing)).toBe('dosing-cable');
    expect(dosing.isFeeder).toBe(false);
  });
  it('a feeder belongs to the board nearer to the sources; a coupler and a tie to none', () => {
    const b = new Builder();
    b.add('networkFeeder', 'N');
    for (const bus of ['M', 'S', 'A', 'B']) b.add('bus', bus, { nominalKv: 0.4 });
    b.add('switch', 'Q1');
    b.add('line', 'W1', { type: 'cable', lengthKm: 0.08 });
    b.add('line', 'W2', { type: 'cable', lengthKm: 0.02 });
    b.add('switch', 'Q2');
    b.add('switch', 'K');
    for (const name of ['L1', 'L2', 'L3']) b.add('load', name);
    b.join('N', 'M', 'M', 'Q1:0', 'Q1:1', 'W1:0', 'W1:1', 'S', 'S', 'Q2:0', 'Q2:1', 'W2:0', 'W2:1', 'L1');
    // Two sections that hang together, fed from one joint: alike.
    b.join('M', 'A', 'M', 'B', 'A', 'K:0', 'K:1', 'B', 'A', 'L2', 'B', 'L3');
    const network = b.network();
    const list = told(network);
    expect(list).toContain('M > Q1 > W1 > S');
    expect(list).toContain('S > Q2 > W2 > L1');
    expect(list).toContain('A > L2');
    expect(list.filter((text) => text.includes(' > K'))).toEqual([]);
    expect(list.filter((text) => text.startsWith('S > W1'))).toEqual([]);
  });
  it('one way to several loads is one circuit; what ends in the open is none', () => {
    const b = new Builder();
    b.add('networkFeeder', 'N');
    b.add('bus', 'M', { nominalKv: 0.4 });
    b.add('switch', 'Q');
    b.add('line', 'W', { type: 'cable', lengthKm: 0.03 });
    b.add('load', 'L1');
    b.add('load', 'L2');
    b.add('switch', 'Spare');
    b.join('N', 'M', 'M', 'Q:0', 'Q:1', 'W:0', 'W:1', 'L1', 'W:1', 'L2', 'M', 'Spare:0');
    expect(told(b.network())).toEqual(['M > Q > W > L1 > L2']);
  });
  it('are kept while nothing that they hang on changes, and found anew when it does', () => {
    const b = new Builder();
    b.add('networkFeeder', 'N');
    b.add('bus', 'M', { nominalKv: 0.4 });
    for (const name of ['Q1', 'Q2']) b.add('switch', name);
    for (const name of ['L1', 'L2']) b.add('load', name);
    b.join('N', 'M', 'M', 'Q1:0', 'Q1:1', 'L1', 'M', 'Q2:0', 'Q2:1', 'L2');
    const network = b.network();
    const before = circuitsIn(network);
    expect(before).toHaveLength(2);
    const load = find(network, 'load', id('L1'))!;
    // A value: the same list, not only a like one.
    expect(circuitsIn(withElements(network, [{ ...load, ratedMva: 0.02 }]))).toBe(before);
    // A name orders them, a level or a wire decides whether they are any.
    const first = find(network, 'switch', id('Q1'))!;
    const renamed = circuitsIn(withElements(network, [{ ...first, name: 'Z9' }]));
    expect(renamed.map(({ switches }) => switches[0])).toEqual(['Q2', 'Q1']);
    circuitsIn(network);
    const bus = find(network, 'bus', id('M'))!;
    expect(circuitsIn(withElements(network, [{ ...bus, nominalKv: 11 }]))).toEqual([]);
    circuitsIn(network);
    const without = networkOf([...network.elements.values()].filter((each) => each.id !== 'w3'));
    expect(circuitsIn(without)).toHaveLength(1);
  });
});
