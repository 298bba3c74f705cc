/** Tables as text for spreadsheets: RFC 4180 for files, tabs for the clipboard. */

type Cell = string | number | null;

/** What a spreadsheet would take for a formula is led by an apostrophe. */
const asText = (value: string): string => (/^[=+\-@\t\r\n]/.test(value) ? `'${value}` : value);

/** Numbers as they are; what is none leaves an empty field. */
const asNumber = (value: number): string => (Number.isFinite(value) ? String(value) : '');

/** One field, quoted when it must be. */
export function csvField(value: Cell): string {
  if (value === null) return '';
  if (typeof value === 'number') return asNumber(value);
  const text = asText(value);
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

/** For the clipboard: cells parted by tabs, so that none may stand inside one. */
export const tabSeparated = (rows: readonly (readonly Cell[])[]): string =>
  rows
    .map((row) =>
      row
        .map((value) => {
          if (value === null) return '';
          return typeof value === 'number' ? asNumber(value) : asText(value).replace(/[\t\r\n]+/g, ' ');
        })
        .join('\t'),
    )
    .join('\n');

export const csv = (rows: readonly (readonly Cell[])[]): string =>
  rows.map((row) => row.map(csvField).join(',')).join('\r\n') + '\r\n';
