'use client';

import { SegmentedControl, Select } from '@mantine/core';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn } from '@mesura/core/model/network';
import type { PlanePoint } from '@mesura/core/differential/plane';
import type { DifferentialRow } from '@mesura/core/differential/summary';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { Chip } from '../../desk/Chip';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import { EndsView } from './EndsView';
import { PlaneView } from './PlaneView';
import { TransformersView } from './TransformersView';
import { setDifferential, useDifferentialState, type DifferentialView } from './state';
import bench from '../../card/bench.module.css';
import { Done } from '../../workers/Done';

const titles: Readonly<Record<DifferentialView, string>> = {
  functions: 'Functions',
  plane: 'Plane',
  ends: 'Sides',
  transformers: 'Current transformers',
};

const keyOf = ({ device, fn }: Pick<DifferentialRow, 'device' | 'fn'>) => `${device} ${fn}`;

export function DifferentialBench() {
  const { view, chosen } = useDifferentialState();
  const network = useProject((state) => state.network);
  const { value, isCurrent, progress } = useCore<readonly DifferentialRow[]>(
    'differentials',
    (service, ticket, onProgress) => service.differentials(ticket, onProgress),
  );
  const name = (id: ElementId) => nameIn(network, id);
  const row = value?.find((each) => keyOf(each) === chosen) ?? value?.[0] ?? null;
  return (
    <section aria-label="Differential">
      <div className={bench.head}>
        <SegmentedControl
          size="xs"
          aria-label="View"
          value={view}
          onChange={(next) => setDifferential({ view: next as DifferentialView, tried: null })}
          data={Object.entries(titles).map(([each, label]) => ({ value: each, label }))}
        />
        {row && (view === 'plane' || view === 'ends') && (
          <Select
            size="xs"
            w={220}
            searchable
            aria-label="Function"
            allowDeselect={false}
            value={keyOf(row)}
            data={value!.map((each) => ({ value: keyOf(each), label: `${name(each.device)}, ${each.code}` }))}
            onChange={(key) => setDifferential({ chosen: key, tried: null })}
          />
        )}
        <Done of={progress} label="Playing faults" />
      </div>
      {view === 'transformers' ? (
        <TransformersView />
      ) : !value ? (
        <p className={bench.muted} role="status">
          Playing faults inside and outside …
        </p>
      ) : !row ? (
        <p className={bench.muted}>
          No relay has differential protection yet. Add the function 87L, 87T, 87N, 87B, 87G or 87M to a relay in the
          Network or Settings stage; its sides are fitted to the network here.
        </p>
      ) : view === 'functions' ? (
        <Functions rows={value} isCurrent={isCurrent} chosen={keyOf(row)} />
      ) : view === 'plane' ? (
        <PlaneView key={keyOf(row)} row={row} />
      ) : (
        <EndsView key={keyOf(row)} row={row} />
      )}
    </section>
  );
}

function Functions({
  rows,
  isCurrent,
  chosen,
}: {
  rows: readonly DifferentialRow[];
  isCurrent: boolean;
  chosen: string;
}) {
  const network = useProject((state) => state.network);
  const select = useProject((state) => state.select);
  const name = (id: ElementId) => nameIn(network, id);
  const multiple = (point: PlanePoint | null) => point?.multiple ?? null;
  const columns: SortColumn<DifferentialRow>[] = [
    { id: 'device', head: 'Relay', text: true, value: ({ device }) => name(device) },
    { id: 'code', head: '', text: true, value: ({ code }) => code },
    {
      id: 'protects',
      head: 'Protects',
      text: true,
      width: 150,
      value: ({ elements }) => elements.map(name).join(', '),
    },
    {
      id: 'inside',
      head: 'inside ×',
      title: 'Operating over threshold of the fault inside that is seen worst',
      digits: 3,
      value: ({ weakest }) => multiple(weakest),
    },
    {
      id: 'sees',
      head: 'sees from A',
      title: 'From which fault current on every place and kind is seen',
      digits: 3,
      value: ({ seesFromA }) => seesFromA,
    },
    {
      id: 'outside',
      head: 'outside ×',
      title: 'Operating over threshold of the fault outside that is nearest to a trip',
      value: ({ nearest }) => (nearest && nearest.multiple < 0.0005 ? 0 : multiple(nearest)),
      cell: ({ nearest }) => (nearest ? (nearest.multiple < 0.0005 ? '0' : formatNumber(nearest.multiple, 3)) : ''),
    },
    {
      id: 'tap',
      head: 'tap ×',
      title: 'The same behind a tapped transformer',
      digits: 3,
      value: ({ tapped }) => multiple(tapped),
    },
    {
      id: 'verdict',
      head: 'Verdict',
      text: true,
      value: (row) => verdictOf(row)[1],
      cell: (row) => {
        const [state, text] = verdictOf(row);
        return <Chip state={state}>{text}</Chip>;
      },
    },
  ];
  return (
    <SortTable
      label="Differential functions"
      columns={columns}
      rows={rows}
      rowId={keyOf}
      current={isCurrent}
      chosen={chosen}
      onChoose={(row) => {
        setDifferential({ chosen: keyOf(row), view: 'plane', tried: null });
        select([row.device, ...row.elements]);
      }}
    />
  );
}

function verdictOf({ sides, turned, weakest, nearest }: DifferentialRow): ['pass' | 'warn' | 'fail', string] {
  if (sides < 2) return ['fail', 'one side only'];
  if (turned > 0) return ['fail', 'polarity'];
  if (nearest?.trips) return ['fail', 'trips outside'];
  if (weakest && !weakest.trips) return ['fail', 'blind inside'];
  return weakest && weakest.multiple < 1.5 ? ['warn', 'not sensitive'] : ['pass', 'OK'];
}
