/** Two sides against each other, and what caused the difference. */
import { describe, expect, it } from 'vitest';
import { solidFault } from '../faults/kinds';
import { maximumSources, minimumSources, type Condition } from '../model/condition';
import { elementId } from '../model/fields';
import { find, networkOf, withElements, type Network } from '../model/network';
import { demoNetwork } from '../test/demo';
import { causesBetween } from './between';
import { compareFaults, type Side } from './compare';
import { FaultEngine } from './engine';
import { cutAt, neighboursIn, splitKey } from './cut';
import { differsElectrically } from './electrical';
import { iec60909Study } from '../faults/iec60909/study';

const id = elementId;
const fault = solidFault('3ph');

function drained<T>(steps: Generator<number, T>) {
  const shares: number[] = [];
  for (;;) {
    const step = steps.next();
    if (step.done) return { value: step.value, shares };
    shares.push(step.value);
  }
}
const network = demoNetwork();
const side = (of: Network, condition: string): Side => ({
  engine: new FaultEngine(of),
  study: { method: 'iec60909', condition: id(condition) },
});
/** Without an element and its connections. */
const lacking = (name: string): Network =>
  networkOf(
    [...network.elements.values()].filter(
      (each) =>
        each.id !== name &&
        !(each.kind === 'connection' && [each.from.element, each.to.element].includes(id(name))) &&
        !(each.kind === 'condition' && JSON.stringify(each).includes(`"${name}"`)),
    ),
  );

describe('two sides', () => {
  it('are compared bus by bus, a step for each bus of each side', () => {
    const { value: rows, shares } = drained(compareFaults(side(network, 'maximum'), side(network, 'minimum'), fault));
    expect(rows).toHaveLength(23);
    expect(shares).toHaveLength(47);
    expect(shares[0]).toBe(0);
    expect(shares[1]).toBeCloseTo(1 / 46, 12);
    expect(shares.at(-1)).toBe(1);
    for (const row of rows) {
      expect(row.differenceA).toBe(row.afterA! - row.beforeA!);
      expect(row.percent).toBe((100 * row.differenceA!) / row.beforeA!);
      expect(row.differenceA!).toBeLessThan(0);
      expect(row.nominalKv).toBe(find(network, 'bus', row.bus)!.nominalKv);
      expect(row.name).toBe(find(network, 'bus', row.bus)!.name);
    }
    const sizes = rows.map(({ percent }) => Math.abs(percent!));
    expect(sizes).toEqual([...sizes].sort((p, q) => q - p));
  });
  it('a bus that one of them lacks, or that nothing feeds there, has one figure, no difference, and comes first', () => {
    const smaller = lacking('rural-2');
    const { value: rows } = drained(compareFaults(side(network, 'maximum'), side(smaller, 'maximum'), fault));
    expect(rows).toHaveLength(23);
    expect(rows[0]).toMatchObject({ bus: 'rural-2', name: 'Rural 2', afterA: null, differenceA: null, percent: null });
    expect(rows[0].beforeA).toBeGreaterThan(0);
    const { value: back } = drained(compareFaults(side(smaller, 'maximum'), side(network, 'maximum'), fault));
    expect(back[0]).toMatchObject({ bus: 'rural-2', beforeA: null, differenceA: null, percent: null });
    expect(back[0].afterA).toBe(rows[0].beforeA);
  });
});

