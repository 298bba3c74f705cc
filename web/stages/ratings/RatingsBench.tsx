'use client';

import { useDeferredValue, useMemo } from 'react';
import { Button, Checkbox, SegmentedControl, TextInput } from '@mantine/core';
import {
  isRatingCheck,
  ratingsOf,
  ratingTableTitles,
  unknownRatings,
  type RatingCheck,
} from '@mesura/core/checks/ratings';
import { nameOf } from '@mesura/core/model/element';
import { settingsOf } from '@mesura/core/model/network';
import { CheckCard } from '../../card/CheckCard';
import { ReportButtons } from '../../card/ReportButtons';
import { SortTable } from '../../card/SortTable';
import { useChecks, useGoToField, useGoToSettings } from '../../desk/findings';
import { useProject } from '../../project/ProjectContext';
import { ratingColumns, unknownColumns } from './columns';
import { setRatings, useRatingsState, type RatingsView } from './state';
import bench from '../../card/bench.module.css';
import { Done } from '../../workers/Done';

/** Every device and conductor against its duty, the worst condition named. */
export function RatingsBench() {
  const network = useProject((state) => state.network);
  const select = useProject((state) => state.select);
  const { value, isCurrent, progress } = useChecks();
  const { view, filter, onlyDoubtful, check } = useRatingsState();
  const checks = value?.checks;
  const rated = useMemo(() => (checks ?? []).filter(isRatingCheck), [checks]);
  const unknown = useMemo(() => unknownRatings(network), [network]);
  const wanted = useDeferredValue(filter.trim().toLowerCase());
  const rows = useMemo(
    () =>
      view === 'unknown'
        ? []
        : ratingsOf(rated, view).filter(
            (each) =>
              (!onlyDoubtful || each.verdict !== 'holds') &&
              `${nameOf(network.elements.get(each.subject)!)} ${each.title} ${each.duty.standard}`
                .toLowerCase()
                .includes(wanted),
          ),
    [rated, view, onlyDoubtful, wanted, network],
  );
  const columns = useMemo(() => (view === 'unknown' ? [] : ratingColumns(network, view)), [network, view]);
  const chosen = rows.find(({ id }) => id === check) ?? null;
  const count = (verdict: RatingCheck['verdict']) => rated.filter((each) => each.verdict === verdict).length;
  const goToField = useGoToField();
  return (
    <section aria-label="Ratings">
      <div className={bench.head} style={{ columnGap: 9 }}>
        <h2 className={bench.title}>Ratings</h2>
        {checks && (
          <span className={bench.muted} role="status" aria-label="Verdicts">
            {count('holds')} OK, {count('doubtful')} marginal, {count('short')} not met
          </span>
        )}
        <Done of={progress} label="Checking" />
        <span className={bench.spacer} />
        <ReportButtons request={{ study: 'ratings' }} />
      </div>
      <div className={bench.head}>
        <SegmentedControl
          size="xs"
          aria-label="Summary"
          value={view}
          onChange={(next) => setRatings({ view: next as RatingsView, check: null })}
          data={[
            { value: 'making', label: 'Making' },
            { value: 'breaking', label: 'Breaking' },
            { value: 'thermal', label: 'Short-time' },
            { value: 'unknown', label: `Not known (${unknown.length})` },
          ]}
        />
        {view !== 'unknown' && (
          <>
            <TextInput
              size="xs"
              w={150}
              placeholder="Filter"
              aria-label="Filter the ratings"
              value={filter}
              onChange={(event) => setRatings({ filter: event.currentTarget.value })}
            />
            <Checkbox
              size="xs"
              label="only marginal and not met"
              checked={onlyDoubtful}
              onChange={(event) => setRatings({ onlyDoubtful: event.currentTarget.checked })}
            />
          </>
        )}
      </div>
      <Basis />
      {view === 'unknown' ? (
        <>
          <p className={bench.muted}>
            {unknown.length === 0
              ? 'All ratings are known.'
              : 'Nothing of these is checked until the nameplate is entered.'}
          </p>
          {unknown.length > 0 && (
            <SortTable
              label="Ratings that are not known"
              columns={unknownColumns}
              rows={unknown}
              rowId={({ element }) => element}
              current
              onChoose={({ element }) => goToField(element, 'shortTimeKa')}
            />
          )}
        </>
      ) : (
        <>
          <div className={chosen ? bench.short : undefined}>
            <SortTable
              label={ratingTableTitles[view]}
              columns={columns}
              rows={rows}
              rowId={({ id }) => id}
              current={isCurrent}
              chosen={check}
              onChoose={({ id, subject }) => {
                setRatings({ check: id });
                select([subject]);
              }}
              rowTitle={({ message }) => message}
            />
          </div>
          {checks && rows.length === 0 && (
            <p className={bench.muted}>
              {filter || onlyDoubtful ? 'Nothing of this kind.' : 'No rating of this kind is entered yet.'}
            </p>
          )}
        </>
      )}
      {chosen && <CheckCard check={chosen} />}
    </section>
  );
}

/** What the duties are found by. */
function Basis() {
  const { duty, clearing, clearingS, warnPercent, failPercent } = useProject(
    (state) => settingsOf(state.network).ratingLimits,
  );
  const toSettings = useGoToSettings();
  return (
    <p className={bench.muted} style={{ margin: '0 0 6px' }}>
      Over all conditions · {duty === 'through' ? 'current through the device' : 'whole current at the place'} ·{' '}
      {clearing === 'protection' ? `until the protection clears, else ${clearingS} s` : `${clearingS} s`} · marginal
      from {warnPercent} %, not met above {failPercent} %{' '}
      <Button size="compact-xs" variant="subtle" onClick={() => toSettings('ratingLimits.duty')}>
        Change
      </Button>
    </p>
  );
}
