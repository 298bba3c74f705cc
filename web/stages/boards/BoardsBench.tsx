'use client';

import { useMemo } from 'react';
import { Button, Select } from '@mantine/core';
import { IconDownload } from '@tabler/icons-react';
import { billOf, billRows } from '@mesura/core/switchboards/bill';
import { boardLinks, boardsIn, type Board } from '@mesura/core/switchboards/board';
import type { BoardRow } from '@mesura/core/switchboards/ratings';
import { csv } from '@mesura/core/formats/tables/csv';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn } from '@mesura/core/model/network';
import { ReportButtons } from '../../card/ReportButtons';
import { saveText } from '../../card/saveText';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { Chip } from '../../desk/Chip';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import { BoardFront } from './BoardFront';
import { setBoards, useBoardsState } from './state';
import bench from '../../card/bench.module.css';
import { Done } from '../../workers/Done';

const chips = {
  holds: { state: 'pass', text: 'holds' },
  short: { state: 'fail', text: 'too small' },
  unknown: { state: 'warn', text: 'not known' },
} as const;

/** All boards and how they feed each other; one of them by its front. */
export function BoardsBench() {
  const network = useProject((state) => state.network);
  const { board: wanted } = useBoardsState();
  const boards = useMemo(() => boardsIn(network), [network]);
  const { value, isCurrent, progress, failed } = useCore<readonly BoardRow[]>('boards', (service, ticket, onProgress) =>
    service.boards(ticket, onProgress),
  );
  const board = boards.find(({ id, sections }) => id === wanted || (wanted && sections.includes(wanted))) ?? null;
  const short = value?.filter(({ verdict }) => verdict === 'short').length ?? 0;
  const bill = () =>
    saveText(
      board ? `${board.name}, bill of material.csv` : 'bill of material.csv',
      csv(billRows(billOf(network, board?.id ?? null))),
      'text/csv',
    );
  return (
    <section aria-label="Boards">
      <div className={bench.head}>
        <h2 className={bench.title}>Boards</h2>
        <Select
          size="xs"
          w={200}
          aria-label="Board"
          placeholder="all boards"
          clearable
          searchable
          value={board?.id ?? null}
          data={boards.map(({ id, name, nominalKv }) => ({ value: id, label: `${name}, ${nominalKv} kV` }))}
          onChange={(next) => setBoards({ board: next as ElementId | null, component: null })}
        />
        <Done of={progress} label="Looking at busbars" />
        <span className={bench.spacer} />
        <Button
          size="compact-xs"
          variant="default"
          leftSection={<IconDownload size={13} />}
          disabled={boards.length === 0}
          onClick={bill}
        >
          Bill of material
        </Button>
        <ReportButtons request={{ study: 'boards' }} />
      </div>
      {failed && <p className={bench.problem}>{failed}</p>}
      {boards.length === 0 ? (
        <p className={bench.muted}>The network has no busbar with anything connected to it.</p>
      ) : board ? (
        <BoardFront board={board} row={value?.find((row) => row.board === board.id) ?? null} isCurrent={isCurrent} />
      ) : (
        <>
          <p className={bench.muted} role="status" aria-label="Boards, in short">
            {boards.length} boards{value && short > 0 && `, ${short} with busbars that are rated too small`}
          </p>
          <BoardList boards={boards} rows={value ?? []} isCurrent={isCurrent} />
        </>
      )}
    </section>
  );
}

function BoardList({
  boards,
  rows,
  isCurrent,
}: {
  boards: readonly Board[];
  rows: readonly BoardRow[];
  isCurrent: boolean;
}) {
  const network = useProject((state) => state.network);
  const links = useMemo(() => boardLinks(network), [network]);
  const nameOf = new Map(boards.map(({ id, name }) => [id, name]));
  const byId = new Map(rows.map((row) => [row.board, row]));
  const told = (list: readonly (readonly [board: ElementId, over: ElementId])[]) =>
    list.map(([id, over]) => `${nameOf.get(id)} (${nameIn(network, over)})`).join(', ');
  const columns: readonly SortColumn<Board>[] = [
    { id: 'name', head: 'Board', text: true, value: ({ name }) => name },
    { id: 'kv', head: 'kV', value: ({ nominalKv }) => nominalKv, cell: ({ nominalKv }) => nominalKv },
    {
      id: 'sections',
      head: 'Sections',
      value: ({ sections }) => sections.length,
      cell: ({ sections }) => sections.length,
    },
    { id: 'outlets', head: 'Panels', value: ({ outlets }) => outlets.length, cell: ({ outlets }) => outlets.length },
    {
      id: 'from',
      head: 'Fed from',
      text: true,
      width: 195,
      value: ({ id }) => told(links.filter(({ to }) => to === id).map(({ from, over }) => [from, over])),
    },
    {
      id: 'to',
      head: 'Feeds',
      text: true,
      width: 195,
      value: ({ id }) => told(links.filter(({ from }) => from === id).map(({ to, over }) => [to, over])),
    },
    {
      id: 'verdict',
      head: 'Busbars',
      text: true,
      value: ({ id }) => {
        const verdict = byId.get(id)?.verdict;
        return verdict ? chips[verdict].text : '';
      },
      cell: ({ id }) => {
        const verdict = byId.get(id)?.verdict;
        return verdict && <Chip state={chips[verdict].state}>{chips[verdict].text}</Chip>;
      },
    },
  ];
  return (
    <div style={{ overflowX: 'auto' }}>
      <SortTable
        label="Boards"
        columns={columns}
        rows={boards}
        rowId={({ id }) => id}
        current={isCurrent}
        onChoose={({ id }) => setBoards({ board: id, component: null })}
      />
    </div>
  );
}
