/**
 * A list of anybody's making, one element a row: a person says what kind it is of and what stands in which column. Rows are found again by name; busbars that a row
 * names join it to them.
 */
import { columnsOf, headOf, typed, unlisted } from '../../fields/cells';
import { kinds, nameOf, type Element, type ElementKind } from '../../model/element';
import { newElement, type PlaceableKind } from '../../model/defaults';
import type { ElementId } from '../../model/fields';
import { ofKind, type Network } from '../../model/network';
import { Brought } from '../brought';
import { FileRefusal, type Source } from '../format';

/** What a column may hold: the name, the busbar at an end, or a field by its path. */
export interface Target {
  readonly id: string;
  readonly title: string;
  readonly unit: string;
}

/** Targets by column, null where it is left; of one sheet of the file. */
export interface ColumnMap {
  readonly sheet: number;
  readonly kind: PlaceableKind;
  readonly columns: readonly (string | null)[];
}

export interface ListSheet {
  readonly name: string;
  readonly heads: readonly string[];
  readonly rows: readonly (readonly string[])[];
  /** Number of the first row, as a spreadsheet counts them. */
  readonly first: number;
}

const ends = ['end1', 'end2', 'end3'] as const;
const isEnd = (id: string): id is (typeof ends)[number] => (ends as readonly string[]).includes(id);

/** Kinds that a row can make: what stands on the drawing and has data of its own. */
export const listKinds = (Object.keys(kinds) as ElementKind[]).filter(
  (kind): kind is PlaceableKind =>
    !unlisted.includes(kind) &&
    !['tower', 'panel', 'lineCoupling', 'trial'].includes(kind) &&
    kinds[kind].terminals > 0,
);

const mostEnds = 3;

export function targetsOf(kind: PlaceableKind): Target[] {
  const terminals = Math.min(kinds[kind].terminals, mostEnds);
  return [
    { id: 'name', title: 'Name', unit: '' },
    ...(kind === 'bus'
      ? []
      : ends
          .slice(0, terminals)
          .map((id, k) => ({ id, title: terminals === 1 ? 'At busbar' : `Busbar at end ${k + 1}`, unit: '' }))),
    ...columnsOf(kind).flatMap(({ id, title, unit }) => (id === 'name' ? [] : [{ id, title, unit }])),
  ];
}

const isBlank = (row: readonly string[]): boolean => row.every((cell) => cell.trim() === '');

/** Sheets of a file that have a head and rows; of a text its one table. */
export const listSheets = ({ sheets }: Pick<Source, 'sheets'>): ListSheet[] =>
  sheets.flatMap(({ name, rows }) => {
    const at = rows.findIndex((row) => !isBlank(row));
    const rest = rows.slice(at + 1);
    return at < 0 || rest.every(isBlank)
      ? []
      : [{ name, heads: rows[at].map((head) => head.trim()), rows: rest, first: at + 2 }];
  });

