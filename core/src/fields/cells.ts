/** Elements of one kind as a grid: what stands in a cell as text, what a typed or pasted text makes of the element. Pure. */
import type { Change } from '../model/changes';
import { applyChanges } from '../model/changes';
import { nameOf, type Element, type ElementKind } from '../model/element';
import type { ElementId } from '../model/fields';
import type { Network } from '../model/network';
import { storableText } from '../model/text';
import { delimited } from './delimited';
import { parseQuantity, plainNumber } from './quantity';
import { confirmed, formSections, isShown, validate, valueAt, withValue, type FormField } from './schemaFields';

export interface GridColumn {
  readonly id: string;
  readonly title: string;
  readonly unit: string;
  readonly field: FormField;
}

/** The fields of the card, the name first. */
export function columnsOf(kind: ElementKind): GridColumn[] {
  return formSections(kind).flatMap(({ title, fields }) =>
    fields.map((field) => ({
      id: field.path.join('.'),
      title: field.path.length > 1 && title ? `${title}: ${field.meta.title}` : field.meta.title,
      unit: field.meta.unit ?? '',
      field,
    })),
  );
}

/** The head of a column in a spreadsheet: title and unit. */
export const headOf = ({ title, unit }: GridColumn): string => (unit ? `${title} in ${unit}` : title);

/** Kinds without data of their own, or with a view of their own. */
export const unlisted: readonly ElementKind[] = [
  'connection',
  'projectSettings',
  'textNote',
  'gradingChart',
  'linePackage',
  'earthStudy',
  'batch',
  'script',
  'chartPicture',
  'rulebook',
  'condition',
  'libraryEntry',
  'page',
];

/** Text of a cell: what the card shows, in the field's unit and without it; empty where nothing is known or the field does not apply. */
export function textOf(element: Element, { field }: GridColumn): string {
  if (!isShown(element, field)) return '';
  const value = valueAt(element, field.path);
  if (value === null || value === undefined) return '';
  if (typeof value === 'number') return plainNumber(value);
  return typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value);
}

/** What a cell is sorted by. */
export const sortKeyOf = (element: Element, { field }: GridColumn): number | string => {
  const value = isShown(element, field) ? valueAt(element, field.path) : null;
  return typeof value === 'number' ? value : typeof value === 'boolean' ? Number(value) : String(value ?? '');
};

export interface Sorting {
  readonly id: string;
  readonly down: boolean;
}

/** Rows that hold all words typed, in the order wanted. */
export function shownRows(
  elements: readonly Element[],
  columns: readonly GridColumn[],
  filter: string,
  sorting: Sorting | null,
): readonly Element[] {
  const words = filter.toLowerCase().split(/\s+/).filter(Boolean);
  const all =
    words.length === 0
      ? elements
      : elements.filter((element) => {
          const text = asText([element], columns).toLowerCase();
          return words.every((word) => text.includes(word));
        });
  const column = sorting && columns.find(({ id }) => id === sorting.id);
  if (!column) return all;
  const { compare } = new Intl.Collator('en', { numeric: true });
  const sorted = [...all].sort((p, q) => {
    const [a, b] = [sortKeyOf(p, column), sortKeyOf(q, column)];
    return typeof a === 'number' && typeof b === 'number' ? a - b : compare(String(a), String(b));
  });
  return sorting.down ? sorted.reverse() : sorted;
}

export type Typed = { readonly ok: true; readonly element: Element } | { readonly ok: false; readonly message: string };

/** The element with a typed text in one of its fields; the message says why it is refused. */
export function typed(element: Element, { field }: GridColumn, text: string): Typed {
  const refuse = (message: string): Typed => ({ ok: false, message });
  if (!isShown(element, field)) return refuse('This field does not apply here.');
  const put = (value: unknown): Typed => {
    if (value === valueAt(element, field.path)) return { ok: true, element };
    const changed = confirmed(withValue(element, field.path, value), [field.path.join('.')]);
    const wrong = validate(changed, field.path);
    return wrong ? refuse(wrong) : { ok: true, element: changed };
  };
  const trimmed = text.trim();
  switch (field.type) {
    case 'optionalQuantity':
    case 'quantity': {
      if (trimmed === '') return field.type === 'optionalQuantity' ? put(null) : refuse('A value is needed here.');
      const read = parseQuantity(trimmed, field.meta.unit ?? '');
      return read.ok ? put(read.value) : refuse(read.message);
    }
    case 'choice':
    case 'number choice': {
      const found = field.options.find((option) => String(option).toLowerCase() === trimmed.toLowerCase());
      return found === undefined ? refuse(`One of ${field.options.join(', ')} is needed here.`) : put(found);
    }
    case 'boolean': {
      const known: Readonly<Record<string, boolean>> = {
        yes: true,
        true: true,
        '1': true,
        no: false,
        false: false,
        '0': false,
      };
      const value = known[trimmed.toLowerCase()];
      return value === undefined ? refuse('yes or no is needed here.') : put(value);
    }
    default:
      return put(storableText(trimmed));
  }
}

/** A block of cells as text: lines of cells with tabs between, as spreadsheets take and give it. */
export const asText = (elements: readonly Element[], columns: readonly GridColumn[]): string =>
  elements.map((element) => columns.map((column) => textOf(element, column)).join('\t')).join('\n');

export interface CellProblem {
  readonly element: ElementId;
  readonly column: string;
  readonly message: string;
}

export interface Pasted {
  readonly changes: readonly Change[];
  /** Cells that were not taken, each with its reason; the others are. */
  readonly problems: readonly CellProblem[];
  /** Cells of the text beyond the end of the grid. */
  readonly beyond: number;
}

/** A pasted block laid over the grid from one cell on: one batch for all that fits. A single value fills the whole selection. */
export function pasted(
  network: Network,
  rows: readonly Element[],
  columns: readonly GridColumn[],
  from: { readonly row: number; readonly column: number; readonly rows?: number; readonly columns?: number },
  text: string,
): Pasted {
  const given = delimited(text, '\t');
  const single = given.length === 1 && given[0].length === 1;
  const block = single
    ? Array.from({ length: from.rows ?? 1 }, () => Array.from({ length: from.columns ?? 1 }, () => given[0][0]))
    : given;
  const changed = new Map<ElementId, Element>();
  const problems: CellProblem[] = [];
  let beyond = 0;
  block.forEach((line, i) =>
    line.forEach((cell, j) => {
      const element = rows[from.row + i];
      const column = columns[from.column + j];
      if (!element || !column) return void beyond++;
      const now = changed.get(element.id) ?? element;
      if (cell === textOf(now, column)) return;
      const read = typed(now, column, cell);
      if (read.ok) changed.set(element.id, read.element);
      else problems.push({ element: element.id, column: column.title, message: read.message });
    }),
  );
  const changes: Change[] = [];
  for (const element of changed.values()) {
    if (element === network.elements.get(element.id)) continue;
    const change: Change = { op: 'update', element };
    // A name that is taken already, for one: refused for its element alone.
    const applied = applyChanges(network, [...changes, change]);
    if (applied.ok) changes.push(change);
    else
      problems.push({ element: element.id, column: '', message: `${nameOf(element)}: ${applied.problems[0].message}` });
  }
  return { changes, problems, beyond };
}
