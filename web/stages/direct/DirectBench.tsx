'use client';

import { useMemo } from 'react';
import { SegmentedControl } from '@mantine/core';
import { isBelow, longestFaultS, type DirectAnswer, type DirectFlow, type DirectRow } from '@mesura/core/direct/study';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn, type Network } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { Chip } from '../../desk/Chip';
import { useGoToProblem } from '../../desk/findings';
import { useProject } from '../../project/ProjectContext';
import { DirectCard } from './DirectCard';
import { setDirect, useDirectState } from './state';
import { useDirect } from './useDirect';
import bench from '../../card/bench.module.css';
import { Done } from '../../workers/Done';

/** Every board and load of direct current: voltage in service, short-circuit currents, what clears them. */
export function DirectBench() {
  const network = useProject((state) => state.network);
  const goTo = useGoToProblem();
  const see = (element: ElementId) => goTo({ severity: 'assumed', code: 'direct.place', message: '', element });
  const { value, isCurrent, progress, failed } = useDirect();
  const { view, chosen } = useDirectState();
  const columns = useMemo(() => placeColumns(network), [network]);
  const row = value?.rows.find(({ element }) => element === chosen) ?? null;
  const fallen = new Set(value?.flows.flatMap(({ collapsed }) => collapsed));
  return (
    <section aria-label="Direct current">
      <div className={bench.head}>
        <h2 className={bench.title}>Direct current</h2>
        {value && value.rows.length > 0 && (
          <span className={bench.muted} role="status" aria-label="Direct current, in short">
            {value.rows.length} places, {value.rows.filter(isBelow).length} below their lowest voltage, {fallen.size}{' '}
            loads fall out
          </span>
        )}
        <Done of={progress} label="Computing direct current" />
        <span className={bench.spacer} />
        <SegmentedControl
          size="xs"
          aria-label="Shown"
          value={view}
          onChange={(next) => setDirect({ view: next as 'places' | 'flow' })}
          data={[
            { value: 'places', label: 'Places' },
            { value: 'flow', label: 'Load' },
          ]}
        />
      </div>
      <p className={bench.muted} style={{ margin: '0 0 6px' }}>
        Currents by IEC 61660-1, as remembered, each source alone and where ways are shared together; voltages with
        chargers holding theirs up to their limit. Largest with batteries charged and cables at 20 °C, smallest at the
        end of discharge and with cables warm.
      </p>
      {failed && <p className={bench.problem}>{failed}</p>}
      {!value ? (
        <p className={bench.muted} role="status">
          Computing …
        </p>
      ) : value.rows.length === 0 ? (
        <p className={bench.muted}>
          Nothing carries direct current. Boards, batteries, chargers, cables and loads of direct current stand under
          &quot;Direct current&quot; above the drawing.
        </p>
      ) : view === 'flow' ? (
        <Flows network={network} answer={value} isCurrent={isCurrent} onChoose={see} />
      ) : (
        <>
          <div className={row ? bench.short : undefined} style={{ overflowX: 'auto' }}>
            <SortTable
              label="Direct current"
              columns={columns}
              rows={value.rows}
              rowId={({ element }) => element}
              current={isCurrent}
              chosen={chosen}
              onChoose={({ element }) => {
                setDirect({ chosen: element, condition: null });
                see(element);
              }}
            />
          </div>
          {row && <DirectCard key={row.element} row={row} isCurrent={isCurrent} />}
        </>
      )}
    </section>
  );
}

