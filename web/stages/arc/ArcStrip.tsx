'use client';

import { useMemo } from 'react';
import { caloriesOf } from '@mesura/core/arc/clothing';
import { decidingCase, spotName, type ArcRow } from '@mesura/core/arc/study';
import { arcLines, clearedBy } from '@mesura/core/arc/table';
import { formatNumber } from '@mesura/core/fields/quantity';
import { isArcLine } from '@mesura/core/limits/arc';
import type { GradingChart } from '@mesura/core/model/chart';
import { settingsOf } from '@mesura/core/model/network';
import type { DeviceElement } from '@mesura/core/protection/device';
import { Chip } from '../../desk/Chip';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import bench from '../../card/bench.module.css';

/** Energies of the busbars whose lines stand on a chart, as stored and with what is under trial. */
export function ArcStrip({ chart, edited }: { chart: GradingChart; edited: ReadonlyMap<string, DeviceElement> }) {
  const network = useProject((state) => state.network);
  const { limitCal } = settingsOf(network).arc;
  const buses = useMemo(
    () => [...new Set(chart.limits.filter(({ line }) => isArcLine(line)).map(({ element }) => element))],
    [chart.limits],
  );
  const tried = useMemo(() => [...edited.values()].filter(({ id }) => network.elements.has(id)), [edited, network]);
  const key = buses.join(' ');
  const stored = useCore<readonly ArcRow[]>(buses.length > 0 ? `arcs at ${key}` : null, (service, ticket, onProgress) =>
    service.arcsTried(buses, [], ticket, onProgress),
  );
  const trial = useCore<readonly ArcRow[]>(
    buses.length > 0 && tried.length > 0
      ? `arcs at ${key} with ${JSON.stringify(tried.map(({ id, functions }) => [id, functions]))}`
      : null,
    (service, ticket, onProgress) => service.arcsTried(buses, tried, ticket, onProgress),
  );
  if (buses.length === 0 || !stored.value) return null;
  const now = tried.length > 0 ? trial.value : stored.value;
  const figures = (row: ArcRow | undefined) =>
    row?.worst
      ? `${formatNumber(caloriesOf(decidingCase(row.worst).energy), 3)} cal/cm², ${formatNumber(decidingCase(row.worst).burnsS, 3)} s`
      : 'no current';
  return (
    <table className={`${bench.table} figures`} aria-label="Arc energy on the chart" style={{ marginTop: 6 }}>
      <tbody>
        {stored.value.map((row) => {
          const next = now?.find(({ spot }) => spot.key === row.spot.key);
          const over = next?.worst && caloriesOf(decidingCase(next.worst).energy) > limitCal;
          return (
            <tr key={row.spot.key}>
              <td>{spotName(network, row.spot)}</td>
              <td className="number">{figures(row)}</td>
              <td className="number">
                {tried.length > 0 && next && <Chip state={over ? 'fail' : 'pass'}>{`tried: ${figures(next)}`}</Chip>}
                {tried.length === 0 && over && <Chip state="fail">above the limit</Chip>}
              </td>
              <td>{clearedBy(arcLines(network, { ac: [next ?? row], dc: [] })[0])}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
