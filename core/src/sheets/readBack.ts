/** Values read from a relay, compared with those of its issued sheet. */
import type { SheetContent, SheetValue } from './content';
import { valueKey } from './content';

/** A value as it was found: by its key, or by how the relay calls it. */
export interface ReadValue {
  /** Key of a value of the sheet, where the source knows it. */
  readonly key: string | null;
  /** "51", "21". */
  readonly code: string;
  readonly setting: string;
  /** As text: figures with or without a unit. */
  readonly value: string;
}

export type ComparedState = 'same' | 'deviates' | 'missing' | 'unknown';

/** `missing`: not read; `unknown`: read, and not on the sheet. */
export interface ComparedValue {
  /** Of the value on the sheet; of what is not on it: what the relay calls it. */
  readonly key: string;
  readonly title: string;
  readonly issued: string | null;
  readonly read: string | null;
  readonly state: ComparedState;
}

export type Deviation = ComparedValue;

export interface Comparison {
  readonly rows: readonly ComparedValue[];
  /** How many of the sheet's values were found. */
  readonly found: number;
}

/** Letters and digits alone: "Time multiplier" is "time-multiplier" is "TIME_MULTIPLIER". */
const plain = (text: string): string => text.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '');

/** A figure in a text, with decimal point or comma, thousands apart or not; null for words. */
export function figureIn(text: string): { readonly value: number; readonly unit: string } | null {
  const match = /^\s*([+-]?(?:\d[\d\u2009\u202f ]*)?(?:[.,]\d+)?(?:e[+-]?\d+)?)\s*(.*)$/i.exec(text);
  if (!match || !/\d/.test(match[1])) return null;
  const value = Number(match[1].replace(/[\u2009\u202f ]/g, '').replace(',', '.'));
  return Number.isFinite(value) ? { value, unit: match[2].trim() } : null;
}

/** Powers of ten of units: "ms" beside "s". */
const scales: Readonly<Record<string, readonly [string, number]>> = {
  ms: ['s', 1e-3],
  min: ['s', 60],
  kA: ['A', 1e3],
  mA: ['A', 1e-3],
  mohm: ['Ω', 1e-3],
  ohm: ['Ω', 1],
  xin: ['× In', 1],
  '*in': ['× In', 1],
  in: ['× In', 1],
  pu: ['× In', 1],
};

const unitOf = (text: string): readonly [string, number] => scales[text] ?? scales[plain(text)] ?? [text, 1];

/** Half of the last digit that relays keep: they store less than a sheet says. */
const closeness = 1e-4;

/** Whether a text says the same as a value of the sheet, in its own unit or as amperes or ohms of one side of its transformers. */
export function saysSame(sheet: SheetValue, text: string): boolean {
  if (typeof sheet.value === 'string')
    return plain(text) === plain(sheet.value) || plain(text) === plain(sheet.shown ?? '');
  const found = figureIn(text);
  if (!found) return false;
  const [unit, factor] = unitOf(found.unit);
  const value = found.value * factor;
  const { primary, secondary } = sheet;
  const candidates = [
    { value: sheet.value, unit: sheet.unit },
    ...(sheet.unit === '× In' ? [{ value: 100 * sheet.value, unit: '%' }] : []),
    ...(secondary ? [secondary] : []),
    ...(primary ? [primary] : []),
  ];
  const asSaid = candidates.filter((each) => (unit === '' ? each === candidates[0] : plain(each.unit) === plain(unit)));
  return asSaid.some((each) => Math.abs(each.value - value) <= closeness * Math.max(Math.abs(each.value), 1e-3));
}

const shown = ({ value, unit, shown: word }: SheetValue): string =>
  word ?? (typeof value === 'string' ? value : `${Number(value.toPrecision(6))}${unit && ` ${unit}`}`);

const titleOf = ({ code, setting }: Pick<SheetValue, 'code' | 'setting'>): string =>
  `${code} ${setting.charAt(0).toLowerCase()}${setting.slice(1)}`;

/** Each value of the sheet with what was read for it; what was read besides at the end. */
export function comparedWith({ values }: Pick<SheetContent, 'values'>, read: readonly ReadValue[]): Comparison {
  const left = new Set(read);
  const takeFor = (sheet: SheetValue): ReadValue | null => {
    const key = valueKey(sheet);
    const fits =
      [...left].find((each) => each.key === key) ??
      [...left].find(
        (each) =>
          each.key === null && plain(each.code) === plain(sheet.code) && plain(each.setting) === plain(sheet.setting),
      );
    if (fits) left.delete(fits);
    return fits ?? null;
  };
  const rows = values.map((sheet): ComparedValue => {
    const found = takeFor(sheet);
    const common = { key: valueKey(sheet), title: titleOf(sheet), issued: shown(sheet) };
    if (!found) return { ...common, read: null, state: 'missing' };
    return { ...common, read: found.value, state: saysSame(sheet, found.value) ? 'same' : 'deviates' };
  });
  const found = rows.filter(({ state }) => state !== 'missing').length;
  const further = [...left].map(({ key, code, setting, value }): ComparedValue => ({
    key: key ?? `${code} ${setting}`.trim().slice(0, 120),
    title: `${code} ${setting}`.trim(),
    issued: null,
    read: value,
    state: 'unknown',
  }));
  return { rows: [...rows, ...further], found };
}

/**
 * What has to be looked into: values that differ; those that were not read, where the source has whole functions, and those that stand in the relay alone. Where a source
 * has but some of the settings, what it leaves out is told by the count and is no deviation.
 */
export function deviationsOf({ rows }: Pick<Comparison, 'rows'>, isWhole: boolean): Deviation[] {
  return rows.filter(({ state }) => state === 'deviates' || (isWhole && (state === 'missing' || state === 'unknown')));
}
