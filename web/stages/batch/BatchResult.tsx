'use client';

import { useMemo } from 'react';
import { Button, Menu, SegmentedControl } from '@mantine/core';
import { IconDownload } from '@tabler/icons-react';
import { wrap } from 'comlink';
import { compareTables, type Value } from '@mesura/core/batch/table';
import { changeRows } from '@mesura/core/batch/changes';
import { csv } from '@mesura/core/formats/tables/csv';
import type { Batch } from '@mesura/core/model/batch';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { saveText } from '../../card/saveText';
import type { ProgramsService } from '../../workers/programs.worker';
import { setBatch, useBatchState, type KeptRun } from './state';
import bench from '../../card/bench.module.css';

type Line = readonly Value[];
const timeOf = (at: number) => new Date(at).toISOString().slice(0, 16).replace('T', ' ');

/** All answers as one table, and what became other since the run before. */
export function BatchResult({
  batch,
  kept: { last, before },
}: {
  batch: Batch;
  kept: { last: KeptRun; before: KeptRun | null };
}) {
  const shown = useBatchState((state) => state.shown);
  const { table, runs } = last.answer;
  const changes = useMemo(() => before && compareTables(before.answer.table, table), [before, table]);
  const [columns, ...lines] = useMemo(
    () => (shown === 'changes' && changes ? changeRows(changes) : [table.columns, ...table.rows]),
    [shown, changes, table],
  );
  const rows = useMemo(() => lines.map((cells, k) => ({ cells, id: String(k) })), [lines]);
  const sortable = columns.map((head, k): SortColumn<{ cells: Line; id: string }> => ({
    id: String(k),
    head: String(head),
    text: !lines.some((cells) => typeof cells[k] === 'number'),
    value: ({ cells }) => cells[k],
    digits: 5,
    width: 220,
  }));
  const notes = runs.flatMap(({ run, notes: own }) => own.map((note) => `${run}: ${note}`));
  return (
    <section aria-label="Answers">
      <div className={bench.head}>
        <h3 className={bench.subtitle}>
          {table.rows.length} {table.rows.length === 1 ? 'row' : 'rows'}, {timeOf(last.at)}
        </h3>
        {changes && (
          <>
            <SegmentedControl
              size="xs"
              aria-label="Which rows"
              value={shown}
              onChange={(next) => setBatch({ shown: next as 'rows' | 'changes' })}
              data={[
                { value: 'rows', label: 'All rows' },
                { value: 'changes', label: 'Changed' },
              ]}
            />
            <span className={bench.muted} role="status">
              {changes.changes.length === 0
                ? `the same as on ${timeOf(before!.at)}`
                : `${changes.changes.length} changed, new or gone since ${timeOf(before!.at)}`}
            </span>
          </>
        )}
        <span className={bench.spacer} />
        <SaveMenu name={batch.name} rows={[columns, ...lines]} />
      </div>
      {notes.length > 0 && (
        <details className={bench.muted}>
          <summary>
            {notes.length} {notes.length === 1 ? 'note' : 'notes'}
          </summary>
          {[...new Set(notes)].slice(0, 200).map((note) => (
            <div key={note}>{note}</div>
          ))}
        </details>
      )}
      {rows.length > 0 && (
        <div style={{ overflowX: 'auto' }}>
          <SortTable label={`Answers of ${batch.name}`} columns={sortable} rows={rows} rowId={({ id }) => id} current />
        </div>
      )}
    </section>
  );
}

function SaveMenu({ name, rows }: { name: string; rows: readonly Line[] }) {
  const workbook = async () => {
    const worker = new Worker(new URL('../../workers/programs.worker.ts', import.meta.url), { type: 'module' });
    try {
      const bytes = await wrap<ProgramsService>(worker).workbook(rows, 'Batch');
      saveText(`${name}.xlsx`, bytes, 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet');
    } finally {
      worker.terminate();
    }
  };
  return (
    <Menu withinPortal position="bottom-end">
      <Menu.Target>
        <Button size="compact-xs" variant="default" leftSection={<IconDownload size={13} />}>
          Save
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={() => saveText(`${name}.csv`, csv(rows))}>CSV</Menu.Item>
        <Menu.Item onClick={() => void workbook()}>Workbook (XLSX)</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}
