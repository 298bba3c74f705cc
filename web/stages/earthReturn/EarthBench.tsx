'use client';

import { useMemo } from 'react';
import { SegmentedControl, Select } from '@mantine/core';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { EarthRow } from '@mesura/core/earthReturn/study';
import { nameIn, type Network } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import { ReportButtons } from '../../card/ReportButtons';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { Chip } from '../../desk/Chip';
import { useGoToProblem } from '../../desk/findings';
import { useProject } from '../../project/ProjectContext';
import { AlongView } from './AlongView';
import { EarthingForm } from './EarthingForm';
import { EarthSettingsForm } from './EarthSettingsForm';
import { FaultCard } from './FaultCard';
import { LinePaths } from './LinePaths';
import { lookInto, setEarth, useEarthState, type EarthView } from './state';
import { StudiesView } from './StudiesView';
import { useEarth, useWorst } from './useEarth';
import bench from '../../card/bench.module.css';
import { Done } from '../../workers/Done';

const viewTitles: Readonly<Record<EarthView, string>> = {
  stations: 'Stations',
  along: 'Faults along a line',
  lines: 'Towers and cables',
  studies: 'Without network',
};

/** What of earth fault currents goes into the grids of stations, and how far potentials rise. */
export function EarthBench() {
  const { view, kind } = useEarthState();
  const { value, progress, failed } = useEarth();
  const worst = useWorst(value);
  const rows = [...worst.values()];
  const toShow = rows.filter(({ figures }) => figures?.verdict === 'prove').length;
  return (
    <section aria-label="Earth return">
      <div className={bench.head}>
        <h2 className={bench.title}>Earth return</h2>
        {value && (
          <span className={bench.muted} role="status" aria-label="Earth return, in short">
            {rows.length} places, {toShow} where touch voltages are to be shown
          </span>
        )}
        <Done of={progress} label="Computing currents through earth" />
        <span className={bench.spacer} />
        <ReportButtons request={{ study: 'earthReturn', kind }} />
      </div>
      <div className={bench.head}>
        <SegmentedControl
          size="xs"
          aria-label="Shown"
          value={view}
          onChange={(next) => setEarth({ view: next as EarthView })}
          data={Object.entries(viewTitles).map(([each, label]) => ({ value: each, label }))}
        />
        {(view === 'stations' || view === 'along') && (
          <Select
            size="xs"
            w={160}
            aria-label="Fault"
            allowDeselect={false}
            value={kind}
            data={[
              { value: '1ph', label: 'single-phase' },
              { value: '2phE', label: 'two-phase to earth' },
            ]}
            onChange={(next) => setEarth({ kind: next as typeof kind })}
          />
        )}
      </div>
      {failed && <p className={bench.problem}>{failed}</p>}
      {view === 'stations' ? (
        <Stations />
      ) : view === 'along' ? (
        <AlongView />
      ) : view === 'lines' ? (
        <LinePaths />
      ) : (
        <StudiesView />
      )}
    </section>
  );
}

/** More names than this are no list that anybody reads. */
const mostNamed = 12;

