'use client';

import { useState } from 'react';
import { cellText, cellTitles, typedCell, type ScheduleCell } from '@mesura/core/lowVoltage/cells';
import { criterionTexts } from '@mesura/core/lowVoltage/texts';
import { delimited } from '@mesura/core/fields/delimited';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { Element } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn, withElements, type Network } from '@mesura/core/model/network';
import { EditGrid, type Block, type EditColumn } from '../../card/EditGrid';
import { Chip } from '../../desk/Chip';
import { useGoToProblem } from '../../desk/findings';
import { report } from '../../desk/report';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { setCircuits, useCircuitsState } from './state';
import type { ScheduleRow } from './useCircuits';
import bench from '../../card/bench.module.css';

export const verdictChips = {
  holds: { state: 'pass', text: 'holds' },
  short: { state: 'fail', text: 'short' },
  doubtful: { state: 'warn', text: 'doubtful' },
  unknown: { state: 'warn', text: 'not known' },
} as const;

const helps: Partial<Readonly<Record<ScheduleCell, string>>> = {
  size: '4.2 kW, 5 kVA or 12 A; of a motor its shaft power',
  phases: '3, L1, L2 or L3',
  use: 'fixed or sockets: decides how soon a fault is cut off',
  demand: 'Share of its size that flows in service',
  device: 'C16, gG 25, C16 + 30 mA',
  section: '4 or 2 × 150; Al or XLPE may follow',
  method: 'Reference method of IEC 60364-5-52: A1 to E',
  ambient: 'Surroundings of the cable',
  together: 'Circuits side by side, this one counted',
};
const figures: ReadonlySet<ScheduleCell> = new Set([
  'size',
  'powerFactor',
  'demand',
  'length',
  'section',
  'ambient',
  'together',
]);

