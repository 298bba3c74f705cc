'use client';

import { useState } from 'react';
import {
  createSortedRowModel,
  rowSortingFeature,
  sortFns,
  tableFeatures,
  useTable,
  type ColumnDef,
  type SortingState,
} from '@tanstack/react-table';
import type { FaultRow } from '@mesura/core/faults/report';
import { useDesk } from '../../desk/deskState';
import { useProject } from '../../project/ProjectContext';
import { formatNumber } from '../../card/quantity';
import bench from '../bench.module.css';

const features = tableFeatures({ rowSortingFeature, sortedRowModel: createSortedRowModel(), sortFns });

const figure = (value: number | null | undefined, digits = 4) =>
  value === null || value === undefined ? '–' : formatNumber(value, digits);

const columns: ColumnDef<typeof features, FaultRow>[] = [
  { id: 'bus', header: 'Bus', accessorFn: (row) => row.name, cell: ({ row }) => row.original.name },
  {
    id: 'kv',
    header: 'kV',
    accessorFn: (row) => row.nominalKv,
    cell: ({ row }) => formatNumber(row.original.nominalKv, 4).replace(/\.?0+$/, ''),
  },
  {
    id: 'ik',
    header: 'Ik″ kA',
    accessorFn: (row) => row.result?.ikA ?? -1,
    cell: ({ row }) => figure(row.original.result && row.original.result.ikA / 1000),
  },
  {
    id: 'ip',
    header: 'ip kA',
    accessorFn: (row) => row.result?.ipA ?? -1,
    cell: ({ row }) => figure(row.original.result && row.original.result.ipA / 1000),
  },
  {
    id: 'earth',
    header: '3I0 kA',
    accessorFn: (row) => row.result?.earthA ?? -1,
    cell: ({ row }) => figure(row.original.result && row.original.result.earthA / 1000),
  },
  {
    id: 'xr',
    header: 'X/R',
    accessorFn: (row) => row.result?.xOverR ?? -1,
    cell: ({ row }) => figure(row.original.result?.xOverR, 3),
  },
  {
    id: 'sk',
    header: 'Sk″ MVA',
    accessorFn: (row) => row.result?.powerVa ?? -1,
    cell: ({ row }) => figure(row.original.result?.powerVa == null ? null : row.original.result.powerVa / 1e6),
  },
];

/** Sortable table of fault levels; a row is the bus on the drawing. */
export function FaultTable({ rows, current }: { rows: readonly FaultRow[]; current: boolean }) {
  const [sorting, setSorting] = useState<SortingState>([]);
  const kind = useDesk((state) => state.faultKind);
  const chosen = useDesk((state) => state.faultBus);
  const set = useDesk((state) => state.set);
  const select = useProject((state) => state.select);
  const shown = columns.filter((column) => (kind === '3ph' ? column.id !== 'earth' : column.id !== 'sk'));
  const table = useTable({
    features,
    columns: shown,
    data: rows as FaultRow[],
    state: { sorting },
    onSortingChange: setSorting,
    getRowId: (row) => row.bus,
  });
  const choose = (row: FaultRow) => {
    set({ faultBus: row.bus });
    select([row.bus]);
  };
  return (
    <table className={`${bench.table} figures ${current ? '' : bench.stale}`} aria-busy={!current}>
      <thead>
        {table.getHeaderGroups().map((group) => (
          <tr key={group.id}>
            {group.headers.map((header) => {
              const direction = header.column.getIsSorted();
              return (
                <th
                  key={header.id}
                  className={header.column.id === 'bus' ? undefined : 'number'}
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
      <tbody>
        {table.getRowModel().rows.map((row) => (
          <tr
            key={row.id}
            data-clickable
            data-active={row.original.bus === chosen || undefined}
            tabIndex={0}
            onClick={() => choose(row.original)}
            onKeyDown={(event) => {
              if (event.key === 'Enter' || event.key === ' ') {
                event.preventDefault();
                choose(row.original);
              }
            }}
            title={row.original.problems.map((problem) => problem.message).join('; ') || undefined}
          >
            {row.getAllCells().map((cell) => (
              <td key={cell.id} className={cell.column.id === 'bus' ? undefined : 'number'}>
                {(cell.column.columnDef.cell as (context: { row: typeof row }) => string)({ row })}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