function Stations() {
  const network = useProject((state) => state.network);
  const { value, isCurrent } = useEarth();
  const worst = useWorst(value);
  const place = useEarthState((state) => state.place);
  const goTo = useGoToProblem();
  const columns = useMemo(() => stationColumns(network), [network]);
  if (!value)
    return (
      <p className={bench.muted} role="status">
        Computing …
      </p>
    );
  const rows = [...worst.values()];
  return (
    <>
      <EarthSettingsForm />
      {rows.length === 0 ? (
        <p className={bench.muted}>
          {value.without.length > 0
            ? 'Give the earthing of the stations that are to be looked at.'
            : 'No line ends in any station: there is nothing that current could return along.'}
        </p>
      ) : (
        <div className={place ? bench.short : undefined} style={{ overflowX: 'auto' }}>
          <SortTable
            label="Stations"
            columns={columns}
            rows={rows}
            rowId={({ bus }) => bus}
            current={isCurrent}
            chosen={place?.at === 'bus' ? place.bus : null}
            onChoose={({ bus }) => {
              goTo({ severity: 'assumed', code: 'earthReturn.place', message: '', element: bus });
              lookInto({ at: 'bus', bus });
            }}
          />
        </div>
      )}
      {value.without.length > 0 && (
        <p className={bench.muted} style={{ margin: '6px 0' }}>
          The earthing is not given of{' '}
          {value.without.slice(0, mostNamed).map(({ bus }, k) => (
            <span key={bus}>
              {k > 0 && ', '}
              <button
                type="button"
                className={bench.sort}
                style={{ color: 'var(--m-accent)' }}
                onClick={() => lookInto({ at: 'bus', bus })}
              >
                {nameIn(network, bus)}
              </button>
            </span>
          ))}
          {value.without.length > mostNamed &&
            ` and ${value.without.length - mostNamed} more: click their busbars on the drawing`}
          .
        </p>
      )}
      {place?.at === 'bus' && <EarthingForm bus={place.bus} />}
      {place && <FaultCard />}
    </>
  );
}

function stationColumns(network: Network): SortColumn<EarthRow>[] {
  const figure = (
    id: string,
    head: string,
    title: string,
    of: (figures: NonNullable<EarthRow['figures']>) => number | null,
    digits = 4,
  ): SortColumn<EarthRow> => ({ id, head, title, digits, value: ({ figures }) => figures && of(figures) });
  return [
    {
      id: 'bus',
      head: 'Busbar',
      text: true,
      width: 110,
      value: ({ bus }) => nameIn(network, bus),
      cell: ({ bus, problem }) => (
        <>
          {nameIn(network, bus)} {problem && <Chip state="fail">{problem}</Chip>}
        </>
      ),
    },
    figure('lines', '3I0 A', 'What the lines bring of the fault current', ({ linesA }) => linesA),
    figure('grid', 'IG A', 'Into the earthing of the station', ({ gridA }) => gridA),
    figure('split', '%', 'Split factor: of what the lines bring', ({ split }) => 100 * split, 3),
    {
      id: 'rise',
      head: 'UE V',
      title: 'Earth potential rise of the station',
      digits: 4,
      value: ({ figures }) => figures?.riseV ?? null,
      cell: ({ figures }) => figures && <Rise figures={figures} />,
    },
    figure('limit', 'met to V', 'Up to this rise nothing more is to be shown', ({ touch }) => touch.metV, 3),
    { id: 'time', head: 't s', title: 'How long the fault lasts', digits: 3, value: ({ time }) => time.timeS },
    {
      id: 'by',
      head: 'Cleared by',
      text: true,
      width: 96,
      value: ({ time }) =>
        time.device ? nameIn(network, time.device) : time.by === 'chosen' ? 'as chosen' : 'nothing clears',
    },
    figure('tower', 'tower V', 'Highest potential of a tower', ({ worstTower }) => worstTower?.volts ?? null, 3),
    {
      id: 'hot',
      head: 'wire %',
      title: 'Of what the wire bears that is loaded most, IEC 60949',
      digits: 3,
      value: ({ figures }) => (figures?.hottest ? (100 * figures.hottest.ampere) / figures.hottest.borneA : null),
      cell: ({ figures }) => {
        if (!figures?.hottest) return '';
        const { ampere, borneA } = figures.hottest;
        const shown = formatNumber((100 * ampere) / borneA, 3);
        return ampere > borneA ? <Chip state="fail">{shown}</Chip> : shown;
      },
    },
    {
      id: 'condition',
      head: 'Condition',
      text: true,
      width: 120,
      value: ({ condition }) => conditionOf(network, condition)?.name ?? '',
    },
  ];
}

export function Rise({ figures: { riseV, verdict } }: { figures: NonNullable<EarthRow['figures']> }) {
  const shown = formatNumber(riseV, 4);
  return verdict === 'met' ? shown : <Chip state={verdict === 'prove' ? 'fail' : 'warn'}>{shown}</Chip>;
}
