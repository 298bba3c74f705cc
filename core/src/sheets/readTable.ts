/** Tables that relays and their programs export, as values to be compared: which column is which is told by their heads, and remembered. */
import type { ReadValue } from './readBack';

export const readColumns = ['key', 'function', 'setting', 'value', 'unit'] as const;
export type ReadColumn = (typeof readColumns)[number];

export const readColumnTitles: Readonly<Record<ReadColumn, string>> = {
  key: 'Key of this sheet',
  function: 'Function',
  setting: 'Setting',
  value: 'Value',
  unit: 'Unit',
};

/** Heads that say what they are. */
const usual: Readonly<Record<ReadColumn, readonly string[]>> = {
  key: ['key'],
  function: ['function', 'code', 'element', 'ansi', 'funktion', 'fonction', 'función'],
  setting: ['setting', 'parameter', 'name', 'description', 'einstellung', 'réglage', 'ajuste'],
  value: ['value', 'actual', 'setpoint', 'wert', 'valeur', 'valor'],
  unit: ['unit', 'units', 'einheit', 'unité', 'unidad'],
};

export interface ReadTable {
  readonly heads: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

const mostRows = 2000;
const plain = (text: string): string => text.trim().toLowerCase();

/** The first row with more than one cell is that of heads. Error: there is none, or nothing below it. */
export function readTable(cells: readonly (readonly string[])[]): ReadTable | null {
  const at = cells.findIndex((row) => row.filter((cell) => cell.trim() !== '').length > 1);
  if (at < 0) return null;
  const rows = cells.slice(at + 1, at + 1 + mostRows).filter((row) => row.some((cell) => cell.trim() !== ''));
  return rows.length === 0 ? null : { heads: cells[at].map((head) => head.trim()), rows };
}

/** What each column is; each thing stands in one column only. `remembered`: by head, from earlier files. */
export function matchedColumns(
  heads: readonly string[],
  remembered: Readonly<Record<string, ReadColumn | ''>>,
): (ReadColumn | null)[] {
  const taken = new Set<ReadColumn>();
  return heads.map((head) => {
    const known = remembered[plain(head)];
    const column =
      known === '' ? null : (known ?? readColumns.find((each) => usual[each].includes(plain(head))) ?? null);
    if (!column || taken.has(column)) return null;
    taken.add(column);
    return column;
  });
}

export const isEnough = (columns: readonly (ReadColumn | null)[]): boolean =>
  columns.includes('value') && (columns.includes('key') || columns.includes('setting'));

/** Values of the rows that have one. A function that is named once stands for the rows below it. */
export function tableValues({ rows }: ReadTable, columns: readonly (ReadColumn | null)[]): ReadValue[] {
  const cell = (row: readonly string[], column: ReadColumn): string => {
    const at = columns.indexOf(column);
    return at < 0 ? '' : (row[at] ?? '').trim();
  };
  let code = '';
  return rows.flatMap((row): ReadValue[] => {
    code = cell(row, 'function') || code;
    const value = cell(row, 'value');
    const key = cell(row, 'key');
    const setting = cell(row, 'setting');
    if (value === '' || (key === '' && setting === '')) return [];
    const unit = cell(row, 'unit');
    return [
      {
        key: key === '' ? null : key.slice(0, 140),
        code: code.slice(0, 60),
        setting: setting.slice(0, 120),
        value: (unit && !value.endsWith(unit) ? `${value} ${unit}` : value).slice(0, 120),
      },
    ];
  });
}
