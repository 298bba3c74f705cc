/** What every PDF has in common: packaged fonts, runs of one font each, tables with thin rules. */
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import pdfmake from 'pdfmake';
import type { Content, TableCell, TDocumentDefinitions } from 'pdfmake/interfaces';
import { light } from '../../theme/tokens';

let ready = false;

function prepare(): void {
  if (ready) return;
  // Files to be read at run time, wherever this has been bundled to; threads, the terminal and tests alike.
  const find = createRequire(import.meta.url);
  const folder = (name: string) => join(dirname(find.resolve(`@fontsource/${name}/package.json`)), 'files');
  const face = (name: string, subset: string, weight: number) =>
    join(folder(name), `${name}-${subset}-${weight}-normal.woff`);
  const family = (name: string, subset: string) => ({
    normal: face(name, subset, 400),
    bold: face(name, subset, 600),
    italics: face(name, subset, 400),
    bolditalics: face(name, subset, 600),
  });
  const fonts = {
    Sans: family('ibm-plex-sans', 'latin'),
    Mono: family('ibm-plex-mono', 'latin'),
    Greek: family('ibm-plex-sans', 'greek'),
  };
  pdfmake.setFonts(fonts);
  const allowed = new Set(Object.values(fonts).flatMap((each) => Object.values(each)));
  // A sheet holds names that users typed; nothing in it may make the server read other files or addresses.
  pdfmake.setLocalAccessPolicy((path: string) => allowed.has(path));
  pdfmake.setUrlAccessPolicy(() => false);
  ready = true;
}

/**
 * Runs of one font each: the packaged fonts come per alphabet, and the PDF library cannot read the space of the monospaced one.
 * Characters in none of them become a question mark, visibly.
 */
export function runs(text: string, font = 'Sans'): { text: string; font: string }[] {
  const parts = text
    .replaceAll('→', 'to')
    .replaceAll('√', 'sqrt')
    .match(/[\u0370-\u03ff]+|[ \u00a0\u2009]+|[^\u0370-\u03ff \u00a0\u2009]+/g) ?? [''];
  const merged: { text: string; font: string }[] = [];
  for (const part of parts) {
    const own = /^[\u0370-\u03ff]/.test(part) ? 'Greek' : /^[ \u00a0\u2009]/.test(part) ? 'Sans' : font;
    const shown =
      own === 'Greek'
        ? part
        : part.replace(/[^\n\u0020-\u00ff\u0131\u0152\u0153\u2000-\u206f\u20ac\u2122\u2212]/g, '?');
    const last = merged.at(-1);
    if (last?.font === own) last.text += shown;
    else merged.push({ text: shown, font: own });
  }
  return merged;
}

export const cell = (text: string, extra: object = {}): TableCell => ({ text: runs(text), ...extra });
export const head = (text: string, extra: object = {}): TableCell =>
  cell(text, { bold: true, color: light.muted, fontSize: 8, ...extra });
export const number = (text: string): TableCell => ({ text: runs(text, 'Mono'), alignment: 'right' });
export const digits = (value: number, figures = 4) => String(Number(value.toPrecision(figures)));

export const rules = {
  hLineWidth: (k: number) => (k === 0 ? 0 : k === 1 ? 0.8 : 0.4),
  vLineWidth: () => 0,
  hLineColor: (k: number) => (k === 1 ? light.ink : light.rule),
  paddingTop: () => 3,
  paddingBottom: () => 3,
};

export const section = (title: string): Content => ({
  text: runs(title),
  bold: true,
  fontSize: 11,
  margin: [0, 12, 0, 4],
});
export const list = (widths: (string | number)[], heads: TableCell[], rows: TableCell[][]): Content => ({
  table: { headerRows: 1, widths, body: [heads, ...rows] },
  layout: rules,
});

export async function pdfOf(document: TDocumentDefinitions): Promise<Buffer> {
  prepare();
  return pdfmake.createPdf(document).getBuffer();
}

/** A cell of a title block: what it is, in small, above what it says. */
export const small = (label: string, value: string): TableCell => ({
  stack: [
    { text: runs(label), fontSize: 6.5, color: light.muted },
    { text: runs(value), fontSize: 8.5 },
  ],
});

/** A title block of one row over the width of the page. */
export const titleBlockOf = (cells: readonly TableCell[]): Content => ({
  margin: [40, 14, 40, 0],
  table: { widths: cells.map((_, k) => (k === 0 ? '*' : 'auto')), body: [[...cells]] },
  layout: { hLineWidth: () => 0.8, vLineWidth: () => 0.4, hLineColor: () => light.ink, vLineColor: () => light.rule },
});

/** The title block below a picture that fills a page. */
export const pictureFoot = (
  title: string,
  {
    owner,
    project,
    revision,
    date,
  }: { readonly owner: string; readonly project: string; readonly revision: number; readonly date: string },
): Content =>
  titleBlockOf([
    small([owner, project].filter(Boolean).join(' · '), title),
    small('Revision of the project', String(revision)),
    small('Date', date),
  ]);
