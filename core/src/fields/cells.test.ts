import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyChanges } from '../model/changes';
import { elementSchema, kinds, type ElementKind } from '../model/element';
import { ofKind } from '../model/network';
import { demoNetwork } from '../test/demo';
import { delimited } from './delimited';
import { asText, columnsOf, pasted, shownRows, textOf, typed } from './cells';

const network = demoNetwork();
const lines = ofKind(network, 'line');
const columns = columnsOf('line');
const column = (id: string) => columns.findIndex((each) => each.id === id);

describe('cells of a grid', () => {
  it('of every kind of the demo: typed as they stand, nothing changes', () => {
    for (const kind of Object.keys(kinds) as ElementKind[])
      for (const element of ofKind(network, kind).slice(0, 5))
        for (const each of kind === 'connection' ? [] : columnsOf(kind)) {
          const text = textOf(element, each);
          if (text === '' && !each.field.type.startsWith('optional')) continue;
          const again = typed(element, each, text);
          if (text !== '') expect([each.id, again.ok && again.element]).toEqual([each.id, element]);
        }
  });
  it('take what the card takes, with its messages', () => {
    const [line] = lines;
    const length = columns[column('lengthKm')];
    expect(typed(line, length, '2,5 km')).toMatchObject({ ok: true, element: { lengthKm: 2.5 } });
    expect(typed(line, length, '800 m')).toMatchObject({ ok: true, element: { lengthKm: 0.8 } });
    expect(typed(line, length, '')).toEqual({ ok: false, message: 'A value is needed here.' });
    expect(typed(line, length, 'long')).toEqual({ ok: false, message: 'This is not a number.' });
    expect(typed(line, length, '-3')).toMatchObject({ ok: false });
    expect(typed(line, columns[column('type')], 'CABLE')).toMatchObject({ ok: true, element: { type: 'cable' } });
    expect(typed(line, columns[column('type')], 'rope')).toMatchObject({ ok: false });
    expect(typed(line, columns[column('name')], '  ')).toMatchObject({ ok: false });
  });
  it('are read as spreadsheets write them', () => {
    expect(delimited('a\tb\r\nc\td\r\n', '\t')).toEqual([
      ['a', 'b'],
      ['c', 'd'],
    ]);
    expect(delimited('"a\tb"\t"say ""x"""\n\t', '\t')).toEqual([
      ['a\tb', 'say "x"'],
      ['', ''],
    ]);
    fc.assert(
      fc.property(
        fc.array(fc.array(fc.string(), { minLength: 1, maxLength: 4 }), { minLength: 1, maxLength: 4 }),
        (rows) => {
          const clean = rows.map((row) => row.map((cell) => cell.replaceAll('\r', '')));
          const text = clean.map((row) => row.map((cell) => `"${cell.replaceAll('"', '""')}"`).join('\t')).join('\n');
          expect(delimited(text, '\t')).toEqual(clean);
        },
      ),
      { seed: 8, numRuns: 200 },
    );
  });
});

describe('rows of a grid', () => {
  it('hold all words, and stand in the order of a column', () => {
    expect(shownRows(lines, columns, 'cau-fer', null).map(({ id }) => id)).toEqual(['cau-fer-1', 'cau-fer-2']);
    const lengths = (down: boolean) =>
      shownRows(lines, columns, '', { id: 'lengthKm', down }).map((line) => (line as (typeof lines)[number]).lengthKm);
    expect(lengths(false)).toEqual([...lengths(false)].sort((p, q) => p - q));
    expect(lengths(true)).toEqual([...lengths(true)].sort((p, q) => q - p));
    expect(shownRows(lines, columns, '', null)).toBe(lines);
    expect(shownRows(lines, columns, 'nowhere', null)).toEqual([]);
  });
});

describe('a pasted block', () => {
  const from = { row: 1, column: column('lengthKm') };
  it('copied and pasted on itself changes nothing', () => {
    const text = asText(lines, columns);
    expect(pasted(network, lines, columns, { row: 0, column: 0 }, text)).toEqual({
      changes: [],
      problems: [],
      beyond: 0,
    });
  });
  it('is one batch for what fits, and says what does not', () => {
    const { changes, problems, beyond } = pasted(network, lines, columns, from, '1.5\n2,5\nnonsense\n-4');
    expect(changes.map((change) => change.op === 'update' && change.element)).toMatchObject([
      { id: lines[1].id, lengthKm: 1.5 },
      { id: lines[2].id, lengthKm: 2.5 },
    ]);
    expect(problems.map(({ element }) => element)).toEqual([lines[3].id, lines[4].id]);
    expect(beyond).toBe(0);
    expect(applyChanges(network, changes).ok).toBe(true);
  });
  it('fills a selection with one value, and counts what lies beyond the grid', () => {
    const filled = pasted(network, lines, columns, { ...from, rows: 3, columns: 1 }, '7');
    expect(filled.changes).toHaveLength(3);
    const last = { row: lines.length - 1, column: columns.length - 1 };
    expect(pasted(network, lines, columns, last, 'a\tb\nc\td').beyond).toBe(3);
  });
  it('refuses a name that is taken for its element alone', () => {
    const names = pasted(network, lines, columns, { row: 0, column: column('name') }, 'New line\nBRA 11 A');
    expect(names.changes).toHaveLength(1);
    expect(names.problems[0].message).toMatch(/already taken/);
  });
  it('of any texts leaves elements that the schema takes', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(fc.oneof(fc.string(), fc.double().map(String)), { minLength: 1, maxLength: 9 }), {
          minLength: 1,
          maxLength: 6,
        }),
        fc.nat(8),
        (rows, at) => {
          const text = rows.map((row) => row.map((cell) => cell.replaceAll(/["\t\n\r]/g, '')).join('\t')).join('\n');
          const { changes } = pasted(network, lines, columns, { row: 0, column: at }, text);
          for (const change of changes)
            expect(change.op === 'update' && elementSchema.safeParse(change.element).success).toBe(true);
          expect(applyChanges(network, changes).ok).toBe(true);
        },
      ),
      { seed: 5, numRuns: 60 },
    );
  });
});
