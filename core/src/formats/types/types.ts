/** The library as a table, and types out of a table. */
import { ownEntry, type LibraryEntry } from '../../equipment/entry';
import { distanceCode, distanceNumbers, distanceWords, panelUnits, relayTypeOf } from '../../equipment/relayType';
import { parseQuantity } from '../../fields/quantity';
import { functionCodes } from '../../protection/overcurrent/schema';
import type { Cell } from '../format';
import { newElement } from '../../model/defaults';
import { kinds, type Element } from '../../model/element';
import type { ElementId } from '../../model/fields';
import type { LibraryEntryElement, LibraryKind } from '../../model/library';
import { entryFrom, withEntry } from '../../equipment/use';
import { columnsOf, headOf, textOf, typed, type GridColumn } from '../../fields/cells';

/** What matters most of a kind: its columns in the list. */
const chief: Readonly<Record<Exclude<LibraryKind, 'relay'>, readonly string[]>> = {
  line: ['r1OhmPerKm', 'x1OhmPerKm', 'ratedA'],
  transformer: ['ratedMva', 'hvKv', 'lvKv', 'ukPercent', 'vectorGroup'],
  switch: ['ratedKv', 'ratedA', 'breakingKa'],
  bus: ['ratedKv', 'ratedA', 'shortTimeKa', 'peakKa'],
  currentTransformer: ['primaryA', 'secondaryA', 'accuracy'],
  voltageTransformer: ['primaryKv', 'secondaryV', 'accuracy'],
  asynchronousMotor: ['ratedMw', 'ratedKv', 'efficiencyPercent', 'startingRatio'],
  synchronousMachine: ['ratedMva', 'ratedKv', 'xd2Percent', 'rotor'],
};

/** A column of the list of types, or a line of a type's card. */
export interface TypeColumn {
  readonly id: string;
  readonly title: string;
  readonly unit: string;
  text(entry: LibraryEntry, sample: Element): string;
}

const asColumn = (column: GridColumn): TypeColumn => ({ ...column, text: (_, sample) => textOf(sample, column) });

const rangeText = ({ min, max, step }: { min: number; max: number; step: number }) => `${min} to ${max}, step ${step}`;

const ofRelays: readonly TypeColumn[] = [
  {
    id: 'functions',
    title: 'Functions',
    unit: '',
    text: (entry) => [...(relayTypeOf(entry)?.functions.keys() ?? [])].join(' '),
  },
  {
    id: 'pickup',
    title: 'Pickup of 51',
    unit: '',
    text: (entry) => {
      const pickup = relayTypeOf(entry)?.functions.get('51')?.pickup;
      return pickup ? rangeText(pickup) : '';
    },
  },
  {
    id: 'panel',
    title: 'in',
    unit: '',
    text: (entry) => panelUnits[relayTypeOf(entry)?.panel ?? 'rated'],
  },
];

export function chiefColumns(kind: LibraryKind): readonly TypeColumn[] {
  if (kind === 'relay') return ofRelays;
  const columns = columnsOf(kind);
  return chief[kind].flatMap((id) => columns.find((column) => column.id === id) ?? []).map(asColumn);
}

/** Everything that a type says, for its card. */
export function factsOf(entry: LibraryEntry): readonly TypeColumn[] {
  if (entry.for !== 'relay')
    return columnsOf(entry.for)
      .filter(({ id }) => id !== 'name' && id.split('.')[0] in entry.data)
      .map(asColumn);
  const type = relayTypeOf(entry);
  if (!type) return [];
  return [...type.functions].map(([code, { pickup, timeMultiplier, delayS }]) => ({
    id: code,
    title: code,
    unit: '',
    text: () =>
      [
        `pickup ${rangeText(pickup)} ${panelUnits[type.panel]}`,
        `time multiplier ${rangeText(timeMultiplier)}`,
        `delay ${rangeText(delayS)} s`,
      ].join(' · '),
  }));
}

/** An element of a type, to read its values from; null where the type does not fit its schema any more. */
export function sampleOf(entry: LibraryEntry): Element | null {
  return withEntry(newElement(entry.for as LibraryKind, 'sample' as ElementId, entry.title) as Element, entry);
}

const units = new Set(['v', 'kv', 'a', 'ka', 'kva', 'mva', 'kw', 'mw', 'mm²', 's']);
const asTyped = (word: string) => (word === 'mm2' ? 'mm²' : word);

/** Types of which each word typed begins a word, in title, values or source; a number with a unit after it is that number: "12 kV" is not 1250 A. */
export function foundEntries(entries: readonly LibraryEntry[], filter: string): readonly LibraryEntry[] {
  const words = filter.toLowerCase().split(/\s+/).filter(Boolean).map(asTyped);
  if (words.length === 0) return entries;
  const isNumber = (word: string | undefined) => word !== undefined && /^\d+([.]\d+)?$/.test(word);
  return entries.filter(({ title, source, data }) => {
    const tokens = `${title} ${source} ${Object.values(data).join(' ')}`.toLowerCase().split(/[\s,×/]+/);
    return words.every((word, k) => {
      if (isNumber(word) && units.has(words[k + 1]))
        return tokens.some((token, n) => token === word && tokens[n + 1] === words[k + 1]);
      return tokens.some((token) => token.startsWith(word));
    });
  });
}

export const titleHead = 'Type';
const kindHead = 'Kind';
const sourceHead = 'Source';

/** Heads of what a relay type says: its panel, then each value of each function. */
const relayHeads = [
  'panel',
  ...functionCodes.flatMap((code) =>
    ['pickup', 'timeMultiplier', 'delayS'].flatMap((setting) =>
      ['min', 'max', 'step'].map((end) => `${code}: ${setting} ${end}`),
    ),
  ),
  ...[...distanceWords, ...distanceNumbers].map((each) => `${distanceCode}: ${each}`),
];

