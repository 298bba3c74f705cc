import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { csv } from '../formats/tables/csv';
import { compareTables, oneTable, type BatchTable } from './table';

describe('answers as one table', () => {
  it('puts columns of one name together, names the run, and keeps tables of one answer apart', () => {
    const table = oneTable([
      { run: 'faults', csv: 'place,ik_A\r\nA,100\r\n"B, north",2.5e3\r\n' },
      { run: 'flow', csv: 'bus,percent\r\nA,99\r\n\r\nplace,ik_A,kind,kind\r\nC,-1,3ph,1ph\r\n' },
      { run: 'nothing', csv: '' },
    ]);
    expect(table.columns).toEqual(['run', 'place', 'ik_A', 'bus', 'percent', 'kind', 'kind 2']);
    expect(table.rows).toEqual([
      ['faults', 'A', 100, null, null, null, null],
      ['faults', 'B, north', 2500, null, null, null, null],
      ['flow', null, null, 'A', 99, null, null],
      ['flow', 'C', -1, null, null, '3ph', '1ph'],
    ]);
  });
  it('takes for figures what is one, and nothing else', () => {
    const [row] = oneTable([{ run: 'x', csv: 'a,b,c,d,e,f\n1e5,.5,-,1-2,0x10,Infinity\n' }]).rows;
    expect(row).toEqual(['x', 1e5, 0.5, '-', '1-2', '0x10', 'Infinity']);
  });
});

const cell = fc.oneof(fc.double({ noNaN: true, noDefaultInfinity: true }), fc.constantFrom('A', 'B', null));
const table = fc
  .array(fc.tuple(fc.constantFrom('North', 'South', 'East'), cell, cell))
  .map((rows): BatchTable => ({ columns: ['run', 'p', 'q'], rows }));

describe('what became other', () => {
  it('is nothing between a table and itself, and turns round with the order', () => {
    fc.assert(
      fc.property(table, table, (p, q) => {
        const none = compareTables(p, p);
        expect([none.changes, none.same]).toEqual([[], p.rows.length]);
        const there = compareTables(p, q);
        const back = compareTables(q, p);
        const count = (what: string, list: typeof there) => list.changes.filter((each) => each.what === what).length;
        expect(count('new', there)).toBe(count('gone', back));
        expect(count('changed', there)).toBe(count('changed', back));
        expect(there.same + count('changed', there) + count('new', there)).toBe(q.rows.length);
        expect(there.same + count('changed', there) + count('gone', there)).toBe(p.rows.length);
      }),
    );
  });
  it('names the cell with its share, also where the texts of several rows are the same', () => {
    const of = (...rows: [string, string, number][]): BatchTable => ({ columns: ['run', 'place', 'ik_A'], rows });
    const { changes, same } = compareTables(
      of(['f', 'A', 100], ['f', 'A', 200], ['f', 'B', 1], ['f', 'C', 0]),
      of(['f', 'A', 100], ['f', 'A', 150], ['f', 'C', 0 + 1e-12], ['f', 'D', 5]),
    );
    expect(same).toBe(1);
    expect(changes).toEqual([
      { what: 'changed', row: ['f', 'A', 150], cells: [{ column: 'ik_A', before: 200, after: 150, percent: -25 }] },
      { what: 'changed', row: ['f', 'C', 1e-12], cells: [{ column: 'ik_A', before: 0, after: 1e-12, percent: null }] },
      { what: 'new', row: ['f', 'D', 5], cells: [] },
      { what: 'gone', row: ['f', 'B', 1], cells: [] },
    ]);
  });
  it('takes what rounding leaves for the same, and a millionth for a change', () => {
    const of = (value: number): BatchTable => ({ columns: ['run', 'a'], rows: [['x', value]] });
    expect(compareTables(of(1000), of(1000 * (1 + 1e-11))).same).toBe(1);
    expect(compareTables(of(1000), of(1000.001)).changes).toHaveLength(1);
  });
  it('takes a new column as one', () => {
    const before: BatchTable = { columns: ['run', 'a'], rows: [['x', 1]] };
    const after: BatchTable = { columns: ['run', 'b', 'a'], rows: [['x', 2, 1]] };
    expect(compareTables(before, after).changes[0].cells).toEqual([
      { column: 'b', before: null, after: 2, percent: null },
    ]);
  });
  it('comes back from CSV as it went', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer(), fc.constantFrom('A, "b"', 'c\n\nd', 'e')), { minLength: 1 }),
        (rows) => {
          const text = csv([['n', 'text'], ...rows]);
          expect(oneTable([{ run: 'x', csv: text }]).rows).toEqual(rows.map((row) => ['x', ...row]));
        },
      ),
    );
  });
});
