/** Files opened: a workbook as its sheets, a bundle as its files, anything else as text, and where that is a table, its cells. */
import { zipSync } from 'fflate';
import { delimited } from '../fields/delimited';
import { unbundled, type BundledFile } from './bundle';
import { plainCell, type Content, type Source, type TextFile } from './format';
import { csv } from './tables/csv';
import { readXlsx, writeXlsx } from './tables/xlsx';

/** Every platform has these; the core is compiled without any of their libraries. */
declare const TextDecoder: new (
  label: string,
  options: { fatal: boolean; ignoreBOM?: boolean },
) => { decode(bytes: Uint8Array): string };
declare const TextEncoder: new () => { encode(text: string): Uint8Array };

export type Opened = { readonly ok: true; readonly source: Source } | { readonly ok: false; readonly message: string };

/** A zip begins like this, and a workbook is one. */
const zipMark = [0x50, 0x4b];
const mostBytes = 256 << 20;
/** As it comes out. */
const mostWorkbookBytes = 200 << 20;

/** Refuses in words what is too large, no text, or a broken workbook or bundle. */
export async function opened(name: string, bytes: Uint8Array): Promise<Opened> {
  if (bytes.length > mostBytes) return { ok: false, message: `${name} is larger than ${mostBytes >> 20} MB` };
  if (zipMark.every((mark, k) => bytes[k] === mark)) return packed(name, bytes);
  const text = textOf(bytes);
  if (text === null) return { ok: false, message: `${name} is no text in UTF-8` };
  if (text.includes('\u0000')) return { ok: false, message: `${name} is no text` };
  return { ok: true, source: sourceOf(name, text) };
}

/** A text as a source; its cells are found when somebody asks for them. */
export function sourceOf(name: string, text: string): Source {
  const isTable = !/^\s*[{[<]/.test(text.slice(0, 1000));
  let cells: string[][] | null = null;
  return {
    name,
    text,
    get sheets() {
      return isTable ? [{ name: '', rows: (cells ??= delimited(text)) }] : [];
    },
    files: [{ name, text }],
  };
}

async function packed(name: string, bytes: Uint8Array): Promise<Opened> {
  const refuse = (what: string, error: unknown): Opened => ({
    ok: false,
    message: `${name} is no ${what} that can be read: ${(error as Error).message}`,
  });
  let bundled: BundledFile[];
  try {
    bundled = unbundled(bytes);
  } catch (error) {
    return refuse('workbook or bundle', error);
  }
  if (bundled.some((each) => each.name.startsWith('xl/'))) {
    try {
      const unpacked = bundled.reduce((sum, file) => sum + file.bytes.length, 0);
      if (unpacked > mostWorkbookBytes) throw new Error(`unpacked it is larger than ${mostWorkbookBytes >> 20} MB`);
      return { ok: true, source: { name, text: '', sheets: await readXlsx(bytes), files: [] } };
    } catch (error) {
      return refuse('workbook', error);
    }
  }
  const files: TextFile[] = [];
  // Bytes go as soon as their text is there: together they would be twice the bundle.
  for (let file = bundled.shift(); file; file = bundled.shift()) {
    const text = textOf(file.bytes);
    if (text === null || text.includes('\u0000'))
      return { ok: false, message: `${file.name} in ${name} is no text in UTF-8` };
    files.push({ name: file.name, text });
  }
  return { ok: true, source: { name, text: '', sheets: [], files } };
}

/** UTF-8, or UTF-16 where the first two bytes say so, or what an XML declaration names. Null: none of these. */
function textOf(bytes: Uint8Array): string | null {
  const utf16 =
    bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : bytes[0] === 0xfe && bytes[1] === 0xff ? 'utf-16be' : null;
  const decode = (label: string) => new TextDecoder(label, { fatal: true }).decode(bytes);
  try {
    return decode(utf16 ?? 'utf-8');
  } catch {
    const head = String.fromCharCode(...bytes.subarray(0, 200));
    const declared = /^\s*<\?xml[^>]*encoding=["'](iso-8859-1|windows-1252)["']/i.exec(head)?.[1];
    return declared ? decode(declared) : null;
  }
}

/** What an exporter has written, as the bytes of a file; of a CSV file the first sheet. */
export async function bytesOf(written: Content, extension: string): Promise<Uint8Array> {
  const encoder = new TextEncoder();
  if (typeof written === 'string') return encoder.encode(written);
  if ('files' in written)
    return zipSync(Object.fromEntries(written.files.map(({ name, text }) => [name, encoder.encode(text)])), {
      // The same content gives the same file.
      mtime: '2000-01-01T00:00:00',
    });
  if (extension === 'xlsx') return writeXlsx(written);
  return encoder.encode(csv((written[0]?.rows ?? []).map((row) => row.map(plainCell))));
}
