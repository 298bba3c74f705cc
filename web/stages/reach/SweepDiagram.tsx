'use client';

import { useElementSize } from '@mantine/hooks';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { ElementId } from '@mesura/core/model/fields';
import type { SweepLine, SweepPoint } from '@mesura/core/reach/sweep';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { Marks } from '../../plots/Marks';
import { profileScene, type PlottedLine } from '../../plots/profile';
import type { Paper } from '../../plots/scene';
import { useProject } from '../../project/ProjectContext';
import { routePaper } from './RouteDiagram';
import plots from '../../plots/plots.module.css';
import bench from '../../card/bench.module.css';
import { PictureLine } from '../../card/PictureMenu';

/** Runs of places one after the other at which a device does something; a line that is broken would tell a wrong time. */
function runsOf(line: SweepLine): { x: number; y: number }[][] {
  const runs: { x: number; y: number }[][] = [];
  let before: SweepPoint | null = null;
  for (const point of line.points) {
    const { km, timeS, by } = point;
    if (timeS === null) {
      before = null;
      continue;
    }
    if (!before) runs.push([]);
    // Where another zone takes over the time jumps: half-way between the two places.
    else if (before.by !== by) {
      const middle = (before.km + km) / 2;
      runs[runs.length - 1].push({ x: middle, y: before.timeS! }, { x: middle, y: timeS });
    }
    runs[runs.length - 1].push({ x: km, y: timeS });
    before = point;
  }
  return runs;
}

interface Row {
  readonly line: SweepLine;
  readonly fromKm: number | null;
  readonly toKm: number | null;
  readonly startsToKm: number | null;
  readonly quickestS: number | null;
}

const columns: SortColumn<Row>[] = [
  { id: 'device', head: 'Device', text: true, value: ({ line }) => line.name },
  { id: 'by', head: '', text: true, value: ({ line }) => (line.by === 'distance' ? 'distance' : 'overcurrent') },
  { id: 'quickest', head: 'quickest s', digits: 3, value: ({ quickestS }) => quickestS },
  { id: 'from', head: 'trips from km', digits: 3, value: ({ fromKm }) => fromKm },
  { id: 'to', head: 'to km', digits: 3, value: ({ toKm }) => toKm },
  { id: 'starts', head: 'starts to km', digits: 3, value: ({ startsToKm }) => startsToKm },
];

/** Both directions of a route as faults along it are seen: infeed shortens what the impedances promise. */
export function SweepDiagram({
  list,
  lengthKm,
  titles,
}: {
  list: readonly SweepLine[];
  lengthKm: number;
  titles: readonly string[];
}) {
  const select = useProject((state) => state.select);
  const { ref, width } = useElementSize();
  const paper: Paper = { ...routePaper, width: Math.max(width, 320) };
  return (
    <div ref={ref}>
      {[true, false].map((isForward, k) => {
        const own = list.filter((line) => line.isForward === isForward);
        const devices = [...new Set(own.map(({ device }) => device))];
        const times = own.flatMap(({ points }) => points.flatMap(({ timeS }) => timeS ?? []));
        // Inverse curves may take long far out: what is slower than this leaves the picture at its top.
        const most = Math.min(5, Math.max(0.5, ...times));
        const lines = own.flatMap((line): PlottedLine[] =>
          runsOf(line).map((points, r) => ({
            label: line.by === 'distance' ? line.name : `${line.name}, overcurrent`,
            style: devices.indexOf(line.device),
            dash: line.by === 'distance' ? undefined : '2 3',
            isQuiet: r > 0,
            points: points.map(({ x, y }) => ({ x, y: Math.min(y, 1.3 * most) })),
          })),
        );
        const { scene } = profileScene(
          {
            lines,
            x: { extent: { from: 0, to: lengthKm }, label: (value) => String(Number(value.toPrecision(4))) },
            y: { extent: { from: 0, to: 1.2 * most }, label: (value) => `${Number(value.toPrecision(3))} s` },
            caption: isForward ? `km along ${titles[k]}` : `km along ${titles[0]}, looking back`,
          },
          paper,
        );
        const rows = own.map((line): Row => {
          const trips = line.points.filter(({ timeS }) => timeS !== null);
          const starts = line.points.filter(({ starts: each }) => each);
          const kms = trips.map(({ km }) => km);
          return {
            line,
            quickestS: trips.length > 0 ? Math.min(...trips.map(({ timeS }) => timeS!)) : null,
            fromKm: kms.length > 0 ? Math.min(...kms) : null,
            toKm: kms.length > 0 ? Math.max(...kms) : null,
            startsToKm: starts.length > 0 ? (isForward ? starts[starts.length - 1].km : starts[0].km) : null,
          };
        });
        return (
          <section key={titles[k]} aria-label={`Faults along the route, ${isForward ? 'there' : 'back'}`}>
            {own.length === 0 ? (
              <p className={bench.muted}>Nothing looks {isForward ? 'along the route' : 'back along it'}.</p>
            ) : (
              <>
                <svg
                  className={plots.plot}
                  height={paper.height}
                  viewBox={`0 0 ${paper.width} ${paper.height}`}
                  role="img"
                  aria-label={`Time until a trip for faults along ${titles[0]}, ${isForward ? 'there' : 'back'}`}
                >
                  <Marks scene={scene} />
                </svg>
                <PictureLine name={`Times along ${titles[0]}, ${isForward ? 'there' : 'back'}`} scene={scene} />
                <SortTable
                  label={`Devices ${isForward ? 'along' : 'against'} the route`}
                  columns={columns}
                  rows={rows}
                  rowId={({ line }) => `${line.device} ${line.by} ${line.end.line}`}
                  current
                  onChoose={({ line }) => select([line.device as ElementId])}
                  rowTitle={({ line }) => zonesText(line)}
                />
              </>
            )}
          </section>
        );
      })}
      <p className={bench.muted}>Broken lines: overcurrent. A click selects the device on the drawing.</p>
    </div>
  );
}

/** "1 to 25.3 km, 2 to 38.1 km". */
function zonesText({ points }: SweepLine): string {
  const ends = new Map<string, number>();
  for (const { by, km } of points) if (by !== '') ends.set(by, km);
  return [...ends].map(([by, km]) => `${by} to ${formatNumber(km, 3)} km`).join(', ');
}
