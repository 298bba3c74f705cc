/** What became other between two tables, as a table. */
import type { TableChanges, Value } from './table';

/** One row for each cell that became other, one for each row that came or went. */
export function changeRows({ columns, changes }: TableChanges): Value[][] {
  const texts = columns.filter((_, k) => changes.every(({ row }) => typeof row[k] !== 'number'));
  const head = ['what', ...texts, 'column', 'before', 'after', 'percent'];
  const body = changes.flatMap(({ what, row, cells }) => {
    const named = texts.map((column) => row[columns.indexOf(column)]);
    return cells.length === 0
      ? [[what, ...named, null, null, null, null]]
      : cells.map(({ column, before, after, percent }) => [what, ...named, column, before, after, percent]);
  });
  return [head, ...body];
}