function placeColumns(network: Network): SortColumn<DirectRow>[] {
  const cleared = (row: DirectRow): string => {
    const late = slowest(row);
    if (!late) return '';
    if (late.course.limited) return `nothing within ${longestFaultS} s`;
    return late.course.governing ? nameIn(network, late.course.governing.device) : '';
  };
  return [
    { id: 'place', head: 'Place', text: true, width: 170, value: ({ element }) => nameIn(network, element) },
    {
      id: 'volts',
      head: 'U V',
      title: 'Lowest voltage in service over the conditions',
      value: ({ lowest }) => lowest?.volts ?? null,
      digits: 4,
    },
    {
      id: 'percent',
      head: '% Un',
      title: 'The same in percent of the nominal voltage; a load with the least that it works at',
      value: ({ lowest }) => lowest?.percent ?? null,
      digits: 4,
      cell: (row) => {
        const { lowest, lowestPercent } = row;
        if (!lowest || lowest.percent === null) return '';
        const shown = `${formatNumber(lowest.percent, 4)}${lowestPercent === null ? '' : ` ≥ ${formatNumber(lowestPercent, 3)}`}`;
        return isBelow(row) ? <Chip state="fail">{shown}</Chip> : shown;
      },
    },
    {
      id: 'peak',
      head: 'ip A',
      title: 'Largest peak of the short-circuit current',
      value: ({ largest }) => largest?.fault.peakA ?? null,
      digits: 4,
    },
    { id: 'after', head: 'tp ms', value: ({ largest }) => largest && 1000 * largest.fault.peakS, digits: 3 },
    {
      id: 'steady',
      head: 'Ik A',
      title: 'Largest quasi steady-state current',
      value: ({ largest }) => largest?.fault.steadyA ?? null,
      digits: 4,
    },
    {
      id: 'least',
      head: 'Ik min A',
      title: 'Smallest quasi steady-state current',
      value: ({ smallest }) => smallest?.fault.steadyA ?? null,
      digits: 4,
    },
    {
      id: 'cleared',
      head: 'Cleared by',
      title: 'In the condition in which it takes longest',
      text: true,
      width: 130,
      value: cleared,
    },
    {
      id: 'time',
      head: 't s',
      title: 'Until nothing feeds the fault any more, at the longest',
      value: (row) => {
        const late = slowest(row);
        return late && !late.course.limited ? late.course.burnsS : null;
      },
      digits: 3,
    },
  ];
}

/** The result in whose condition the fault stays longest. */
const slowest = ({ results }: DirectRow) =>
  results.reduce<DirectRow['results'][number] | null>(
    (p, q) => (p && p.course.burnsS >= q.course.burnsS ? p : q),
    null,
  );

type FlowRow = DirectFlow['rows'][number] & { readonly key: string; readonly condition: string };

/** What sources, cables and switches carry in service. */
function Flows({
  network,
  answer,
  isCurrent,
  onChoose,
}: {
  network: Network;
  answer: DirectAnswer;
  isCurrent: boolean;
  onChoose: (id: FlowRow['element']) => void;
}) {
  const rows = answer.flows.flatMap(({ condition, rows: own }) =>
    own.map((each): FlowRow => ({
      ...each,
      key: `${condition} ${each.element}`,
      condition: conditionOf(network, condition)?.name ?? '',
    })),
  );
  const columns: SortColumn<FlowRow>[] = [
    { id: 'element', head: 'Element', text: true, width: 170, value: ({ element }) => nameIn(network, element) },
    { id: 'ampere', head: 'I A', value: ({ amperes }) => amperes, digits: 4 },
    { id: 'rated', head: 'Ir A', value: ({ ratedA }) => ratedA, digits: 4 },
    {
      id: 'used',
      head: '%',
      title: 'Of the rated current',
      value: ({ amperes, ratedA }) => (ratedA === null ? null : (100 * amperes) / ratedA),
      digits: 3,
      cell: ({ amperes, ratedA }) => {
        if (ratedA === null) return '';
        const shown = formatNumber((100 * amperes) / ratedA, 3);
        return amperes > ratedA ? <Chip state="fail">{shown}</Chip> : shown;
      },
    },
    { id: 'loss', head: 'Loss W', value: ({ lossW }) => lossW, digits: 3 },
    { id: 'condition', head: 'Condition', text: true, width: 130, value: ({ condition }) => condition },
  ];
  return (
    <SortTable
      label="Load of direct current"
      columns={columns}
      rows={rows}
      rowId={({ key }) => key}
      current={isCurrent}
      onChoose={({ element }) => onChoose(element)}
    />
  );
}
