/** Values from relays beside those of their sheets: tables with all kinds of heads, files of IEC 61850-6, hostile ones. */
import { describe, expect, it } from 'vitest';
import { elementId } from '../model/fields';
import { delimited } from '../fields/delimited';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { valueKey, type SheetValue } from './content';
import { comparedWith, deviationsOf, figureIn, saysSame, type ReadValue } from './readBack';
import { isEnough, matchedColumns, readTable, tableValues } from './readTable';
import { readScl, sclValues } from './scl';
import { sheetContent } from './sheet';

const studies = new Studies(demoNetwork());
const q32 = sheetContent(studies, elementId('bra-q32-relay'), { checks: [] })!;
const fer = sheetContent(studies, elementId('fer-q01-relay'), { checks: [] })!;
const valueOf = (code: string, field: string, content = q32) =>
  content.values.find((each) => each.code === code && each.field === field)!;
const asRead = (value: SheetValue, text?: string): ReadValue => ({
  key: valueKey(value),
  code: value.code,
  setting: value.setting,
  value: text ?? value.shown ?? `${value.value} ${value.unit}`.trim(),
});

describe('what was read', () => {
  it('says the same in the unit of the sheet, as amperes of either side, in percent', () => {
    const pickup = valueOf('50', 'pickup');
    for (const text of ['14', '14 × In', '14 x In', '14,0', '14 A', '2100 A', '2.1 kA', '2 100 A', '1400 %', '1.4e1'])
      expect(saysSame(pickup, text), text).toBe(true);
    for (const text of ['14.1', '13 A', '2100', '2200 A', '14 %', 'fourteen', '', '14 s', '2.1 A'])
      expect(saysSame(pickup, text), text).toBe(false);
    const delay = valueOf('50', 'delayS');
    for (const text of ['0.05', '0.05 s', '50 ms', '0,05 s']) expect(saysSame(delay, text), text).toBe(true);
    for (const text of ['50', '0.06 s', '51 ms']) expect(saysSame(delay, text), text).toBe(false);
    const characteristic = valueOf('51', 'choice.characteristic');
    for (const text of ['IEC B, very inverse', 'iecB', 'iec b very-inverse'])
      expect(saysSame(characteristic, text)).toBe(true);
    expect(saysSame(characteristic, 'IEC C, extremely inverse')).toBe(false);
    // Single precision keeps seven digits.
    expect(saysSame(valueOf('51', 'timeMultiplier'), String(Math.fround(0.26)))).toBe(true);
    const reach = valueOf('21', 'zones.0.reachOhm', fer);
    expect(saysSame(reach, `${reach.primary!.value} ohm`)).toBe(true);
    expect(figureIn('1.2.3')).toMatchObject({ value: 1.2, unit: '.3' });
    expect(figureIn('1e400')).toBeNull();
    expect(figureIn('Infinity')).toBeNull();
  });
  it('is told value by value: as issued, deviating, not read, not on the sheet', () => {
    const all = q32.values.map((each) => asRead(each));
    const whole = comparedWith(q32, all);
    expect(whole.found).toBe(q32.values.length);
    expect(whole.rows.every(({ state }) => state === 'same')).toBe(true);
    expect(deviationsOf(whole, true)).toEqual([]);
    const pickup = valueOf('51', 'pickup');
    const read = [
      ...all.filter(({ key }) => key !== valueKey(pickup) && key !== valueKey(valueOf('50', 'delayS'))),
      asRead(pickup, '1.2 × In'),
      { key: null, code: '46', setting: 'Pickup', value: '0.1' },
    ];
    const compared = comparedWith(q32, read);
    expect(deviationsOf(compared, false).map(({ title, issued, read: found }) => [title, issued, found])).toEqual([
      ['51 pickup', '1 × In', '1.2 × In'],
    ]);
    expect(deviationsOf(compared, true).map(({ title, state }) => [title, state])).toEqual([
      ['51 pickup', 'deviates'],
      ['50 delay', 'missing'],
      ['46 Pickup', 'unknown'],
    ]);
  });
});