describe('what lies between two states of the system', () => {
  const study = { method: 'iec60909' } as const;
  const place = { at: 'terminal', element: id('bra-11-a'), terminal: 0 } as const;
  const t1 = find(network, 'transformer', id('bra-t1'))!;
  const level = (of: Network, condition: Condition) =>
    new FaultEngine(withElements(of, [{ ...condition, id: id('own'), name: 'Own' }])).row(
      { ...study, condition: id('own') },
      fault,
      place,
    ).result!.ikA;
  it('is shared out among changes of the network and of the condition together', () => {
    const after = withElements(network, [{ ...t1, ukPercent: 12 }]);
    const night: Condition = { ...minimumSources, open: [id('bra-q30')] };
    const { value: found, shares } = drained(
      causesBetween({ network, condition: maximumSources }, { network: after, condition: night }, study, fault, place),
    );
    expect(shares.at(-1)).toBe(1);
    expect(found!.causes.map(({ key }) => key).sort()).toEqual(['bra-q30', 'bra-t1', 'sources']);
    expect(found!.before).toBeCloseTo(level(network, maximumSources), 6);
    expect(found!.after).toBeCloseTo(level(after, night), 6);
    const sum = found!.causes.reduce((total, { share }) => total + share, 0);
    expect(sum).toBeCloseTo(found!.after - found!.before, 6);
    for (const { share } of found!.causes) expect(share).toBeLessThan(0);
    // Only one thing changed: all of the difference is its.
    const one = drained(
      causesBetween(
        { network, condition: maximumSources },
        { network: after, condition: maximumSources },
        study,
        fault,
        place,
      ),
    ).value!;
    expect(one.causes).toMatchObject([{ key: 'bra-t1', share: expect.closeTo(one.after - one.before, 6) }]);
    const other = drained(
      causesBetween({ network, condition: maximumSources }, { network, condition: night }, study, fault, place),
    ).value!;
    expect(other.causes.map(({ key }) => key).sort()).toEqual(['bra-q30', 'sources']);
    expect(other.after).toBeCloseTo(level(network, night), 6);
  });
  it('is nothing where the bus is on one side only', () => {
    const gone = lacking('rural-2');
    const at = { ...place, element: id('rural-2') };
    const none = drained(
      causesBetween(
        { network, condition: maximumSources },
        { network: gone, condition: maximumSources },
        study,
        fault,
        at,
      ),
    );
    expect(none.value).toBeNull();
  });
});

describe('the wiring of a node', () => {
  const { topology } = iec60909Study(network, 'max').assembly;
  it('is known from each end of every join, and found once', () => {
    const node = topology.nodes[topology.nodeAt(id('bra-11-a'), 0)!];
    const neighbours = neighboursIn(node);
    let joins = 0;
    for (const list of neighbours.values()) joins += list.length;
    expect(joins).toBe(2 * node.wires.length);
    for (const { element, from, to } of node.wires) {
      expect(neighbours.get(from)).toContainEqual({ key: to, by: element });
      expect(neighbours.get(to)).toContainEqual({ key: from, by: element });
    }
    expect(neighboursIn(node)).toBe(neighbours);
    expect(splitKey('a:b:12')).toEqual(['a:b', 12]);
  });
  it('is cut by a CT with the shorter list on its side, elements that carry current only', () => {
    const ct = id('bra-ct32');
    const cut = cutAt(network, topology, ct)!;
    expect(cut.node).toBe(topology.nodeAt(ct, 0));
    for (const { key, element, terminal } of cut.carrying) {
      expect(key).toBe(`${element}:${terminal}`);
      expect(cut.keys.has(key)).toBe(true);
      expect(['bus', 'switch', 'currentTransformer', 'connection']).not.toContain(network.elements.get(element)!.kind);
    }
    expect(cut.carrying.map(({ element }) => element)).toEqual(['bra-tl1']);
    // The other way round it is the same cut, from the other side.
    const node = topology.nodes[cut.node];
    expect(cut.keys.size).toBeLessThan(node.terminals.length);
  });
});

describe('what matters to currents', () => {
  const line = find(network, 'line', id('fer-pen'))!;
  it('is everything but place, remarks and protection', () => {
    expect(differsElectrically(line, line)).toBe(false);
    expect(differsElectrically(line, { ...line })).toBe(false);
    for (const over of [{ turn: 90 }, { mirrored: true }, { pinned: true }, { assumed: ['x'] }, { y: 3 }])
      expect([over, differsElectrically(line, { ...line, ...over } as typeof line)]).toEqual([over, false]);
    for (const over of [{ circuits: 2 }, { ratedA: 1 }, { name: 'Other' }])
      expect([over, differsElectrically(line, { ...line, ...over })]).toEqual([over, true]);
    expect(differsElectrically(undefined, undefined)).toBe(false);
    expect(differsElectrically(line, undefined)).toBe(true);
    const chart = find(network, 'gradingChart', id('chart-phase'))!;
    const night = find(network, 'condition', id('coupler-open'))!;
    for (const silent of [chart, night]) {
      expect(differsElectrically(undefined, silent)).toBe(false);
      expect(differsElectrically(silent, undefined)).toBe(false);
      expect(differsElectrically(silent, { ...silent, name: 'Other' })).toBe(false);
    }
    const bus = find(network, 'bus', id('bra-11-a'))!;
    expect(differsElectrically(bus, { ...bus, length: 500 })).toBe(false);
    // Another kind under the same identifier is another network.
    expect(differsElectrically(chart, { ...line, id: chart.id })).toBe(true);
  });
});
