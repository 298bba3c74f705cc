/** Files into a project and out of it: what goes out comes back the same, what does not fit is told with its place, and nothing throws. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { shippedLibrary } from '../equipment/shipped';
import { applyChanges } from '../model/changes';
import { kinds } from '../model/element';
import { elementId, type ElementId } from '../model/fields';
import { find, networkOf, ofKind, type Network } from '../model/network';
import { demoNetwork } from '../test/demo';
import { plainCell, type Into, type Report, type Sheet, type Source } from './format';
import { knownExporters } from './known';
import { bytesOf, opened, sourceOf } from './open';
import { exporters, importers, knownFormats, reportOn } from './registry';
import { csv } from './tables/csv';
import { readXlsx, writeXlsx } from './tables/xlsx';
import { typeSheets } from './types/exchange';

const island = demoNetwork();
const into = (network: Network, more: Partial<Into> = {}): Into => {
  let made = 0;
  return { network, newId: () => elementId(`new-${++made}`), ...more };
};
const source = async (name: string, bytes: Uint8Array): Promise<Source> => {
  const file = await opened(name, bytes);
  if (!file.ok) throw new Error(file.message);
  return file.source;
};
const text = (value: string) => new TextEncoder().encode(value);
const exporter = (id: string) => exporters.find((each) => each.id === id)!;
const outAndIn = async (id: string, network: Network, target: Network): Promise<Report> => {
  const { write, extension } = exporter(id);
  return (await reportOn(
    await source('file', await bytesOf(write(network, 'Copy', 'why').content, extension)),
    into(target),
  ))!;
};
const applied = (network: Network, report: Report): Network => {
  const result = applyChanges(network, report.batch);
  if (!result.ok) throw new Error(result.problems[0].message);
  return result.network;
};
/** A workbook as it is changed in a spreadsheet. */
const changed = (sheets: readonly Sheet[], kind: string, id: string, head: string, value: string): Sheet[] =>
  sheets.map((sheet) => {
    const column = sheet.rows[0].indexOf(head);
    return sheet.name !== kind
      ? sheet
      : {
          ...sheet,
          rows: sheet.rows.map((row) => (row[0] === id ? row.map((cell, k) => (k === column ? value : cell)) : row)),
        };
  });

describe('what can be written', () => {
  it('is listed by name as the registry has it', () => {
    expect(knownExporters).toEqual(exporters.map(({ id, title, extension }) => ({ id, title, extension })));
  });
});

describe('opening', () => {
  it('tells workbooks, tables, JSON and nonsense apart by what stands in them', async () => {
    const book = await bytesOf([{ name: 'A', rows: [['x', 1]] }], 'xlsx');
    expect((await source('a.csv', book)).sheets).toEqual([{ name: 'A', rows: [['x', '1']] }]);
    expect((await source('a.xlsx', text('a;b\n1;2'))).sheets[0].rows).toEqual([
      ['a', 'b'],
      ['1', '2'],
    ]);
    expect((await source('a', text(' {"a":1}'))).sheets).toEqual([]);
    for (const bytes of [text('PK no zip at all'), new Uint8Array([0xff, 0xfe, 0x00, 0xd8]), text('a\u0000b')])
      expect(await opened('f', bytes)).toMatchObject({ ok: false, message: expect.stringMatching(/^f is no /) });
  });
  it('is known by nobody, or by one importer, whatever it is', async () => {
    await fc.assert(
      fc.asyncProperty(fc.oneof(fc.string(), fc.json()), async (content) => {
        const file = sourceOf('f', content);
        const report = await reportOn(file, into(island));
        expect(report === null || report.batch.length >= 0).toBe(true);
      }),
      { seed: 11, numRuns: 300 },
    );
    expect(knownFormats().split(', ')).toHaveLength(importers.length);
  });
});

describe('a project file into another project', () => {
  it('brings every element under fresh names, below what is there, with all references', async () => {
    const report = await outAndIn('project', island, island);
    expect(report.problems).toEqual([]);
    const both = applied(island, report);
    for (const kind of ['line', 'relay', 'gradingChart', 'condition'] as const)
      expect(ofKind(both, kind)).toHaveLength(2 * ofKind(island, kind).length);
    expect(ofKind(both, 'projectSettings')).toHaveLength(ofKind(island, 'projectSettings').length);
    const lowest = Math.max(...ofKind(island, 'bus').map(({ y }) => y));
    const fresh = ofKind(both, 'bus').filter(({ id }) => id.startsWith('new-'));
    expect(Math.min(...fresh.map(({ y }) => y))).toBeGreaterThan(lowest);
    expect(report.found.find(({ what }) => what === kinds.line.title)!.count).toBe(ofKind(island, 'line').length);
    const copy = ofKind(both, 'gradingChart').at(-1)!;
    expect(copy.relays.every((id) => id.startsWith('new-'))).toBe(true);
  });
  it('that is damaged says where, and brings nothing', async () => {
    const broken = JSON.stringify({ format: 'mesura-project', version: 2, name: 'x', elements: [{ kind: 'bus' }] });
    const report = (await reportOn({ name: 'x', text: broken, sheets: [], files: [] }, into(island)))!;
    expect(report.batch).toEqual([]);
    expect(report.problems[0].message).toContain('elements.0');
  });
});

