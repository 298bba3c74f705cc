'use client';

import { useMemo } from 'react';
import { Button, Checkbox, SegmentedControl, Select } from '@mantine/core';
import { bookOf } from '@mesura/core/rules/book';
import { isOfLineEnd } from '@mesura/core/rules/names';
import { plainPractice } from '@mesura/core/rules/plainPractice';
import type { ReachRow } from '@mesura/core/reach/plan';
import { report } from '../../desk/report';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import { setReach, useReachState, type ReachView } from './state';
import { CoverageView } from './CoverageView';
import { PackageView } from './package/PackageView';
import { PlaneView } from './PlaneView';
import { ReachTable } from './ReachTable';
import { RouteView } from './RouteView';
import { keyOfRow } from './ways';
import bench from '../../card/bench.module.css';

const titles: Readonly<Record<ReachView, string>> = {
  reaches: 'Reaches',
  plane: 'R–X plane',
  route: 'Route',
  coverage: 'Coverage',
  package: 'Package',
};

/** Zones of distance protection at the ends of lines: by rule, in the plane of impedance, along a route. */
export function ReachBench() {
  const { view, merged, fromKv, end } = useReachState();
  const { value, isCurrent, failed } = useCore<readonly ReachRow[]>(
    `reaches ${merged} ${fromKv}`,
    (service, ticket, onProgress) => service.reaches({ merged, fromKv }, ticket, onProgress),
  );
  const levels = useMemo(
    () => [...new Set(value?.map(({ nominalKv }) => nominalKv) ?? [])].sort((p, q) => p - q),
    [value],
  );
  const chosen = value?.find((row) => keyOfRow(row) === end) ?? value?.[0] ?? null;
  return (
    <section aria-label="Reach">
      <div className={bench.head}>
        <SegmentedControl
          size="xs"
          aria-label="View"
          value={view}
          onChange={(next) => setReach({ view: next as ReachView })}
          data={Object.entries(titles).map(([each, label]) => ({ value: each, label }))}
        />
        {view === 'reaches' || !chosen ? (
          <>
            <Select
              size="xs"
              w={130}
              aria-label="Voltage levels"
              allowDeselect={false}
              value={String(fromKv)}
              data={[...new Set([1, 10, 50, 200, fromKv, ...levels])]
                .sort((p, q) => p - q)
                .map((kv) => ({ value: String(kv), label: `from ${kv} kV on` }))}
              onChange={(kv) => setReach({ fromKv: Number(kv) })}
            />
            <Checkbox
              size="xs"
              label="parallel lines as one"
              checked={merged}
              onChange={(event) => setReach({ merged: event.currentTarget.checked })}
            />
          </>
        ) : (
          <Select
            size="xs"
            w={220}
            searchable
            aria-label="Line end"
            allowDeselect={false}
            value={keyOfRow(chosen)}
            data={value!.map((row) => ({ value: keyOfRow(row), label: `${row.stationName}, ${row.lineName}` }))}
            onChange={(key) => setReach({ end: key, km: 0 })}
          />
        )}
      </div>
      <NoZones />
      {failed && <p className={bench.problem}>{failed}</p>}
      {!value ? (
        <p className={bench.muted} role="status">
          Finding lines …
        </p>
      ) : value.length === 0 ? (
        <p className={bench.muted}>No line of this voltage ends at a busbar.</p>
      ) : view === 'reaches' ? (
        <ReachTable rows={value} isCurrent={isCurrent} />
      ) : (
        chosen && (
          <>
            {view === 'plane' ? (
              <PlaneView row={chosen} rows={value} />
            ) : view === 'route' ? (
              <RouteView row={chosen} rows={value} />
            ) : view === 'coverage' ? (
              <CoverageView row={chosen} rows={value} />
            ) : (
              <PackageView row={chosen} />
            )}
          </>
        )
      )}
    </section>
  );
}

/** A rulebook that says nothing of zones or of the protection of lines, as those do that were begun before there were any. */
function NoZones() {
  const network = useProject((state) => state.network);
  const commit = useProject((state) => state.commit);
  const book = bookOf(network);
  const spoken = new Set(book.rules.map(({ subject }) => subject));
  const known = new Set(book.rules.map(({ id }) => id));
  const missing = plainPractice.rules.filter(
    ({ subject, id, enabled }) => enabled && isOfLineEnd(subject) && !spoken.has(subject) && !known.has(id),
  );
  if (missing.length === 0) return null;
  const isOfZones = missing.some(({ subject }) => subject.startsWith('zone'));
  const add = () =>
    report(
      commit(
        [{ op: 'update', element: { ...book, rules: [...book.rules, ...missing] } }],
        `${book.name}: rules about the protection of lines`,
      ),
    );
  return (
    <p className={bench.problem} role="status">
      {book.name} says nothing of {isOfZones ? 'zones' : 'what stands beside the zones of a line'}.{' '}
      <Button size="compact-xs" variant="light" onClick={add}>
        Take those of plain practice
      </Button>
    </p>
  );
}
