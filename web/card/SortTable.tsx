'use client';

import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import {
  createSortedRowModel,
  rowSortingFeature,
  sortFns,
  tableFeatures,
  useTable,
  type ColumnDef,
  type SortingState,
} from '@tanstack/react-table';
import { formatNumber } from '@mesura/core/fields/quantity';
import { useRowWindow } from './useRowWindow';
import bench from './bench.module.css';

const features = tableFeatures({ rowSortingFeature, sortedRowModel: createSortedRowModel(), sortFns });

/** A column of a table: what is sorted by, and what is shown where that differs. */
export interface SortColumn<R> {
  readonly id: string;
  readonly head: string;
  /** Said on hover. */
  readonly title?: string;
  value(row: R): string | number | null;
  /** In place of the value. */
  cell?(row: R): ReactNode;
  readonly digits?: number;
  /** Set to the left, as text; figures stand to the right. */
  readonly text?: boolean;
  /** Texts are cut short beyond this, in pixels. */
  readonly width?: number;
}

interface SortTableProps<R> {
  readonly label: string;
  readonly columns: readonly SortColumn<R>[];
  readonly rows: readonly R[];
  readonly rowId: (row: R) => string;
  readonly current: boolean;
  readonly chosen?: string | null;
  readonly onChoose?: (row: R) => void;
  readonly rowTitle?: (row: R) => string | undefined;
}

/** What is not known sorts below everything. */
const sortable = (value: string | number | null): string | number => value ?? -Infinity;

/** A table that sorts by a click on its heads and draws only the rows in view; a row may be chosen by a click or Enter. */
export function SortTable<R extends object>(props: SortTableProps<R>) {
  const { label, columns, rows, rowId, current, chosen = null, onChoose, rowTitle } = props;
  const [sorting, setSorting] = useState<SortingState>([]);
  const defined = useMemo(
    () =>
      columns.map((column): ColumnDef<typeof features, R> => ({
        id: column.id,
        header: column.head,
        accessorFn: (row) => sortable(column.value(row)),
      })),
    [columns],
  );
  const table = useTable({
    features,
    columns: defined,
    data: rows as R[],
    state: { sorting },
    onSortingChange: setSorting,
    getRowId: rowId,
  });
  const sorted = table.getRowModel().rows;
  const body = useRef<HTMLTableSectionElement>(null);
  const { from, to, above, below, reveal } = useRowWindow(body, sorted.length);
  const chosenRow = chosen === null ? -1 : sorted.findIndex((row) => row.id === chosen);
  useEffect(() => {
    if (chosenRow >= 0) reveal(chosenRow);
  }, [chosenRow, reveal]);
  return (
    <table
      className={`${bench.table} figures ${current ? '' : bench.stale}`}
      aria-label={label}
      aria-busy={!current}
      aria-rowcount={sorted.length + 1}
    >
      <thead>
        {table.getHeaderGroups().map((group) => (
          <tr key={group.id}>
            {group.headers.map((header) => {
              const column = columns.find(({ id }) => id === header.column.id)!;
              const direction = header.column.getIsSorted();
              return (
                <th
                  key={header.id}
                  className={column.text ? undefined : 'number'}
                  title={column.title}
                  aria-sort={direction === 'asc' ? 'ascending' : direction === 'desc' ? 'descending' : 'none'}
                >
                  <button type="button" className={bench.sort} onClick={header.column.getToggleSortingHandler()}>
                    {column.head}
                    {direction === 'asc' ? ' ↑' : direction === 'desc' ? ' ↓' : ''}
                  </button>
                </th>
              );
            })}
          </tr>
        ))}
      </thead>
      <tbody ref={body}>
        {above > 0 && <tr aria-hidden style={{ height: above }} />}
        {sorted.slice(from, to).map((row, k) => (
          <tr
            key={row.id}
            aria-rowindex={from + k + 2}
            title={rowTitle?.(row.original)}
            data-active={row.id === chosen || undefined}
            {...(onChoose && {
              'data-clickable': true,
              tabIndex: 0,
              onClick: () => onChoose(row.original),
              onKeyDown: (event: { key: string; preventDefault(): void }) => {
                if (event.key !== 'Enter' && event.key !== ' ') return;
                event.preventDefault();
                onChoose(row.original);
              },
            })}
          >
            {columns.map((column) => (
              <td
                key={column.id}
                className={column.text ? bench.cut : 'number'}
                style={column.width === undefined ? undefined : { maxWidth: column.width }}
                title={column.text ? titleOf(column, row.original) : undefined}
              >
                {cellOf(column, row.original)}
              </td>
            ))}
          </tr>
        ))}
        {below > 0 && <tr aria-hidden style={{ height: below }} />}
      </tbody>
    </table>
  );
}

/** A text that may be cut short in its column is said in full on hover. */
function titleOf<R>(column: SortColumn<R>, row: R): string | undefined {
  const value = column.value(row);
  return typeof value === 'string' && value.length > 16 ? value : undefined;
}

function cellOf<R>(column: SortColumn<R>, row: R): ReactNode {
  if (column.cell) return column.cell(row);
  const value = column.value(row);
  if (value === null) return '–';
  return typeof value === 'number' ? formatNumber(value, column.digits ?? 4) : value;
}

/** The table as a spreadsheet takes it: full digits. */
export const cellsOf = <R,>(columns: readonly SortColumn<R>[], rows: readonly R[]): (string | number)[][] => [
  columns.map(({ head }) => head.replaceAll('″', '"')),
  ...rows.map((row) =>
    columns.map((column) => {
      const value = column.value(row);
      return value === null ? '' : typeof value === 'number' ? Number(value.toPrecision(6)) : value;
    }),
  ),
];
