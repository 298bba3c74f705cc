'use client';

import type { ReactNode } from 'react';
import { Button } from '@mantine/core';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { LinePackage } from '@mesura/core/model/linePackage';
import { withAgreed, type PackageAnswer, type Statement } from '@mesura/core/linePackage/package';
import { isSameEnd } from '@mesura/core/reach/circuits';
import { SortTable, type SortColumn } from '../../../card/SortTable';
import { Chip } from '../../../desk/Chip';
import { report } from '../../../desk/report';
import { today } from '../../../desk/today';
import { useProject } from '../../../project/ProjectContext';
import bench from '../../../card/bench.module.css';

/** What the package claims. Somebody agrees to it; when a figure behind it moves it is open again. */
export function StatementsPart({
  lead,
  pack,
  answer: { basis, result },
  isCurrent,
}: {
  lead: ReactNode;
  pack: LinePackage;
  answer: PackageAnswer;
  isCurrent: boolean;
}) {
  const commit = useProject((state) => state.commit);
  const stationOf = ({ end }: Statement) =>
    basis.ends.find(({ row }) => isSameEnd(row.end, end))?.row.stationName ?? '';
  const put = (next: LinePackage, label: string) =>
    report(commit([{ op: 'update', element: next }], `${pack.name}: ${label}`));
  const holding = result.statements.filter(({ holds, state }) => holds && state !== 'agreed');
  const columns: SortColumn<Statement>[] = [
    { id: 'end', head: 'End', text: true, value: stationOf },
    { id: 'title', head: 'Statement', text: true, width: 330, value: ({ title }) => title },
    { id: 'value', head: 'Value', value: ({ value }) => value },
    { id: 'bound', head: 'Bound', value: ({ bound }) => bound },
    { id: 'unit', head: '', text: true, value: ({ unit }) => unit },
    { id: 'margin', head: 'Margin %', value: ({ marginPercent }) => marginPercent, digits: 3 },
    {
      id: 'state',
      head: 'State',
      text: true,
      value: ({ holds, state }) => `${holds ? 1 : 0} ${state}`,
      cell: (each) => {
        const { holds, state, agreed } = each;
        if (state === 'moved')
          return (
            <span
              title={`Agreed on ${agreed!.on} at ${formatNumber(agreed!.value, 4)} against ${formatNumber(agreed!.bound, 4)}`}
            >
              <Chip state="warn">open again</Chip>
            </span>
          );
        if (!holds) return <Chip state="fail">not met</Chip>;
        return state === 'agreed' ? (
          <Chip state="pass">agreed {agreed!.on}</Chip>
        ) : (
          <span className={bench.muted}>open</span>
        );
      },
    },
  ];
  return (
    <>
      <div className={bench.head}>
        {lead}
        <span className={bench.muted}>
          {result.statements.filter(({ state }) => state === 'agreed').length} of {result.statements.length} agreed to
        </span>
        <span className={bench.spacer} />
        <Button
          size="compact-xs"
          disabled={!isCurrent || (holding.length === 0 && result.gone.length === 0)}
          onClick={() => {
            put(withAgreed(pack, holding, today(), result.gone), `${holding.length} statements agreed to`);
          }}
        >
          Agree to the {holding.length} that hold
        </Button>
      </div>
      {result.gone.length > 0 && (
        <p className={bench.problem} role="status">
          {result.gone.length} agreed statements are none any more: the scheme or the network has changed.
        </p>
      )}
      <SortTable
        label="Statements"
        columns={columns}
        rows={result.statements}
        rowId={({ id, end }) => `${end.line}:${end.terminal} ${id}`}
        current={isCurrent}
      />
    </>
  );
}
