/** Values of a sheet on both sides of the transformers, their reasons, and what differs between two states of a sheet. */
import { describe, expect, it } from 'vitest';
import { HyperFormula } from 'hyperformula';
import { readFileSync } from 'node:fs';
import { accepted, overridden } from '../proposals/origin';
import { checked } from '../checks/run';
import { readXlsx, writeXlsx } from '../formats/tables/xlsx';
import type { LiveCell } from '../formats/format';
import type { Element } from '../model/element';
import { elementId } from '../model/fields';
import { find, withElements, type Network } from '../model/network';
import { deviceOf } from '../protection/device';
import { Studies } from '../studies/studies';
import { demoNetwork, networkOfFile } from '../test/demo';
import type { SheetContent } from './content';
import { valueKey } from './content';
import { sheetDifferences, isSame } from './difference';
import { digestible, inForm2, type StoredContent } from './digestible';
import { arcContent } from './documents';
import { movedFindings, readFindings } from './findings';
import { sheetContent } from './sheet';
import { finished } from '../working/steps';
import { sheetWorkbook } from './workbook';
import { bothSides } from './values';
import { inWords, sheetWords } from './words';

const id = elementId;
const demo = demoNetwork();
const studies = new Studies(demo);
const sheet = (name: string, network: Network = demo): SheetContent =>
  sheetContent(network === demo ? studies : new Studies(network), id(name))!;
const with_ = (...elements: Element[]) => withElements(demo, elements);
const relayOf = (name: string) => find(demo, 'relay', id(name))!;
const valueOf = (content: SheetContent, field: string, code?: string) =>
  content.values.find((each) => each.field === field && (code === undefined || each.code === code))!;
const q32 = sheet('bra-q32-relay');