function relayCell({ data }: LibraryEntry, head: string): Cell {
  const [code, value] = head.split(': ');
  const held =
    value === undefined ? data[head] : (data[code] as Readonly<Record<string, unknown>> | undefined)?.[value];
  return typeof held === 'number' || typeof held === 'string' ? held : null;
}

/** A relay type out of a line; in words what is wrong with it. */
function relayEntry(heads: readonly string[], line: readonly string[]): LibraryEntryElement['data'] | string {
  const data: Record<string, string | Record<string, string | number>> = { panel: 'rated' };
  for (const [k, head] of heads.entries()) {
    const cell = (line[k] ?? '').trim();
    if (cell === '' || !relayHeads.includes(head)) continue;
    const [code, value] = head.split(': ');
    if (value === undefined) data[head] = cell;
    else if (code === distanceCode && distanceWords.includes(value))
      ((data[code] ??= {}) as Record<string, string>)[value] = cell;
    else {
      const read = parseQuantity(cell, '');
      if (!read.ok) return `${head}: ${read.message}`;
      ((data[code] ??= {}) as Record<string, number>)[value] = read.value;
    }
  }
  return data;
}

/** Types of one kind as a table: name, kind, source, then a column a field. */
export function typeRows(kind: LibraryKind, entries: readonly LibraryEntry[]): Cell[][] {
  if (kind === 'relay')
    return [
      [titleHead, kindHead, sourceHead, ...relayHeads],
      ...entries.map((entry) => [
        entry.title,
        kinds.relay.title,
        entry.source,
        ...relayHeads.map((head) => relayCell(entry, head)),
      ]),
    ];
  const columns = fieldColumns(kind);
  return [
    [titleHead, kindHead, sourceHead, ...columns.map(headOf)],
    ...entries.map((entry): Cell[] => {
      const sample = sampleOf(entry);
      const cells = columns.map((column) => (sample ? textOf(sample, column) : ''));
      return [entry.title, kinds[kind].title, entry.source, ...cells];
    }),
  ];
}

const fieldColumns = (kind: LibraryKind): GridColumn[] => columnsOf(kind).filter(({ id }) => id !== 'name');

export interface ReadTypes {
  readonly entries: readonly LibraryEntryElement[];
  /** Each with the line it is about. */
  readonly problems: readonly string[];
}

interface ReadingTypes {
  kindCalled(name: string): LibraryKind | undefined;
  /** Of lines that do not say it. */
  readonly kind: LibraryKind | undefined;
  newId(): ElementId;
  /** Names that types of the project have. */
  readonly taken: ReadonlySet<string>;
}

/** Types out of a table as {@link typeRows} makes it; fields may be headed by title or path. A line that does not fit is left out, with the reason. */
export function typesFrom(
  rows: readonly (readonly string[])[],
  { kindCalled, kind: given, newId, taken }: ReadingTypes,
): ReadTypes {
  const [heads = [], ...lines] = rows;
  const at = (head: string) => heads.findIndex((each) => each.trim() === head);
  if (at(titleHead) < 0) return { entries: [], problems: [`There is no column "${titleHead}" in the first line.`] };
  const problems: string[] = [];
  const entries: LibraryEntryElement[] = [];
  const names = new Set([...taken].map((name) => name.toLowerCase()));
  const unknown = new Set<string>();
  lines.forEach((line, k) => {
    const title = line[at(titleHead)]?.trim() ?? '';
    const refuse = (why: string) => problems.push(`Line ${k + 2}${title ? ` (${title})` : ''}: ${why}`);
    if (line.every((cell) => cell.trim() === '')) return;
    if (title === '') return refuse('the type has no name');
    if (names.has(title.toLowerCase())) return refuse('a type of this name is in the project already');
    const called = line[at(kindHead)]?.trim() ?? '';
    const kind = called === '' ? given : kindCalled(called);
    if (!kind)
      return refuse(called === '' ? 'it does not say what it is a type of' : `there are no types of "${called}"`);
    const source = at(sourceHead) < 0 ? '' : (line[at(sourceHead)] ?? '').trim().slice(0, 200);
    if (kind === 'relay') {
      const data = relayEntry(
        heads.map((head) => head.trim()),
        line,
      );
      if (typeof data === 'string') return refuse(data);
      const entry: LibraryEntryElement = {
        kind: 'libraryEntry',
        id: newId(),
        name: title.slice(0, 80),
        for: kind,
        source,
        data,
      };
      if (!relayTypeOf(ownEntry(entry))) return refuse('its functions lack a range, or a range is none');
      names.add(title.toLowerCase());
      return void entries.push(entry);
    }
    let element = newElement(kind, 'sample' as ElementId, title.slice(0, 80)) as Element;
    for (const [j, head] of heads.entries()) {
      const cell = line[j] ?? '';
      const name = head.trim();
      // By place: of some kinds a field is headed as the name of the type is.
      if (cell.trim() === '' || [titleHead, kindHead, sourceHead].some((own) => at(own) === j)) continue;
      const column = fieldColumns(kind).find((each) => each.id === name || headOf(each) === name);
      if (!column) {
        unknown.add(name);
        continue;
      }
      if (cell === textOf(element, column)) continue;
      const read = typed(element, column, cell);
      if (!read.ok) return refuse(`${column.title.toLowerCase()}: ${read.message}`);
      element = read.element;
    }
    names.add(title.toLowerCase());
    entries.push({ ...entryFrom(element, newId(), title.slice(0, 80)), source });
  });
  return {
    entries,
    problems: [
      ...[...unknown].filter(Boolean).map((head) => `The column "${head}" is not known and was left out.`),
      ...problems,
    ],
  };
}