/** Circuits of a board in rows: what is typed, and what comes of it. */
export function Schedule({
  rows,
  isCurrent,
  isShort,
}: {
  rows: readonly ScheduleRow[];
  isCurrent: boolean;
  isShort: boolean;
}) {
  const network = useProject((state) => state.network);
  const store = useProjectStore();
  const chosen = useCircuitsState((state) => state.chosen);
  const goTo = useGoToProblem();
  const [messages, setMessages] = useState<readonly string[]>([]);
  const typedColumn = (cell: ScheduleCell): EditColumn<ScheduleRow> => ({
    id: cell,
    title: cellTitles[cell],
    help: helps[cell],
    figure: figures.has(cell),
    text: ({ row, parts }) =>
      cell === 'name' && parts.end === null
        ? row.ends.map((id) => nameIn(network, id)).join(', ')
        : cellText(network, parts, cell),
  });
  const found = (
    id: string,
    title: string,
    help: string,
    of: (row: ScheduleRow['row']) => number | null,
    digits = 3,
  ): EditColumn<ScheduleRow> => ({
    id,
    title,
    help,
    figure: true,
    fixed: true,
    text: ({ row }) => {
      const value = of(row);
      return value === null ? '' : formatNumber(value, digits);
    },
  });
  const columns: readonly EditColumn<ScheduleRow>[] = [
    typedColumn('name'),
    {
      id: 'verdict',
      title: '',
      fixed: true,
      text: ({ row }) => verdictChips[row.verdict].text,
      cell: ({ row }) => {
        const { state, text } = verdictChips[row.verdict];
        const by = row.verdict !== 'holds' && row.binding ? criterionTexts[row.binding].short : text;
        return <Chip state={state}>{by}</Chip>;
      },
    },
    typedColumn('size'),
    typedColumn('device'),
    typedColumn('length'),
    typedColumn('section'),
    found('ib', 'Ib A', 'Design current', ({ designA }) => designA),
    found('iz', 'Iz A', 'What the cable carries where it lies', ({ cables, main }) =>
      main === null ? null : cables[main].capacity.ampere,
    ),
    found(
      'drop',
      'ΔU %',
      'From the origin of the installation to the load',
      ({ upstreamPercent, ownPercent }) => upstreamPercent + ownPercent,
      2,
    ),
    found('ikMax', 'Ik max A', 'Largest fault current at the load', ({ endMax }) => endMax?.ampere ?? null),
    found(
      'ikMin',
      'Ik1 min A',
      'Smallest fault current to the protective conductor at the load',
      ({ endEarth }) => endEarth?.ampere ?? null,
    ),
    found('time', 't s', 'Certainly cut off by then', ({ cleared }) => cleared.timeS, 2),
    found('demanded', 'ta s', 'Has to be cut off by then', ({ requiredS }) => requiredS, 2),
    typedColumn('phases'),
    typedColumn('powerFactor'),
    typedColumn('use'),
    typedColumn('demand'),
    typedColumn('method'),
    typedColumn('ambient'),
    typedColumn('together'),
  ];
  const cellOf = (column: EditColumn<ScheduleRow>) => (column.fixed ? null : (column.id as ScheduleCell));

  const store1 = ({ parts }: ScheduleRow, column: EditColumn<ScheduleRow>, text: string): string | null => {
    const { network: now, commit } = store.getState();
    const cell = cellOf(column);
    if (!cell || text.trim() === cellText(now, parts, cell)) return null;
    const read = typedCell(now, parts, cell, text);
    if (!read.ok) return read.message;
    const result = commit(
      [{ op: 'update', element: read.element }],
      `${nameIn(now, read.element.id)}: ${column.title.toLowerCase()}`,
    );
    return result.ok ? null : result.problems[0].message;
  };
  /** A block of texts over the schedule as one step; what cannot be read is named, and the rest is taken. */
  const paste = (block: Block, text: string) => {
    const { network: before, commit } = store.getState();
    const given = delimited(text, '\t');
    const single = given.length === 1 && given[0].length === 1;
    const lines = single
      ? Array.from({ length: block.rows }, () => Array.from({ length: block.columns }, () => given[0][0]))
      : given;
    let now: Network = before;
    const touched = new Map<ElementId, Element>();
    const refused: string[] = [];
    lines.forEach((line, i) =>
      line.forEach((cell, j) => {
        const at = rows[block.row + i];
        const column = columns[block.column + j];
        const kind = at && column ? cellOf(column) : null;
        if (!kind || cell.trim() === cellText(now, at.parts, kind)) return;
        const read = typedCell(now, at.parts, kind, cell);
        if (!read.ok)
          return void refused.push(
            `${at.row.ends.map((id) => nameIn(now, id)).join(', ')}, ${column.title.toLowerCase()}: ${read.message}`,
          );
        now = withElements(now, [read.element]);
        touched.set(read.element.id, read.element);
      }),
    );
    if (touched.size > 0)
      report(
        commit(
          [...touched.keys()].map((id) => ({ op: 'update' as const, element: now.elements.get(id)! })),
          `Schedule: ${touched.size} changed at once`,
        ),
      );
    setMessages(refused);
  };
  return (
    <>
      <EditGrid
        title="Circuits"
        rows={rows}
        columns={columns}
        rowId={({ row }) => row.key}
        rowName={({ row }) => row.ends.map((id) => nameIn(network, id)).join(', ')}
        onType={store1}
        onPaste={paste}
        onAt={({ row }) => {
          if (row.key === chosen) return;
          setCircuits({ chosen: row.key });
          goTo({ severity: 'assumed', code: 'circuits.place', message: '', element: row.key });
        }}
        onMessage={setMessages}
        chosen={chosen === null ? [] : [chosen]}
        stale={!isCurrent}
        maxHeight={isShort ? '38vh' : '62vh'}
      />
      {messages.length > 0 && (
        <ul className={bench.help} role="alert" aria-label="Not taken">
          {messages.slice(0, 8).map((message) => (
            <li key={message}>{message}</li>
          ))}
          {messages.length > 8 && <li>and {messages.length - 8} more</li>}
        </ul>
      )}
    </>
  );
}
