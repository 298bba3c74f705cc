'use client';

import { useDeferredValue, useMemo } from 'react';
import { Checkbox, Select, TextInput } from '@mantine/core';
import { methodTitles } from '@mesura/core/arc/judge';
import { inMaintenance } from '@mesura/core/protection/device';
import { arcLines, clearedBy, isOver, type ArcLine } from '@mesura/core/arc/table';
import { formatNumber } from '@mesura/core/fields/quantity';
import { networkOf, settingsOf } from '@mesura/core/model/network';
import { ReportButtons } from '../../card/ReportButtons';
import { SortTable } from '../../card/SortTable';
import { useGoToProblem, useGoToSettings } from '../../desk/findings';
import { useProject } from '../../project/ProjectContext';
import { useVersion, useVersions } from '../../desk/versions';
import { useCore } from '../../workers/useCore';
import { ArcCard } from './ArcCard';
import { ClothingTable } from './ClothingTable';
import { arcColumns } from './columns';
import { DirectArcCard } from './DirectArcCard';
import { BoxTable } from './BoxTable';
import { LabelButton } from './LabelButton';
import { LabelSettings } from './LabelSettings';
import { setArc, useArcState, type ArcFilter } from './state';
import { useArc } from './useArc';
import bench from '../../card/bench.module.css';
import { Done } from '../../workers/Done';

const filterTitles: Readonly<Record<ArcFilter, string>> = {
  all: 'all places',
  over: 'above the limit',
  limited: 'not cleared in time',
  outside: 'outside of the model',
  lineSide: 'line sides',
  dc: 'direct current',
  changed: 'changed since the version',
};

/** Every place with the arc that decides. */
export function ArcBench() {
  const network = useProject((state) => state.network);
  const goTo = useGoToProblem();
  const { value, isCurrent, progress, failed } = useArc();
  const { filter, text, compare, maintenance, chosen, version } = useArcState();
  const hasMaintenance = useMemo(() => inMaintenance(network) !== network, [network]);
  const versions = useVersions();
  const { arc } = settingsOf(network);
  const wanted = useDeferredValue(text.trim().toLowerCase());
  const lines = useMemo(() => value && arcLines(network, value), [network, value]);
  const earlier = useEarlier(version);
  const over = (line: ArcLine) => isOver(network, line);
  const passes: Readonly<Record<ArcFilter, (line: ArcLine) => boolean>> = {
    all: () => true,
    over,
    limited: ({ worst }) => worst?.limited === true,
    outside: ({ worst }) => worst?.outside === true,
    lineSide: ({ lineSideOf }) => lineSideOf !== null,
    dc: ({ system }) => system === 'dc',
    changed: ({ key, worst }) => {
      const was = earlier?.get(key);
      return worst
        ? was === undefined || Math.abs(worst.cal - was) > 0.005 * Math.max(was, worst.cal)
        : was !== undefined;
    },
  };
  const rows = (lines ?? []).filter(
    (line) =>
      passes[filter](line) &&
      `${line.name} ${clearedBy(line)} ${line.worst?.conditionName ?? ''}`.toLowerCase().includes(wanted),
  );
  const columns = useMemo(() => arcColumns(network, compare, earlier), [network, compare, earlier]);
  const line = lines?.find(({ key }) => key === chosen) ?? null;
  const toSettings = useGoToSettings();
  return (
    <section aria-label="Arc energy">
      <div className={bench.head} style={{ columnGap: 9 }}>
        <h2 className={bench.title}>Arc energy</h2>
        {lines && (
          <span className={bench.muted} role="status" aria-label="Arcs">
            {lines.length} places, {lines.filter(over).length} above {formatNumber(arc.limitCal, 3)} cal/cm²,{' '}
            {lines.filter(passes.limited).length} not cleared in time
          </span>
        )}
        <Done of={progress} label="Playing arcs" />
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
        {versions.length > 0 && (
          <Select
            size="xs"
            w={170}
            aria-label="Compared with"
            placeholder="compare with …"
            clearable
            value={version === null ? null : String(version)}
            data={versions.map(({ revision, name }) => ({ value: String(revision), label: name }))}
            onChange={(next) => setArc({ version: next === null ? null : Number(next) })}
          />
        )}
        <Checkbox
          size="xs"
          label="other edition beside"
          checked={compare}
          onChange={(event) => setArc({ compare: event.currentTarget.checked })}
        />
        {(hasMaintenance || maintenance) && (
          <Checkbox
            size="xs"
            label="maintenance settings on"
            checked={maintenance}
            onChange={(event) => setArc({ maintenance: event.currentTarget.checked })}
          />
        )}
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
      {!lines ? (
        <p className={bench.muted} role="status">
          Playing arcs …
        </p>
      ) : rows.length === 0 ? (
        <p className={bench.muted}>{lines.length === 0 ? 'The network has no busbar.' : 'Nothing of this kind.'}</p>
      ) : (
        <div className={line ? bench.short : undefined} style={{ overflowX: 'auto' }}>
          <SortTable
            label="Arc energy"
            columns={columns}
            rows={rows}
            rowId={({ key }) => key}
            current={isCurrent}
            chosen={chosen}
            onChoose={({ key, lineSideOf, bus }) => {
              setArc({ chosen: key });
              goTo({ severity: 'assumed', code: 'arc.place', message: '', element: lineSideOf ?? bus });
            }}
            rowTitle={({ worst, problems }) => [...problems, ...(worst?.remarks ?? [])].join('; ') || undefined}
          />
        </div>
      )}
      {line?.row.system === 'ac' ? (
        <ArcCard key={line.key} row={line.row.row} isCurrent={isCurrent} />
      ) : line?.row.system === 'dc' ? (
        <DirectArcCard key={line.key} row={line.row.row} isCurrent={isCurrent} />
      ) : (
        <>
          <ClothingTable />
          <LabelSettings />
          {lines?.some(({ system }) => system === 'dc') && <BoxTable />}
        </>
      )}
    </section>
  );
}

/** Energies of a named version of the project, in cal/cm²; null while none is chosen or known. */
function useEarlier(revision: number | null): ReadonlyMap<string, number> | null {
  const version = useVersion(revision);
  const { value } = useCore(version && `arcs of ${version.key}`, async (service, ticket, onProgress) => {
    await service.holdVersion(version!.key, version!.elements);
    return service.arcsOf(version!.key, ticket, onProgress);
  });
  return useMemo(() => {
    if (!version || !value) return null;
    const lines = arcLines(networkOf(version.elements), value);
    return new Map(lines.flatMap(({ key, worst }) => (worst ? [[key, worst.cal] as const] : [])));
  }, [version, value]);
}
