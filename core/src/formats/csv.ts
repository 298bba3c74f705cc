/** Tables as text for spreadsheets: RFC 4180. */

/** One field, quoted when it must be; what a spreadsheet would take for a formula is quoted and led by an apostrophe. */
export function csvField(value: string | number | null): string {
  if (value === null) return '';
  if (typeof value === 'number') return String(value);
  const text = /^[=+\-@\t\r]/.test(value) ? `'${value}` : value;
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

export const csv = (rows: readonly (readonly (string | number | null)[])[]): string =>
  rows.map((row) => row.map(csvField).join(',')).join('\r\n') + '\r\n';