describe('values of a sheet', () => {
  it('stand as the relay takes them, primary and secondary', () => {
    expect(valueOf(q32, 'pickup', '50')).toMatchObject({
      value: 14,
      unit: '× In',
      primary: { value: 2100, unit: 'A' },
      secondary: { value: 14, unit: 'A' },
      state: 'typed',
    });
    expect(valueOf(q32, 'choice.characteristic', '51')).toMatchObject({ value: 'iecB', shown: 'IEC B, very inverse' });
    expect(valueOf(q32, 'timeMultiplier')).toMatchObject({ value: 0.26, primary: null, secondary: null });
  });
  it('of a distance relay are ohms behind its transformers: by hand from 800/1 A and 132 kV/110 V', () => {
    const fer = sheet('fer-q01-relay');
    const reach = valueOf(fer, 'zones.0.reachOhm', '21');
    // 800/1 over 132000/110 = 800/1200 secondary ohms of a primary one.
    expect(reach.secondary).toEqual({ value: reach.value, unit: 'Ω' });
    expect(reach.primary!.value).toBeCloseTo((reach.value as number) * 1.5, 6);
    expect(fer.zones.map(({ loops }) => loops)).toEqual(['phase', 'earth']);
    // The tip of zone 1 on the line's angle is as far as its reach, in primary ohms.
    const [phase] = fer.zones;
    expect(phase.regions[0].zone).toBe('1');
    const top = Math.max(...phase.regions[0].outline.map(({ im }) => im));
    expect(top).toBeGreaterThan(0.7 * reach.primary!.value);
    expect(top).toBeLessThan(1.2 * reach.primary!.value);
    expect(fer.planes[0].code).toBe('87L');
    expect(fer.planes[0].points.some(({ where, trips }) => where === 'inside' && trips)).toBe(true);
    expect(fer.planes[0].points.filter(({ where }) => where === 'outside').every(({ trips }) => !trips)).toBe(true);
  });
  it('come to both sides by the unit they have', () => {
    const scales = { ct: { primaryA: 400, secondaryA: 5 }, vt: { primaryKv: 11, secondaryV: 110 }, baseA: 200 };
    const of = (value: number, unit: string, secondary?: true) => {
      const { primary, secondary: behind } = bothSides({ value, unit, secondary }, scales);
      return [primary?.value ?? null, behind?.value ?? null];
    };
    expect(of(1.5, '× In')).toEqual([600, 7.5]);
    expect(of(0.5, '× base')).toEqual([100, 1.25]);
    expect(of(80, 'A')).toEqual([80, 1]);
    expect(of(1, 'A', true)).toEqual([80, 1]);
    // 400/5 over 11000/110: 0.8 secondary ohms of a primary one.
    expect(of(2, 'Ω')[1]).toBeCloseTo(1.6, 9);
    expect(of(1.6, 'Ω', true)[0]).toBeCloseTo(2, 9);
    expect(of(0.3, 's')).toEqual([null, null]);
    const nothing = { ct: null, vt: null, baseA: null };
    expect(bothSides({ value: 1, unit: '× In' }, nothing)).toEqual({ primary: null, secondary: null });
    expect(bothSides({ value: 63, unit: 'A' }, nothing).primary).toEqual({ value: 63, unit: 'A' });
  });
  it('tell what they were set instead of, and why', () => {
    const relay = relayOf('bra-q32-relay');
    const [first] = relay.functions;
    const changed = overridden(relay, first.id, 'timeMultiplier', 0.3, 'old relays below', '2026-11-20');
    const value = valueOf(sheet('bra-q32-relay', with_(changed)), 'timeMultiplier');
    expect(value).toMatchObject({ value: 0.3, state: 'overridden' });
    expect(value.words).toMatch(/instead of 0.26: old relays below/);
  });
  it('carry the rules that asked for them, with what their formulas come to from the figures', () => {
    const relay = relayOf('bra-q32-relay');
    const [first] = relay.functions;
    const rule = { id: 'phase-pickup-load', title: 'Above load' };
    const by = [
      {
        rule,
        figures: [{ name: 'maxLoad', value: 100, unit: 'A', condition: null, place: 'BRA T1' }],
      },
    ] as never;
    const proposed = accepted(
      relay,
      [{ functionId: first.id, field: 'pickup', to: 1, by } as never],
      'Plain practice',
      '2026-11-20',
    );
    const value = valueOf(sheet('bra-q32-relay', with_(proposed)), 'pickup', '51');
    expect(value.state).toBe('proposed');
    expect(value.figures).toEqual([{ name: 'maxLoad', value: 100, unit: 'A', place: 'BRA T1' }]);
  });
  it('state the checks about the device once each, with the condition that decided', () => {
    const titles = q32.statements.map(({ title, value }) => `${title} ${value}`);
    expect(new Set(titles).size).toBe(titles.length);
    expect(q32.statements.some(({ rule, verdict }) => rule === 'grading.pairs' && verdict === 'short')).toBe(true);
    // The same as of a whole run of all rules.
    const whole = sheetContent(studies, id('bra-q32-relay'), checked(studies))!;
    expect(whole).toEqual(q32);
    expect(q32.trials).toEqual([]);
    const { trials } = sheet('fer-q33-relay');
    expect(trials.flatMap(({ events }) => events.map(({ text }) => text)).join()).toMatch(/trips.*opens/);
  });
  it('are read in the language of whoever enters them', () => {
    expect(inWords(sheetWords.en, 1.25, '× In')).toBe('1.25 × In');
    expect(inWords(sheetWords.de, 1.25, '× base')).toBe('1,25 × Bezug');
    expect(inWords(sheetWords.fr, 0.3, 's')).toBe('0,3 s');
    expect(inWords(sheetWords.es, 'directo', 'x')).toBe('directo');
  });
});

