'use client';

import { useEffect, useMemo, useRef, useState } from 'react';
import {
  createSortedRowModel,
  rowSortingFeature,
  sortFns,
  tableFeatures,
  useTable,
  type ColumnDef,
  type SortingState,
} from '@tanstack/react-table';
import type { FaultRow } from '@mesura/core/studies/engine';
import { samePlace, setFaults, useFaultsState } from './state';
import { useProject } from '../../project/ProjectContext';
import { formatNumber } from '@mesura/core/fields/quantity';
import { useRowWindow } from '../../card/useRowWindow';
import { figureColumns } from './columns';
import bench from '../../card/bench.module.css';

const features = tableFeatures({ rowSortingFeature, sortedRowModel: createSortedRowModel(), sortFns });
type Column = ColumnDef<typeof features, FaultRow>;

const names: Column[] = [
  { id: 'bus', header: 'Place', accessorFn: (row) => row.name, cell: ({ row }) => row.original.name },
  {
    id: 'kv',
    header: 'kV',
    accessorFn: (row) => row.nominalKv,
    cell: ({ row }) => formatNumber(row.original.nominalKv, 4).replace(/\.?0+$/, ''),
  },
];

/** Sortable table of fault levels; a row is the bus on the drawing. */
export function FaultTable({ rows, current }: { rows: readonly FaultRow[]; current: boolean }) {
  const [sorting, setSorting] = useState<SortingState>([]);
  const setup = useFaultsState((state) => state.setup);
  const chosen = useFaultsState((state) => state.place);
  const select = useProject((state) => state.select);
  const figures = useMemo(() => figureColumns(setup), [setup]);
  const columns = useMemo(
    () => [
      ...names,
      ...figures.map((column): Column => ({
        id: column.id,
        header: column.head,
        accessorFn: (row) => column.value(row) ?? -1,
        cell: ({ row }) => {
          const value = column.value(row.original);
          return value === null ? '–' : formatNumber(value, column.digits ?? 4);
        },
      })),
    ],
    [figures],
  );
  const table = useTable({
    features,
    columns,
    data: rows as FaultRow[],
    state: { sorting },
    onSortingChange: setSorting,
    getRowId: (row) => JSON.stringify(row.place),
  });
  const choose = (row: FaultRow) => {
    setFaults({ place: row.place });
    select([row.place.element]);
  };
  const sorted = table.getRowModel().rows;
  const body = useRef<HTMLTableSectionElement>(null);
  const { from, to, above, below, reveal } = useRowWindow(body, sorted.length);
  // What is chosen elsewhere, on the drawing or by search, comes into view here.
  const chosenRow = sorted.findIndex((row) => samePlace(row.original.place, chosen));
  const selected = useProject((state) => (state.selection.length === 1 ? state.selection[0] : null));
  const selectedRow = sorted.findIndex((row) => row.original.place.element === selected);
  const wanted = selectedRow >= 0 ? selectedRow : chosenRow;
  useEffect(() => {
    if (wanted >= 0) reveal(wanted);
  }, [wanted, reveal]);
  return (
    <table
      className={`${bench.table} figures ${current ? '' : bench.stale}`}
      aria-busy={!current}
      aria-rowcount={sorted.length + 1}
    >
      <thead>
        {table.getHeaderGroups().map((group) => (
          <tr key={group.id}>
            {group.headers.map((header) => {
              const direction = header.column.getIsSorted();
              return (
                <th
                  key={header.id}
                  className={header.column.id === 'bus' ? undefined : 'number'}
                  title={figures.find((column) => column.id === header.column.id)?.title}
                  aria-sort={direction === 'asc' ? 'ascending' : direction === 'desc' ? 'descending' : 'none'}
                >
                  <button type="button" className={bench.sort} onClick={header.column.getToggleSortingHandler()}>
                    {String(header.column.columnDef.header)}
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
            data-clickable
            data-active={samePlace(row.original.place, chosen) || undefined}
            tabIndex={0}
            onClick={() => choose(row.original)}
            onKeyDown={(event) => {
              if (event.key === 'Enter' || event.key === ' ') {
                event.preventDefault();
                choose(row.original);
              }
            }}
            title={remarkOf(row.original)}
          >
            {row.getAllCells().map((cell) => (
              <td key={cell.id} className={cell.column.id === 'bus' ? undefined : 'number'}>
                {(cell.column.columnDef.cell as (context: { row: typeof row }) => string)({ row })}
              </td>
            ))}
          </tr>
        ))}
        {below > 0 && <tr aria-hidden style={{ height: below }} />}
      </tbody>
    </table>
  );
}

/** What stands behind a row: why it has no figures, and how its breaking current was found. */
function remarkOf({ problems, result }: FaultRow): string | undefined {
  const remarks = problems.map((problem) => problem.message);
  if (result?.ibRule) remarks.push(breakingRules[result.ibRule]);
  return remarks.join('; ') || undefined;
}

const breakingRules = {
  'single paths': 'Ib: Σ µ·q·Ik″, sources on paths of their own (IEC 60909-0, 9.1.1 and 9.1.2)',
  meshed: 'Ib: meshed network (IEC 60909-0, 9.1.3)',
  unbalanced: 'Ib = Ik″, unbalanced fault (IEC 60909-0, 9.2)',
} as const;