/** Words without case, signs and what stands in brackets. */
const words = (text: string): string =>
  text
    .toLowerCase()
    .replace(/[([].*$/, '')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();

const known: readonly (readonly [string, RegExp])[] = [
  ['name', /^(name|designation|identification|tag)\b/],
  ['end1', /^(from|bus ?1|end ?1|from bus|at|bus|busbar|board)$/],
  ['end2', /^(to|bus ?2|end ?2|to bus)$/],
  ['end3', /^(bus ?3|end ?3)$/],
];

/**
 * What each column holds, by its head: as it was said before, as the field is called in full or by its path, with or without its unit, or by the usual words.
 * `remembered`: by head in small letters; empty where the column was left.
 */
export function guessed(
  kind: PlaceableKind,
  heads: readonly string[],
  remembered: Readonly<Record<string, string>> = {},
): (string | null)[] {
  const targets = targetsOf(kind);
  const taken = new Set<string>();
  const take = (id: string | undefined) => {
    if (id === undefined || taken.has(id) || !targets.some((target) => target.id === id)) return null;
    taken.add(id);
    return id;
  };
  const before = heads.map((head) => {
    const said = remembered[head.toLowerCase()];
    return said === undefined ? undefined : said === '' ? null : take(said);
  });
  const columns = columnsOf(kind);
  return heads.map((head, k) => {
    if (before[k] !== undefined) return before[k];
    const plain = words(head);
    if (plain === '') return null;
    const field = columns.find(
      (column) =>
        column.id.toLowerCase() === head.toLowerCase() ||
        headOf(column).toLowerCase() === head.toLowerCase() ||
        words(column.title) === plain ||
        words(headOf(column)) === plain,
    );
    const usual = known.find(([id, pattern]) => pattern.test(plain) && targets.some((target) => target.id === id));
    return take(usual?.[0] ?? field?.id);
  });
}

/** The kind whose fields the heads call by name most often. */
export function guessedKind(heads: readonly string[], sheet = ''): PlaceableKind {
  const named = listKinds.find((kind) => words(kinds[kind].title) === words(sheet));
  if (named) return named;
  const count = (kind: PlaceableKind) => guessed(kind, heads).filter((id) => id !== null).length;
  return listKinds.reduce((p, q) => (count(q) > count(p) ? q : p), 'line');
}

export const columnsSource = 'list';
const mostRows = 100_000;

/** A network from the rows. Throws a `FileRefusal` where the map fits no sheet or names no column. */
export function* readColumns(
  source: Source,
  { sheet: index, kind, columns }: ColumnMap,
  network: Network,
): Generator<number, Brought> {
  const sheet = listSheets(source).at(index);
  if (!sheet) throw new FileRefusal('there is no such table in it');
  if (!listKinds.includes(kind))
    throw new FileRefusal(`rows make no ${kinds[kind]?.title.toLowerCase() ?? 'such element'}`);
  if (sheet.rows.length > mostRows) throw new FileRefusal(`it has more than ${mostRows} rows`);
  const at = columns.indexOf('name');
  if (at < 0) throw new FileRefusal('say which column holds the name');
  const reader = new Reader(source.name, kind, sheet, columns, network);
  for (const [k, row] of sheet.rows.entries()) {
    if (k % 500 === 0) yield k / sheet.rows.length;
    if (!isBlank(row)) reader.row(row, sheet.first + k, (row[at] ?? '').trim());
  }
  return reader.brought;
}

class Reader {
  readonly brought: Brought;
  private readonly buses = new Map<string, ElementId>();
  private readonly here: ReadonlyMap<string, Element>;
  private readonly seen = new Set<string>();

  constructor(
    file: string,
    private readonly kind: PlaceableKind,
    private readonly sheet: ListSheet,
    private readonly columns: readonly (string | null)[],
    private readonly network: Network,
  ) {
    this.brought = new Brought(`rows, each a ${kinds[kind].title.toLowerCase()}`, columnsSource, file);
    this.here = new Map(
      ofKind(network, kind).map((element) => [nameOf(element as Element).toLowerCase(), element as Element]),
    );
  }

  row(row: readonly string[], number: number, name: string): void {
    const { wrong } = this.brought;
    const place = (k: number) => `row ${number}, ${this.sheet.heads[k] || `column ${k + 1}`}`;
    if (name === '') return wrong.add('a row without a name is left out', `row ${number}`);
    if (this.seen.has(name.toLowerCase()))
      return wrong.add('a name stands twice; the second row is left out', `row ${number}, ${name}`);
    this.seen.add(name.toLowerCase());
    // What the list does not say of an element that is here stays as it is, also within a field.
    const before = this.here.get(name.toLowerCase());
    let element: Element = before ?? newElement(this.kind, 'row' as ElementId, name.slice(0, 80));
    const said = new Set<string>();
    const fields = columnsOf(this.kind);
    this.columns.forEach((id, k) => {
      const text = (row[k] ?? '').trim();
      const field = fields.find((each) => each.id === id);
      if (!field || id === 'name' || text === '') return;
      const read = typed(element, field, text);
      if (!read.ok) return wrong.add(read.message.replace(/\.$/, ''), `${place(k)}: "${text.slice(0, 40)}"`);
      element = read.element;
      said.add(field.field.path[0]);
    });
    const says = Object.fromEntries(
      [...said].map((key) => [key, (element as unknown as Record<string, unknown>)[key]]),
    );
    const made = this.brought.add(this.kind, `${this.kind} ${name}`, name, says as never);
    if (!made) return;
    const id = (made as Element).id;
    this.columns.forEach((target, k) => {
      const bus = (row[k] ?? '').trim();
      if (target === null || !isEnd(target) || bus === '') return;
      const joined = this.busNamed(bus, place(k));
      if (joined) this.brought.join({ element: id, terminal: ends.indexOf(target) }, { element: joined, terminal: 0 });
    });
  }

  /** A busbar of the project, or a new one where it has none of that name. */
  private busNamed(name: string, place: string): ElementId | null {
    const known = this.buses.get(name.toLowerCase());
    if (known) return known;
    const here = ofKind(this.network, 'bus').find((bus) => bus.name.toLowerCase() === name.toLowerCase());
    if (!here)
      this.brought.assumed.add(
        'a busbar that the list names and the project has not is drawn, its voltage assumed',
        `${name} (${place})`,
      );
    const made = this.brought.add('bus', `bus ${name}`, here?.name ?? name, {}, here ? {} : { nominalKv: 11 });
    if (!made) return null;
    this.buses.set(name.toLowerCase(), made.id);
    return made.id;
  }
}
