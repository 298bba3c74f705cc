/** Files opened: a workbook as its sheets, anything else as text, and where that is a table, its cells. */
import { delimited } from '../fields/delimited';
import { plainCell, type Sheet, type Source } from './format';
import { csv } from './tables/csv';
import { readXlsx, writeXlsx } from './tables/xlsx';

/** Every platform has these; the core is compiled without any of their libraries. */
declare const TextDecoder: new (label: string, options: { fatal: boolean }) => { decode(bytes: Uint8Array): string };
declare const TextEncoder: new () => { encode(text: string): Uint8Array };

export type Opened = { readonly ok: true; readonly source: Source } | { readonly ok: false; readonly message: string };

/** A zip begins like this, and a workbook is one. */
const zipMark = [0x50, 0x4b];
const mostBytes = 64 << 20;

/** Refuses in words what is too large, no text, or a broken workbook. */
export async function opened(name: string, bytes: Uint8Array): Promise<Opened> {
  if (bytes.length > mostBytes) return { ok: false, message: `${name} is larger than ${mostBytes >> 20} MB` };
  if (zipMark.every((mark, k) => bytes[k] === mark)) {
    try {
      return { ok: true, source: { name, text: '', sheets: await readXlsx(bytes) } };
    } catch (error) {
      return { ok: false, message: `${name} is no workbook that can be read: ${(error as Error).message}` };
    }
  }
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return { ok: false, message: `${name} is no text in UTF-8` };
  }
  if (text.includes('\u0000')) return { ok: false, message: `${name} is no text` };
  const isJson = /^\s*[{[]/.test(text);
  return { ok: true, source: { name, text, sheets: isJson ? [] : [{ name: '', rows: delimited(text) }] } };
}

/** What an exporter has written, as the bytes of a file; of a CSV file the first sheet. */
export async function bytesOf(written: string | readonly Sheet[], extension: string): Promise<Uint8Array> {
  if (typeof written === 'string') return new TextEncoder().encode(written);
  if (extension === 'xlsx') return writeXlsx(written);
  return new TextEncoder().encode(csv((written[0]?.rows ?? []).map((row) => row.map(plainCell))));
}