describe('what differs between two states of a sheet', () => {
  const relay = relayOf('bra-q32-relay');
  const changed = (over: object) =>
    sheet(
      'bra-q32-relay',
      with_({ ...relay, functions: relay.functions.map((fn, k) => (k === 0 ? { ...fn, ...over } : fn)) } as Element),
    );
  it('is nothing where nothing does', () => {
    expect(sheetDifferences(q32, structuredClone(q32))).toEqual([]);
    // Other ways through the same network come to the same but for the last digits.
    const nearly = JSON.parse(JSON.stringify(q32), (_, value: unknown) =>
      typeof value === 'number' ? value * (1 + 1e-8) : value,
    ) as SheetContent;
    expect(sheetDifferences(q32, nearly)).toEqual([]);
    expect([isSame(0, 0), isSame(0, 1e-20), isSame(1, 1 + 1e-5), isSame(-1, 1)]).toEqual([true, true, false, false]);
  });
  it('names the value, and the statement that no longer holds', () => {
    const slower = changed({ timeMultiplier: 0.05 });
    const found = sheetDifferences(q32, slower);
    expect(found).toContainEqual({ part: 'value', what: '51 time multiplier', before: '0.26', after: '0.05' });
    const worse = found.filter((each) => each.worse);
    expect(worse.length).toBeGreaterThan(0);
    // Taken back, nothing is worse.
    expect(sheetDifferences(slower, q32).filter((each) => each.worse && each.part === 'value')).toEqual([]);
  });
  it('tells of functions, inputs, trips and figures', () => {
    const off = sheetDifferences(q32, changed({ enabled: false }));
    expect(off).toContainEqual({ part: 'function', what: 'Functions not in use', before: '', after: '51' });
    const ct = find(demo, 'currentTransformer', id('bra-ct32'))!;
    const other = sheet('bra-q32-relay', with_({ ...ct, primaryA: 200 }));
    expect(sheetDifferences(q32, other)).toContainEqual({
      part: 'device',
      what: 'Input BRA CT32',
      before: '150/1 A 5P20',
      after: '200/1 A 5P20',
    });
    const t1 = find(demo, 'transformer', id('bra-t1'))!;
    const weaker = sheet('bra-q32-relay', with_({ ...t1, ukPercent: 14 }));
    expect(sheetDifferences(q32, weaker).some(({ part }) => part === 'figure')).toBe(true);
    expect(sheetDifferences(q32, weaker).some(({ part }) => part === 'value')).toBe(false);
  });
  it('reads sheets of earlier forms by their rows', () => {
    const old = inForm2(q32);
    expect(sheetDifferences(old, q32)).toEqual([]);
    const found = sheetDifferences(old, changed({ timeMultiplier: 0.05 }));
    expect(found.find(({ part }) => part === 'value')).toMatchObject({
      what: '51',
      before: '1 × In, IEC B, very inverse, 0.26',
    });
  });
  it('becomes findings: what no longer holds, what was changed and not issued; figures alone are none', () => {
    const subject = { kind: 'device' as const, id: 'bra-q32-relay' };
    const of = (differences: ReturnType<typeof sheetDifferences>) =>
      movedFindings([{ subject, name: 'BRA Q32 relay', number: 2, differences }]);
    expect(of([{ part: 'figure', what: 'x', before: '1', after: '2' }])).toEqual([]);
    const [moved, value] = of(sheetDifferences(q32, changed({ timeMultiplier: 0.05 })));
    expect(moved).toMatchObject({ code: 'sheet.moved', severity: 'error', element: 'bra-q32-relay' });
    expect(moved.message).toMatch(/of revision 2 no longer hold/);
    expect(value).toMatchObject({ code: 'sheet.changed', severity: 'warning' });
    expect(value.message).toContain('51 time multiplier (0.26 → 0.05)');
    const read = { subject, name: 'BRA Q32 relay', number: 2, source: 'relay', on: '2026-11-28', isOld: false };
    const deviation = { key: 'k', title: '51 pickup', issued: '1 × In', read: '1.2 × In', state: 'deviates' as const };
    expect(readFindings([{ ...read, deviations: [] }])).toEqual([]);
    expect(readFindings([{ ...read, deviations: [deviation] }])[0]).toMatchObject({
      code: 'readBack.deviates',
      severity: 'error',
    });
    expect(readFindings([{ ...read, isOld: true, deviations: [deviation] }])[0].code).toBe('readBack.old');
  });
});

describe('a sheet of form 2', () => {
  const { content, digest } = JSON.parse(
    readFileSync(new URL('../../reference/projects/sheet-form-2.json', import.meta.url), 'utf8'),
  ) as { content: StoredContent; digest: string };
  it('keeps its digest, and a draft of today in that form says the same', async () => {
    const sha = async (value: unknown) =>
      Buffer.from(await crypto.subtle.digest('SHA-256', new TextEncoder().encode(JSON.stringify(value)))).toString(
        'hex',
      );
    expect(await sha(digestible(content))).toBe(digest);
    const now = sheetContent(
      new Studies(networkOfFile('core/reference/projects/version-1.json')),
      id('bra-q32-relay'),
    )!;
    expect(inForm2(now)).toEqual(content);
    expect(sheetDifferences(content, now)).toEqual([]);
  });
});

