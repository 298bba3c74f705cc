'use client';

import { useDeferredValue, useMemo } from 'react';
import { Checkbox, Progress, Select, TextInput } from '@mantine/core';
import { caloriesOf } from '@mesura/core/arc/clothing';
import { methodTitles } from '@mesura/core/arc/judge';
import { decidingCase, spotName, type ArcRow } from '@mesura/core/arc/study';
import { formatNumber } from '@mesura/core/fields/quantity';
import { settingsOf } from '@mesura/core/model/network';
import { ReportButtons } from '../../card/ReportButtons';
import { SortTable } from '../../card/SortTable';
import { useGoToSettings } from '../../desk/findings';
import { useProject } from '../../project/ProjectContext';
import { ArcCard } from './ArcCard';
import { ClothingTable } from './ClothingTable';
import { arcColumns, clearedBy } from './columns';
import { LabelButton } from './LabelButton';
import { setArc, useArcState, type ArcFilter } from './state';
import { useArc } from './useArc';
import bench from '../../card/bench.module.css';

const filterTitles: Readonly<Record<ArcFilter, string>> = {
  all: 'all places',
  over: 'above the limit',
  limited: 'not cleared in time',
  outside: 'outside of the model',
  lineSide: 'line sides',
};

/** Every place with the arc that decides. */
export function ArcBench() {
  const network = useProject((state) => state.network);
  const select = useProject((state) => state.select);
  const { value, isCurrent, progress, failed } = useArc();
  const { filter, text, compare, chosen } = useArcState();
  const { arc } = settingsOf(network);
  const wanted = useDeferredValue(text.trim().toLowerCase());
  const isOver = ({ worst }: ArcRow) => worst !== null && caloriesOf(decidingCase(worst).energy) > arc.limitCal;
  const isLimited = ({ worst }: ArcRow) => worst !== null && decidingCase(worst).limited;
  const passes: Readonly<Record<ArcFilter, (row: ArcRow) => boolean>> = {
    all: () => true,
    over: isOver,
    limited: isLimited,
    outside: ({ worst }) => worst?.method === 'theoretical',
    lineSide: ({ spot }) => spot.lineSideOf !== null,
  };
  const rows = (value ?? []).filter(
    (row) =>
      passes[filter](row) && `${spotName(network, row.spot)} ${clearedBy(network, row)}`.toLowerCase().includes(wanted),
  );
  const columns = useMemo(() => arcColumns(network, compare), [network, compare]);
  const row = value?.find(({ spot }) => spot.key === chosen) ?? null;
  const toSettings = useGoToSettings();
  return (
    <section aria-label="Arc energy">
      <div className={bench.head} style={{ columnGap: 9 }}>
        <h2 className={bench.title}>Arc energy</h2>
        {value && (
          <span className={bench.muted} role="status" aria-label="Arcs">
            {value.length} places, {value.filter(isOver).length} above {formatNumber(arc.limitCal, 3)} cal/cm²,{' '}
            {value.filter(isLimited).length} not cleared in time
          </span>
        )}
        {progress !== null && <Progress value={100 * progress} w={90} size="sm" aria-label="Playing arcs" />}
        <span className={bench.spacer} />
        <LabelButton rows={rows} />
        <ReportButtons request={{ study: 'arc' }} />
      </div>
      <div className={bench.head}>
        <Select
          size="xs"
          w={160}
          aria-label="Places"
          allowDeselect={false}
          value={filter}
          onChange={(next) => setArc({ filter: next as ArcFilter })}
          data={Object.entries(filterTitles).map(([each, label]) => ({ value: each, label }))}
        />
        <TextInput
          size="xs"
          w={140}
          placeholder="Filter"
          aria-label="Filter the places"
          value={text}
          onChange={(event) => setArc({ text: event.currentTarget.value })}
        />
        <Checkbox
          size="xs"
          label="other edition beside"
          checked={compare}
          onChange={(event) => setArc({ compare: event.currentTarget.checked })}
        />
      </div>
      <p className={bench.muted} style={{ margin: '0 0 6px' }}>
        {methodTitles[arc.edition]}, full and reduced arcing current in every condition, cleared by the protection as it
        is set; at most {formatNumber(arc.longestS, 3)} s.{' '}
        <button
          type="button"
          className={bench.sort}
          style={{ color: 'var(--m-accent)' }}
          onClick={() => toSettings('arc.edition')}
        >
          Change
        </button>
      </p>
      {failed && <p className={bench.problem}>{failed}</p>}
      {!value ? (
        <p className={bench.muted} role="status">
          Playing arcs …
        </p>
      ) : rows.length === 0 ? (
        <p className={bench.muted}>{value.length === 0 ? 'The network has no busbar.' : 'Nothing of this kind.'}</p>
      ) : (
        <div className={row ? bench.short : undefined} style={{ overflowX: 'auto' }}>
          <SortTable
            label="Arc energy"
            columns={columns}
            rows={rows}
            rowId={({ spot }) => spot.key}
            current={isCurrent}
            chosen={chosen}
            onChoose={({ spot }) => {
              setArc({ chosen: spot.key });
              select([spot.lineSideOf ?? spot.bus]);
            }}
            rowTitle={({ worst, problems }) => [...problems, ...(worst?.remarks ?? [])].join('; ') || undefined}
          />
        </div>
      )}
      {row ? <ArcCard key={row.spot.key} row={row} isCurrent={isCurrent} /> : <ClothingTable />}
    </section>
  );
}
