/** Workbooks of spreadsheets. The package is large and loaded when it is first needed. */
import type { CellValue } from 'exceljs';
import type { Cell, LiveCell, Sheet } from '../format';

/** More cells than these are no table of a network. */
const mostCells = 2_000_000;

/** Texts of all cells as they are shown; formulas by their last result. Error: no workbook, or too large a one. */
export async function readXlsx(bytes: Uint8Array): Promise<{ name: string; rows: string[][] }[]> {
  const { Workbook } = (await import('exceljs')).default;
  const book = new Workbook();
  await book.xlsx.load(bytes.slice().buffer as ArrayBuffer);
  let cells = 0;
  return book.worksheets.map((sheet) => {
    const rows: string[][] = [];
    sheet.eachRow({ includeEmpty: true }, (row, number) => {
      if ((cells += row.cellCount) > mostCells) throw new Error(`the workbook has more than ${mostCells} cells`);
      const line: string[] = [];
      for (let k = 1; k <= row.cellCount; k++) line.push(textOf(row.getCell(k).value));
      rows[number - 1] = line;
    });
    return { name: sheet.name, rows: Array.from(rows, (row) => row ?? []) };
  });
}

function textOf(value: unknown): string {
  if (value === null || value === undefined) return '';
  if (typeof value !== 'object') return String(value);
  const rich = value as { richText?: { text: string }[]; text?: unknown; result?: unknown; error?: string };
  if (rich.richText) return rich.richText.map(({ text }) => text).join('');
  if (rich.text !== undefined) return textOf(rich.text);
  if (rich.result !== undefined) return textOf(rich.result);
  return rich.error ?? '';
}

/** A workbook, its first lines as heads that stay in view. */
export async function writeXlsx(sheets: readonly Sheet[]): Promise<Uint8Array> {
  const { Workbook } = (await import('exceljs')).default;
  const book = new Workbook();
  const taken = new Set<string>();
  const names = sheets.map(({ name }) => sheetName(name, taken));
  const addresses = addressesOf(sheets, names);
  for (const [s, { rows }] of sheets.entries()) {
    const sheet = book.addWorksheet(names[s], { views: [{ state: 'frozen', ySplit: 1 }] });
    for (const [r, row] of rows.entries()) {
      sheet.addRow(row.map((cell) => stored(cell, addresses)));
      row.forEach((cell, k) => {
        if (!isLive(cell)) return;
        sheet.getCell(r + 1, k + 1).fill = { type: 'pattern', pattern: 'solid', fgColor: { argb: fills[cell.origin] } };
      });
    }
    sheet.getRow(1).font = { bold: true };
    rows[0]?.forEach((_, k) => {
      const widest = Math.max(...rows.slice(0, 200).map((row) => (isLive(row[k]) ? 10 : String(row[k] ?? '').length)));
      sheet.getColumn(k + 1).width = Math.min(Math.max(widest + 2, 8), 48);
    });
  }
  return new Uint8Array(await book.xlsx.writeBuffer());
}

const isLive = (cell: Cell | LiveCell | undefined): cell is LiveCell => typeof cell === 'object' && cell !== null;

/** Light enough for black text, and apart from each other in grey too. */
const fills: Readonly<Record<LiveCell['origin'], string>> = {
  input: 'FFFFF1C9',
  simulated: 'FFCFE8E4',
  calculated: 'FFF2F2F2',
};

/** Where the cells stand that others name: "'Sheet'!$B$4". */
function addressesOf(sheets: readonly Sheet[], names: readonly string[]): ReadonlyMap<string, string> {
  const found = new Map<string, string>();
  sheets.forEach(({ rows }, s) =>
    rows.forEach((row, r) =>
      row.forEach((cell, k) => {
        if (isLive(cell) && cell.key)
          found.set(cell.key, `'${names[s].replaceAll("'", "''")}'!$${columnName(k)}$${r + 1}`);
      }),
    ),
  );
  return found;
}

function columnName(index: number): string {
  const letter = String.fromCharCode(65 + (index % 26));
  return index < 26 ? letter : `${columnName(Math.floor(index / 26) - 1)}${letter}`;
}

const finite = (value: Cell): Cell => (typeof value === 'number' && !Number.isFinite(value) ? null : value);

/** A formula that names a cell which is not there stays a plain value. */
function stored(cell: Cell | LiveCell, addresses: ReadonlyMap<string, string>): CellValue {
  if (!isLive(cell)) return finite(cell);
  const value = finite(cell.value);
  if (cell.formula === undefined || value === null) return value;
  const named = [...cell.formula.matchAll(/\{([^}]+)\}/g)].map(([, key]) => key);
  if (named.some((key) => !addresses.has(key))) return value;
  return {
    formula: cell.formula.replaceAll(/\{([^}]+)\}/g, (_, key: string) => addresses.get(key)!),
    result: Number(value),
  };
}

/** Spreadsheets take 31 characters, some signs not, and no name twice. */
function sheetName(wanted: string, taken: Set<string>): string {
  const plain = wanted.replace(/[\\/*?:[\]]/g, ' ').slice(0, 28) || 'Sheet';
  let name = plain;
  for (let n = 2; taken.has(name.toLowerCase()); n++) name = `${plain} ${n}`;
  taken.add(name.toLowerCase());
  return name;
}