describe('the workbook of a sheet', () => {
  const isLive = (cell: unknown): cell is LiveCell => typeof cell === 'object' && cell !== null;

  /** Formulas of a workbook computed by a library that is none of ours. */
  async function evaluated(content: SheetContent) {
    const sheets = sheetWorkbook(content, { project: 'P', revision: 'Draft', reason: '', digest: 'x', signatures: [] });
    const { Workbook } = (await import('exceljs')).default;
    const book = new Workbook();
    await book.xlsx.load((await writeXlsx(sheets)).slice().buffer as ArrayBuffer);
    const cells = Object.fromEntries(
      book.worksheets.map((each) => {
        const rows: unknown[][] = [];
        each.eachRow({ includeEmpty: true }, (row, number) => {
          rows[number - 1] = Array.from({ length: row.cellCount }, (_, k) => {
            const { value } = row.getCell(k + 1);
            if (typeof value !== 'object' || value === null) return value;
            return 'formula' in value ? `=${value.formula}` : null;
          });
        });
        return [each.name, Array.from(rows, (row) => row ?? [])];
      }),
    );
    const engine = HyperFormula.buildFromSheets(cells as never, { licenseKey: 'gpl-v3' });
    let count = 0;
    for (const [s, { name, rows }] of sheets.entries())
      rows.forEach((row, r) =>
        row.forEach((cell, c) => {
          if (!isLive(cell) || cell.formula === undefined || cell.value === null) return;
          const address = { sheet: engine.getSheetId(book.worksheets[s].name)!, row: r, col: c };
          expect(engine.getCellFormula(address), `${name} ${r} ${c}`).toBeDefined();
          const value = engine.getCellValue(address) as number;
          expect(
            Math.abs(value - cell.value) <= 1e-8 * Math.max(1, Math.abs(cell.value)),
            `${name} ${r} ${c}: ${String(value)} ${cell.value}`,
          ).toBe(true);
          count++;
        }),
      );
    engine.destroy();
    return { sheets, count };
  }

  it.each(['bra-q32-relay', 'fer-q01-relay', 'fer-t1-relay', 'bra-q33-relay', 'pen-f1', 'bra-f51'])(
    'of %s goes on calculating and comes to the same digits',
    async (name) => {
      const { count } = await evaluated(sheet(name));
      expect(count).toBeGreaterThan(2);
    },
  );
  it('tells typed, simulated and calculated cells apart, and says how', async () => {
    const { sheets } = await evaluated(q32);
    const [first] = sheets;
    expect(
      first.rows
        .flat()
        .filter(isLive)
        .map(({ origin }) => origin),
    ).toEqual(expect.arrayContaining(['input', 'simulated', 'calculated']));
    expect(JSON.stringify(first.rows)).toMatch(/typed, or data of the network/);
    const settings = sheets.find((each) => each.name === 'Settings')!;
    const pickup = settings.rows.find((row) => row[0] === '50' && row[1] === 'Pickup')!;
    expect(pickup[2]).toMatchObject({ value: 14, origin: 'input' });
    expect(pickup[4]).toMatchObject({ value: 2100, origin: 'calculated' });
    expect((pickup[4] as LiveCell).formula).toContain(valueKey(valueOf(q32, 'pickup', '50')));
  });
  it('stores names that look like formulas as texts', async () => {
    const named = sheet('bra-q32-relay', with_({ ...relayOf('bra-q32-relay'), note: '=HYPERLINK("x")' } as Element));
    const book = await readXlsx(
      await writeXlsx(
        sheetWorkbook(named, { project: '=1+1', revision: '+2', reason: '@x', digest: '', signatures: [['-1', '=2']] }),
      ),
    );
    expect(book[0].rows.flat()).toEqual(expect.arrayContaining(['=1+1', '+2', '@x', '=2', '=HYPERLINK("x")']));
  });
  it('of an arc label is its report', () => {
    const content = finished(arcContent(studies, 'bra-11-a'))!;
    expect(content).toMatchObject({ subject: 'arcLabel', name: 'BRA 11 A', station: 'BRA' });
    expect(content.label!.facts.length).toBeGreaterThan(3);
    const [first, figures] = sheetWorkbook(content, {
      project: 'P',
      revision: 'Draft',
      reason: '',
      digest: '',
      signatures: [],
    });
    expect(JSON.stringify(first.rows)).toContain('Incident energy');
    expect(figures.rows.length).toBeGreaterThan(2);
    expect(finished(arcContent(studies, 'nowhere'))).toBeNull();
    expect(sheetDifferences(content, finished(arcContent(studies, 'bra-11-a'))!)).toEqual([]);
    const q32Label = finished(
      arcContent(new Studies(with_({ ...relayOf('bra-q21-relay'), functions: [] } as Element)), 'bra-11-a'),
    );
    if (q32Label) expect(sheetDifferences(content, q32Label).length).toBeGreaterThan(0);
  });
});

describe('devices of every kind', () => {
  it('have a sheet whose values are all theirs', () => {
    for (const element of demo.elements.values()) {
      const device = deviceOf(demo, element.id);
      if (!device) continue;
      const content = sheetContent(studies, element.id, { checks: [] })!;
      const keys = content.values.map(valueKey);
      expect(new Set(keys).size, element.id).toBe(keys.length);
      if (device.functions.some(({ enabled }) => enabled)) expect(content.values.length, element.id).toBeGreaterThan(0);
    }
  });
});