describe('tables of all elements', () => {
  const sheets = exporter('tables').write(island, '', '').content as Sheet[];

  it('go out with a sheet for each kind, numbers as numbers, and change nothing when they come back', async () => {
    const bytes = await writeXlsx(sheets);
    const read = await readXlsx(bytes);
    expect(read.map(({ name }) => name)).toEqual(sheets.map(({ name }) => name));
    const lines = sheets.find(({ name }) => name === kinds.line.title)!;
    const length = lines.rows[0].indexOf('Length in km');
    expect(lines.rows[1][length]).toBeTypeOf('number');
    const report = (await reportOn({ name: 'f', text: '', sheets: read, files: [] }, into(island)))!;
    expect([report.batch, report.problems]).toEqual([[], []]);
  });
  it('every head of a kind is its own', () => {
    for (const { rows } of sheets) expect(new Set(rows[0]).size).toBe(rows[0].length);
  });
  it('a value changed in the spreadsheet changes its element, and no other', async () => {
    const book = await writeXlsx(changed(sheets, kinds.line.title, 'fer-pen', 'Length in km', '12.5'));
    const report = (await reportOn(await source('f', book), into(island)))!;
    expect(report.batch).toEqual([
      { op: 'update', element: { ...find(island, 'line', elementId('fer-pen'))!, lengthKm: 12.5 } },
    ]);
    expect(report.found).toEqual([{ what: `${kinds.line.title} changed`, count: 1 }]);
    expect(find(applied(island, report), 'line', elementId('fer-pen'))!.lengthKm).toBe(12.5);
  });
  it('as CSV of one kind too', async () => {
    const lines = changed(sheets, kinds.line.title, 'fer-pen', 'Length in km', '9.9').find(
      ({ name }) => name === kinds.line.title,
    )!;
    const written = csv(lines.rows.map((row) => row.map(plainCell)));
    const report = (await reportOn(sourceOf('f', written), into(island)))!;
    expect(report.batch).toHaveLength(1);
  });
  it('what does not fit is told with sheet and line, and the rest is taken', async () => {
    const rows = [
      ['Identifier', 'Length in km', 'Colour'],
      ['fer-pen', 'far', 'red'],
      ['fer-bra-1', '7', ''],
      ['fer-bra-1', '8', ''],
      ['nobody', '1', ''],
      ['', '', ''],
    ];
    const report = (await reportOn(
      { name: 'f', text: '', sheets: [{ name: 'Lines', rows }], files: [] },
      into(island),
    ))!;
    expect(report.problems.map(({ message }) => message)).toEqual([
      'Lines, line 2 (FER-PEN): length: This is not a number.',
      'Lines, line 2 (FER-PEN): the column "Colour" is not known and was left out',
      'Lines, line 4: FER-BRA 1 stands there twice',
      'Lines, line 5: there is no element "nobody" in this project',
    ]);
    expect(report.batch).toMatchObject([{ op: 'update', element: { id: 'fer-bra-1', lengthKm: 7 } }]);
  });
  it('of two that would have one name the first is taken', async () => {
    const rows = [
      ['Identifier', 'Name'],
      ['fer-bra-1', 'Same'],
      ['fer-bra-2', 'Same'],
    ];
    const report = (await reportOn({ name: 'f', text: '', sheets: [{ name: '', rows }], files: [] }, into(island)))!;
    expect(report.batch).toHaveLength(1);
    expect(report.problems[0].message).toMatch(/^Same: /);
  });
});

describe('types of equipment', () => {
  const some = shippedLibrary.filter((_, k) => k % 40 === 0);
  it('of several kinds go out as a workbook and into another project, known by their sheets', async () => {
    const report = (await reportOn(
      await source('types', await bytesOf(typeSheets(some), 'xlsx')),
      into(networkOf([])),
    ))!;
    expect(report.problems).toEqual([]);
    const names = report.batch.flatMap((change) =>
      change.op === 'add' && 'name' in change.element ? [change.element.name] : [],
    );
    expect(names.sort()).toEqual(some.map(({ title }) => title).sort());
    const target = applied(networkOf([]), report);
    // The earthing of a neutral is of the place, not of the type.
    for (const { title, data } of some) {
      const { hvNeutral, lvNeutral, ...type } = data;
      const told = Object.fromEntries(Object.entries(type).filter(([, value]) => value !== null));
      expect(ofKind(target, 'libraryEntry').find(({ name }) => name === title)?.data, title).toMatchObject(told);
    }
    expect((await outAndIn('types', target, networkOf([]))).batch).toHaveLength(some.length);
    // Once more: the names are taken.
    const again = await outAndIn('types', target, target);
    expect([again.batch.length, again.problems.length]).toEqual([0, some.length]);
  });
  it('that do not say what they are of take what is asked for, or are left out', async () => {
    const rows = [
      ['Type', 'ratedA'],
      ['Ours', '630'],
    ];
    const file: Source = { name: 'f', text: '', sheets: [{ name: '', rows }], files: [] };
    expect((await reportOn(file, into(island)))!.problems[0].message).toBe(
      'Line 2 (Ours): it does not say what it is a type of',
    );
    const { batch } = (await reportOn(file, into(island, { kind: 'switch' })))!;
    expect(batch).toMatchObject([
      { op: 'add', element: { kind: 'libraryEntry', for: 'switch', data: { ratedA: 630 } } },
    ]);
  });
});

describe('a part of a drawing', () => {
  it('comes out of a file as out of the clipboard', async () => {
    const bus = { ...find(island, 'bus', 'bra-11-a' as ElementId)! };
    const fragment = JSON.stringify({ format: 'mesura-fragment', version: 1, elements: [bus] });
    const report = (await reportOn(
      { name: 'f', text: fragment, sheets: [], files: [] },
      into(island, { at: { x: 10, y: 20 } }),
    ))!;
    expect(report.batch).toMatchObject([{ op: 'add', element: { kind: 'bus', id: 'new-1', x: 10 } }]);
  });
});
