/** The library as a table, and as text for spreadsheets and back. Pure. */
import type { LibraryEntry } from '../../equipment/entry';
import { csv } from '../tables/csv';
import { newElement } from '../../model/defaults';
import type { Element } from '../../model/element';
import type { ElementId } from '../../model/fields';
import type { LibraryEntryElement, LibraryKind } from '../../model/library';
import { entryFrom, withEntry } from '../../equipment/use';
import { columnsOf, textOf, typed, type GridColumn } from '../../fields/cells';

/** What matters most of a kind: its columns in the list. */
const chief: Readonly<Record<LibraryKind, readonly string[]>> = {
  line: ['r1OhmPerKm', 'x1OhmPerKm', 'ratedA'],
  transformer: ['ratedMva', 'hvKv', 'lvKv', 'ukPercent', 'vectorGroup'],
  switch: ['ratedKv', 'ratedA', 'breakingKa'],
  currentTransformer: ['primaryA', 'secondaryA', 'accuracy'],
  voltageTransformer: ['primaryKv', 'secondaryV', 'accuracy'],
  asynchronousMotor: ['ratedMw', 'ratedKv', 'efficiencyPercent', 'startingRatio'],
  synchronousMachine: ['ratedMva', 'ratedKv', 'xd2Percent', 'rotor'],
};

export const chiefColumns = (kind: LibraryKind): GridColumn[] => {
  const columns = columnsOf(kind);
  return chief[kind].flatMap((id) => columns.find((column) => column.id === id) ?? []);
};

/** An element of a type, to read its values from; null where the type does not fit its schema any more. */
export function sampleOf(entry: LibraryEntry): Element | null {
  return withEntry(newElement(entry.for as LibraryKind, 'sample' as ElementId, entry.title) as Element, entry);
}

/** Types of which each word typed begins a word, in title, values or source. */
export function foundEntries(entries: readonly LibraryEntry[], filter: string): readonly LibraryEntry[] {
  const words = filter.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return entries;
  return entries.filter(({ title, source, data }) => {
    const tokens = `${title} ${source} ${Object.values(data).join(' ')}`.toLowerCase().split(/[\s,×/]+/);
    return words.every((word) => tokens.some((token) => token.startsWith(word)));
  });
}

const titleHead = 'Type';
const sourceHead = 'Source';

/** Types of one kind as CSV: title, source, then a column a field, headed by its path. */
export function asCsv(kind: LibraryKind, entries: readonly LibraryEntry[]): string {
  const columns = columnsOf(kind).filter(({ id }) => id !== 'name');
  return csv([
    [titleHead, sourceHead, ...columns.map(({ id }) => id)],
    ...entries.map((entry) => {
      const sample = sampleOf(entry);
      return [entry.title, entry.source, ...columns.map((column) => (sample ? textOf(sample, column) : ''))];
    }),
  ]);
}

export interface ReadTypes {
  readonly entries: readonly LibraryEntryElement[];
  readonly problems: readonly string[];
}

/** Types out of CSV as {@link asCsv} writes it, semicolons and tabs too. A row that does not fit is left out, with the reason. */
export function fromCsv(
  kind: LibraryKind,
  text: string,
  newId: () => ElementId,
  taken: ReadonlySet<string>,
): ReadTypes {
  const rows = csvRows(text);
  const [heads = [], ...lines] = rows;
  const at = (head: string) => heads.findIndex((each) => each.trim() === head);
  if (at(titleHead) < 0) return { entries: [], problems: [`There is no column "${titleHead}" in the first line.`] };
  const columns = columnsOf(kind).filter(({ id }) => id !== 'name' && at(id) >= 0);
  const unknown = heads.filter(
    (head) => ![titleHead, sourceHead].includes(head.trim()) && !columns.some(({ id }) => id === head.trim()),
  );
  const problems = unknown
    .filter((head) => head.trim() !== '')
    .map((head) => `The column "${head}" is not known and was left out.`);
  const entries: LibraryEntryElement[] = [];
  const names = new Set([...taken].map((name) => name.toLowerCase()));
  lines.forEach((line, k) => {
    const title = line[at(titleHead)]?.trim() ?? '';
    const refuse = (why: string) => problems.push(`Line ${k + 2}${title ? ` (${title})` : ''}: ${why}`);
    if (line.every((cell) => cell.trim() === '')) return;
    if (title === '') return refuse('the type has no name');
    if (names.has(title.toLowerCase())) return refuse('a type of this name is in the project already');
    let element = newElement(kind, 'sample' as ElementId, title.slice(0, 80)) as Element;
    for (const column of columns) {
      const cell = line[at(column.id)] ?? '';
      if (cell.trim() === '' || cell === textOf(element, column)) continue;
      const read = typed(element, column, cell);
      if (!read.ok) return refuse(`${column.title.toLowerCase()}: ${read.message}`);
      element = read.element;
    }
    names.add(title.toLowerCase());
    const source = at(sourceHead) < 0 ? '' : (line[at(sourceHead)] ?? '').trim().slice(0, 200);
    entries.push({ ...entryFrom(element, newId(), title.slice(0, 80)), source });
  });
  return { entries, problems };
}

/** Cells of a CSV text with comma, semicolon or tab, whichever the first line has most of. */
export function csvRows(text: string): string[][] {
  const clean = text
    .replace(/^\uFEFF/, '')
    .replaceAll('\r\n', '\n')
    .replace(/\n+$/, '');
  const first = clean.slice(0, clean.indexOf('\n') < 0 ? undefined : clean.indexOf('\n'));
  const separator = [',', ';', '\t'].reduce((p, q) => (first.split(q).length > first.split(p).length ? q : p));
  const rows: string[][] = [[]];
  let cell = '';
  let quoted = false;
  for (let k = 0; k < clean.length; k++) {
    const sign = clean[k];
    if (quoted) {
      if (sign !== '"') cell += sign;
      else if (clean[k + 1] === '"') cell += clean[++k];
      else quoted = false;
    } else if (sign === '"' && cell === '') quoted = true;
    else if (sign === separator || sign === '\n') {
      rows[rows.length - 1].push(cell);
      cell = '';
      if (sign === '\n') rows.push([]);
    } else cell += sign;
  }
  rows[rows.length - 1].push(cell);
  return rows;
}
