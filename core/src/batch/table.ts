/** Answers of several studies as one table, and what became other between two runs of the same. */
import { delimited } from '../fields/delimited';

export type Value = string | number | null;

export interface BatchTable {
  readonly columns: readonly string[];
  readonly rows: readonly (readonly Value[])[];
}

/** One answer as CSV, under the name of its run; several tables in it stand one below the other with a head each. */
export interface RunAnswer {
  readonly run: string;
  readonly csv: string;
}

const valueOf = (text: string): Value =>
  text === '' ? null : /^[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?$/i.test(text) ? Number(text) : text;

/** All rows, each with the name of its run in front; columns of the same name are the same column. */
export function oneTable(answers: readonly RunAnswer[]): BatchTable {
  const columns = ['run'];
  const rows: Value[][] = [];
  for (const { run, csv } of answers)
    for (const [head, ...lines] of tablesIn(csv)) {
      const at = placesFor(head, columns);
      for (const line of lines) {
        const row: Value[] = [run];
        line.forEach((text, k) => (row[at[k]] = valueOf(text)));
        rows.push(row);
      }
    }
  return { columns, rows: rows.map((row) => columns.map((_, k) => row[k] ?? null)) };
}

/** Tables in a text, empty lines between them. */
function tablesIn(text: string): string[][][] {
  const tables: string[][][] = [[]];
  for (const line of delimited(text, ','))
    if (line.length === 1 && line[0] === '') tables.push([]);
    else tables.at(-1)!.push(line);
  return tables.filter(({ length }) => length > 0);
}

/** Where the columns of a head stand in the whole; a name that comes twice in one head counts twice. */
function placesFor(head: readonly string[], columns: string[]): number[] {
  const seen = new Map<string, number>();
  return head.map((text) => {
    const often = (seen.get(text) ?? 0) + 1;
    seen.set(text, often);
    const name = often === 1 ? text : `${text} ${often}`;
    const at = columns.indexOf(name);
    return at >= 0 ? at : columns.push(name) - 1;
  });
}

export interface CellChange {
  readonly column: string;
  readonly before: Value;
  readonly after: Value;
  /** Of figures, in percent of the one before; null where there is none. */
  readonly percent: number | null;
}

export interface RowChange {
  readonly what: 'changed' | 'new' | 'gone';
  /** What the row is of: its texts. */
  readonly row: readonly Value[];
  readonly cells: readonly CellChange[];
}

export interface TableChanges {
  readonly columns: readonly string[];
  readonly changes: readonly RowChange[];
  readonly same: number;
}

/** Figures that differ by less are the same: what rounding leaves. */
const near = 1e-9;

const isSame = (p: Value, q: Value): boolean =>
  p === q ||
  (typeof p === 'number' && typeof q === 'number' && Math.abs(p - q) <= near * Math.max(Math.abs(p), Math.abs(q)));

/** Rows of the same texts belong together, those of equal texts in their order; of two with one text less in common the figures are not compared. */
export function compareTables(before: BatchTable, after: BatchTable): TableChanges {
  const columns = [...after.columns, ...before.columns.filter((column) => !after.columns.includes(column))];
  const aligned = ({ columns: own, rows }: BatchTable): Value[][] => {
    const at = columns.map((column) => own.indexOf(column));
    return rows.map((row) => at.map((k) => (k < 0 ? null : row[k])));
  };
  const earlier = aligned(before);
  const later = aligned(after);
  // A column is text where no row of either holds a figure.
  const isText = columns.map((_, k) => ![...earlier, ...later].some((row) => typeof row[k] === 'number'));
  const keyed = (rows: readonly Value[][]) => {
    const often = new Map<string, number>();
    return rows.map((row): [string, Value[]] => {
      const key = JSON.stringify(row.filter((_, k) => isText[k]));
      often.set(key, (often.get(key) ?? 0) + 1);
      return [`${key} ${often.get(key)}`, row];
    });
  };
  const known = new Map(keyed(earlier));
  const changes: RowChange[] = [];
  let same = 0;
  for (const [key, row] of keyed(later)) {
    const old = known.get(key);
    known.delete(key);
    if (!old) {
      changes.push({ what: 'new', row, cells: [] });
      continue;
    }
    const cells = columns.flatMap((column, k): CellChange[] =>
      isSame(old[k], row[k]) ? [] : [{ column, before: old[k], after: row[k], percent: percentOf(old[k], row[k]) }],
    );
    if (cells.length === 0) same++;
    else changes.push({ what: 'changed', row, cells });
  }
  for (const row of known.values()) changes.push({ what: 'gone', row, cells: [] });
  return { columns, changes, same };
}

const percentOf = (before: Value, after: Value): number | null =>
  typeof before === 'number' && typeof after === 'number' && before !== 0
    ? (100 * (after - before)) / Math.abs(before)
    : null;