describe('a table from a relay', () => {
  const text =
    'Export of relay;;;\nFunction;Parameter;Setpoint;Unit\n51;Pickup;1,2;× In\n;Time multiplier;0,26;\n50;Pickup;2100;A\n;;;\n46;Pickup;0,1;× In\n';
  const table = readTable(delimited(text))!;
  it('is matched by its heads, in several languages, and as it was matched before', () => {
    expect(table.heads).toEqual(['Function', 'Parameter', 'Setpoint', 'Unit']);
    expect(matchedColumns(table.heads, {})).toEqual(['function', 'setting', 'value', 'unit']);
    expect(matchedColumns(['Funktion', 'Einstellung', 'Wert', 'Einheit'], {})).toEqual([
      'function',
      'setting',
      'value',
      'unit',
    ]);
    expect(matchedColumns(['A', 'B', 'Value', 'Value'], { a: 'setting', b: '', value: 'value' })).toEqual([
      'setting',
      null,
      'value',
      null,
    ]);
    expect([isEnough(['value', 'setting']), isEnough(['value']), isEnough(['key', 'value']), isEnough([null])]).toEqual(
      [true, false, true, false],
    );
  });
  it('gives values; a function that is named once stands for the rows below', () => {
    const values = tableValues(table, matchedColumns(table.heads, {}));
    expect(values.map(({ code, setting, value }) => [code, setting, value])).toEqual([
      ['51', 'Pickup', '1,2 × In'],
      ['51', 'Time multiplier', '0,26'],
      ['50', 'Pickup', '2100 A'],
      ['46', 'Pickup', '0,1 × In'],
    ]);
    const { rows } = comparedWith(q32, values);
    const state = (title: string) => rows.find((row) => row.title === title)!.state;
    expect([state('51 pickup'), state('51 time multiplier'), state('50 pickup'), state('46 Pickup')]).toEqual([
      'deviates',
      'same',
      'same',
      'unknown',
    ]);
  });
  it('that is none is none', () => {
    for (const cells of [
      [],
      [['']],
      [['only one']],
      [['a', 'b']],
      [
        ['a', 'b'],
        ['', ''],
      ],
    ])
      expect(readTable(cells)).toBeNull();
  });
});

const scl = (body: string) => `<?xml version="1.0"?>
<SCL xmlns="http://www.iec.ch/61850/2003/SCL"><IED name="BRA Q32 relay"><AccessPoint name="P"><Server><LDevice inst="PROT">
${body}</LDevice></Server></AccessPoint></IED></SCL>`;
const mag = (name: string, value: string, unit = '') =>
  `<DOI name="${name}"><SDI name="setMag"><DAI name="f"><Val>${value}</Val></DAI></SDI>${unit && `<SDI name="units"><DAI name="SIUnit"><Val>${unit}</Val></DAI></SDI>`}</DOI>`;

describe('a file of IEC 61850-6', () => {
  it('gives the settings of its logical nodes, in the order of the functions', () => {
    const read = readScl(
      scl(`<LN prefix="" lnClass="PTOC" inst="1">${mag('StrVal', '150', 'A')}${mag('TmMult', '0.26')}</LN>
<LN lnClass="PIOC" inst="1">${mag('StrVal', '14')}<DOI name="OpDlTmms"><DAI name="setVal"><Val>60</Val></DAI></DOI></LN>
<LN lnClass="XCBR" inst="1"><DOI name="Pos"/></LN>`),
    );
    if (!read.ok) throw new Error(read.message);
    expect(read.devices.map(({ name }) => name)).toEqual(['BRA Q32 relay']);
    const { rows } = comparedWith(q32, sclValues(read.devices[0], q32));
    const of = (title: string) => rows.find((row) => row.title === title)!;
    expect(of('51 pickup')).toMatchObject({ read: '150 A', state: 'same' });
    expect(of('51 time multiplier').state).toBe('same');
    expect(of('50 pickup').state).toBe('same');
    expect(of('50 delay')).toMatchObject({ read: '60 ms', state: 'deviates' });
  });
  it('has a logical node for each zone', () => {
    const reach = valueOf('21', 'zones.1.reachOhm', fer);
    const read = readScl(scl(`<LN lnClass="PDIS" inst="2">${mag('PoRch', String(reach.value))}</LN>`));
    if (!read.ok) throw new Error(read.message);
    const { rows } = comparedWith(fer, sclValues(read.devices[0], fer));
    expect(rows.find(({ title }) => title === '21 zone 2 reach')!.state).toBe('same');
  });
  it('that is hostile or broken is refused in words', () => {
    const bomb = `<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]>${scl('')}`;
    for (const [text, why] of [
      [bomb, /entities/],
      ['<SCL><IED', /./],
      ['<other/>', /does not begin with SCL/],
      ['<SCL/>', /no relay/],
      ['nonsense', /SCL/],
      ['', /SCL/],
    ] as const) {
      const read = readScl(text);
      expect(read.ok, text.slice(0, 20)).toBe(false);
      if (!read.ok) expect(read.message).toMatch(why);
    }
    const odd = readScl(scl('<LN lnClass="PTOC" inst="99"><DOI name="StrVal"/></LN><LN/>'));
    expect(odd.ok && sclValues(odd.devices[0], q32)).toEqual([]);
  });
});
