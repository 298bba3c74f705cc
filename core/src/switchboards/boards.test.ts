/** Boards of the demo, and of small networks: sections, outlets, links, ratings, parts. */
import { describe, expect, it } from 'vitest';
import { faultAt } from '../faults/iec60909/study';
import { elementId as id } from '../model/fields';
import { find, nameIn, withElements } from '../model/network';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { Builder } from '../test/network';
import { finished } from '../working/steps';
import { billOf, billRows } from './bill';
import { boardLinks, boardsIn } from './board';
import { boardTable } from './ratings';

const demo = demoNetwork();
const boards = boardsIn(demo);
const named = (name: string) => boards.find((each) => each.name === name)!;

describe('boards of the demo', () => {
  it('sections that a coupler joins are one board', () => {
    expect(named('BRA 11').sections).toEqual(['bra-11-a', 'bra-11-b']);
    expect(named('FER 33').sections).toEqual(['fer-33-a', 'fer-33-b']);
    const couplers = named('BRA 11').outlets.filter(({ side }) => side === 'coupler');
    expect(couplers).toHaveLength(1);
    expect(couplers[0].components).toContain('bra-q30');
  });
  it('outlets know what stands in them, what they lead to and which way it feeds', () => {
    const board = named('BRA 11');
    const pump = board.outlets.find(({ leadsTo }) => leadsTo.includes(id('bra-p1')))!;
    expect(pump).toMatchObject({ side: 'out', title: 'BRA P1' });
    expect(pump.components).toEqual(expect.arrayContaining(['bra-q33', 'bra-ct33', 'bra-q33-relay']));
    const incoming = board.outlets.filter(({ side }) => side === 'in').map(({ title }) => title);
    expect(incoming).toEqual(expect.arrayContaining(['BRA T1', 'BRA T2', 'BRA G1']));
    expect(board.outlets.find(({ title }) => title === 'BRA TL1')).toMatchObject({ side: 'out' });
    // A circuit goes by what it supplies, not by its cable.
    expect(named('BRA DB1').outlets.at(1)).toMatchObject({ title: 'Flocculation pump', leadsTo: ['bra-w81'] });
    expect(named('BRA DB1').outlets.map(({ side }) => side)).toEqual([
      'in',
      ...Array.from({ length: 12 }, () => 'out'),
    ]);
  });
  it('and boards how they feed each other', () => {
    const links = boardLinks(demo).map(({ from, to, over }) =>
      [from, over, to].map((each) => nameIn(demo, each)).join(' > '),
    );
    expect(links).toEqual(
      expect.arrayContaining([
        'BRA 33 > BRA T1 > BRA 11 A',
        'BRA 11 A > BRA TL1 > BRA 0.4',
        'BRA 0.4-2 > BRA WDB1 > BRA DB1',
        // The nearer to the sources feeds; a spur and its transformer lie between two boards as well.
        'FER 33 A > FER-BRA 1 > BRA 33',
        'QUE tee > QUE spur > QUE 11',
      ]),
    );
    expect(new Set(links).size).toBe(links.length);
    expect(links.join()).not.toContain('BRA 0.4 > BRA TL1');
  });
  it('busbars are held against the largest of all sections and conditions', () => {
    const studies = new Studies(demo);
    const rows = finished(boardTable(studies, studies.conditions));
    const row = rows.find(({ board }) => board === named('BRA DB1').id)!;
    expect(row.verdict).toBe('holds');
    const peak = row.ratings.find(({ what }) => what === 'peak')!;
    const largest = Math.max(
      ...studies.conditions.flatMap((condition) =>
        (['3ph', '1ph', '2phE'] as const).map((kind) => {
          const fault = faultAt(studies.iec60909({ condition: condition.id }), id('bra-db1'), 0, kind);
          return fault.ok ? fault.fault.ipA / 1000 : 0;
        }),
      ),
    );
    expect(peak.value! / largest).toBeCloseTo(1, 9);
    expect(peak).toMatchObject({ rated: 32, verdict: 'holds', next: null });
    // The load flow takes consumers at their full size, which is more than 77 A with demand and coincidence.
    expect(row.ratings[0].value).toBeGreaterThan(100);
    expect(row.ratings[0].value).toBeLessThan(130);
    // Too small, or not known: the next standard size is named.
    const bus = find(demo, 'bus', id('bra-db1'))!;
    const small = new Studies(withElements(demo, [{ ...bus, peakKa: 10, ratedA: null }]));
    const changed = finished(boardTable(small, small.conditions)).find(({ board }) => board === 'bra-db1')!;
    expect(changed.verdict).toBe('short');
    expect(changed.ratings.map(({ verdict }) => verdict)).toEqual(['unknown', 'short', 'holds']);
    expect(changed.ratings[0].next).toBe(125);
    expect(changed.ratings[1].next!).toBeGreaterThan(changed.ratings[1].value!);
  });
  it('the bill counts like parts together, and every part once', () => {
    const bill = billOf(demo);
    const db1 = bill.filter(({ board }) => board === 'BRA DB1');
    expect(db1.find(({ type }) => type.includes('B16'))).toMatchObject({ count: 2, kind: 'Switch' });
    const all = bill.flatMap(({ names }) => names);
    expect(new Set(all).size).toBe(all.length);
    expect(bill.every(({ count, names }) => count === names.length)).toBe(true);
    expect(billRows(bill)[0]).toEqual(['Board', 'Kind', 'Type', 'Number', 'Names']);
    expect(billOf(demo, named('BRA DB1').id)).toEqual(db1);
  });
});

describe('boards of small networks', () => {
  it('a busbar with nothing is none; two with a line between them are two, linked once', () => {
    const b = new Builder();
    b.add('networkFeeder', 'N');
    for (const name of ['A', 'B', 'Spare']) b.add('bus', name);
    b.add('switch', 'Q1');
    b.add('line', 'W');
    b.add('switch', 'Q2');
    b.join('N', 'A', 'A', 'Q1:0', 'Q1:1', 'W:0', 'W:1', 'Q2:0', 'Q2:1', 'B');
    const network = b.network();
    expect(boardsIn(network).map(({ name }) => name)).toEqual(['A', 'B']);
    expect(boardLinks(network)).toEqual([{ from: 'A', to: 'B', over: 'W' }]);
    expect(boardsIn(network)[0].outlets.map(({ side, components }) => [side, components])).toEqual([
      ['in', []],
      ['out', ['Q1']],
    ]);
  });
});
