/** Workbooks of spreadsheets. The package is large and loaded when it is first needed. */
import type { Cell, Sheet } from '../format';

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
  for (const { name, rows } of sheets) {
    const sheet = book.addWorksheet(sheetName(name, taken), { views: [{ state: 'frozen', ySplit: 1 }] });
    for (const row of rows) sheet.addRow(row.map(stored));
    sheet.getRow(1).font = { bold: true };
    rows[0]?.forEach((_, k) => {
      const widest = Math.max(...rows.slice(0, 200).map((row) => String(row[k] ?? '').length));
      sheet.getColumn(k + 1).width = Math.min(Math.max(widest + 2, 8), 48);
    });
  }
  return new Uint8Array(await book.xlsx.writeBuffer());
}

const stored = (value: Cell): Cell => (typeof value === 'number' && !Number.isFinite(value) ? null : value);

/** Spreadsheets take 31 characters, some signs not, and no name twice. */
function sheetName(wanted: string, taken: Set<string>): string {
  const plain = wanted.replace(/[\\/*?:[\]]/g, ' ').slice(0, 28) || 'Sheet';
  let name = plain;
  for (let n = 2; taken.has(name.toLowerCase()); n++) name = `${plain} ${n}`;
  taken.add(name.toLowerCase());
  return name;
}
