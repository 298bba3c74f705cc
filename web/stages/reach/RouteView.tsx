'use client';

import { useElementSize } from '@mantine/hooks';
import { Table } from '@mantine/core';
import { formatNumber } from '@mesura/core/fields/quantity';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { isSameEnd } from '@mesura/core/reach/circuits';
import type { ReachRow } from '@mesura/core/reach/plan';
import { stepsAlong, type Route, type Step } from '@mesura/core/reach/route';
import { Marks } from '../../plots/Marks';
import { profileScene } from '../../plots/profile';
import type { Paper } from '../../plots/scene';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import { wayOf } from './ways';
import bench from '../../card/bench.module.css';
import plots from '../../plots/plots.module.css';

const sheet = {
  height: 260,
  margin: { top: 10, right: 14, bottom: 42, left: 46 },
  text: 11,
} satisfies Partial<Paper>;

/** Zones that are stored, else those that the rulebook asks for. */
function zonesOf({ relay, zones }: ReachRow) {
  if (relay?.fn && relay.secondary !== null) {
    const { secondary } = relay;
    return relay.fn.zones
      .filter(({ enabled, looks, name }) => enabled && looks !== 'reverse' && name !== 'overreach')
      .map(({ name, reachOhm, delayS }) => ({ zone: Number(name), reachOhm: reachOhm / secondary, timeS: delayS }));
  }
  return zones.flatMap(({ zone, reach, delay }) =>
    reach ? [{ zone, reachOhm: reach.value, timeS: delay?.value ?? 0 }] : [],
  );
}

interface Placed {
  readonly row: ReachRow;
  readonly steps: readonly Step[];
}

/** Relays along a route, in one direction. */
function placed(route: Route, rows: readonly ReachRow[]): Placed[] {
  return route.legs.flatMap(({ end }, leg): Placed[] => {
    const row = rows.find((each) => isSameEnd(each.end, end));
    return row ? [{ row, steps: stepsAlong(route, leg, zonesOf(row)) }] : [];
  });
}

/** Time over distance, by the impedances of the lines alone; both directions. Lines selected on the drawing, one after the other, are the route. */
export function RouteView({ row, rows }: { row: ReachRow; rows: readonly ReachRow[] }) {
  const network = useProject((state) => state.network);
  const selection = useProject((state) => state.selection);
  const picked = selection.filter((id) => network.elements.get(id)?.kind === 'line');
  const lines = picked.length > 1 ? picked : wayOf(row);
  const back = [...lines].reverse();
  const first = picked.length > 1 ? undefined : row.end.terminal;
  const forward = useCore(`way ${lines.join()} ${first}`, (service) => service.wayAlong(lines, first));
  // Back from where it ends: of a single line the other end.
  const last = back.length === 1 && first !== undefined ? 1 - first : undefined;
  const backward = useCore(`way ${back.join()} ${last}`, (service) => service.wayAlong(back, last));
  const { ref, width } = useElementSize();
  const paper: Paper = { ...sheet, width: Math.max(width, 320) };
  const name = (id: ElementId) => nameOf(network.elements.get(id)!);
  if (forward.isCurrent && forward.value === null)
    return <p className={bench.problem}>The lines that are selected do not follow each other.</p>;
  if (!forward.value || !backward.value)
    return (
      <p className={bench.muted} role="status">
        Following the lines …
      </p>
    );
  const ways = [forward.value.route, backward.value.route];
  const titles = [lines.map(name).join(' – '), back.map(name).join(' – ')];
  return (
    <div ref={ref}>
      <p className={bench.muted} style={{ margin: '0 0 6px' }}>
        {picked.length > 1
          ? 'The route is what is selected on the drawing.'
          : 'The own line and the longest that follows. Select lines on the drawing one after the other for another route.'}
      </p>
      {ways.map((route, k) => {
        const relays = placed(route, rows);
        const most = Math.max(0.5, ...relays.flatMap(({ steps }) => steps.map(({ timeS }) => timeS)));
        const { scene } = profileScene(
          {
            lines: relays.map(({ row: of, steps }) => ({
              label: `${of.stationName}, ${of.lineName}`,
              points: steps.flatMap(({ fromKm, toKm, timeS }) => [
                { x: fromKm, y: timeS },
                { x: toKm ?? route.lengthKm, y: timeS },
              ]),
            })),
            x: { extent: { from: 0, to: route.lengthKm }, label: (value) => String(Number(value.toPrecision(4))) },
            y: { extent: { from: 0, to: 1.2 * most }, label: (value) => `${Number(value.toPrecision(3))} s` },
            caption: `km along ${titles[k]}`,
          },
          paper,
        );
        return (
          <section key={titles[k]} aria-label={`Time over distance, ${k === 0 ? 'there' : 'back'}`}>
            <svg
              className={plots.plot}
              height={paper.height}
              viewBox={`0 0 ${paper.width} ${paper.height}`}
              role="img"
              aria-label={`Time over distance along ${titles[k]}`}
            >
              <Marks scene={scene} />
            </svg>
            <Table className={`${bench.table} figures`} aria-label={`Zones along ${titles[k]}`} withRowBorders={false}>
              <tbody>
                {relays.map(({ row: of, steps }) => (
                  <tr key={`${of.end.line}:${of.end.terminal}`}>
                    <td>
                      {of.stationName}, {of.lineName}
                    </td>
                    {steps.map(({ zone, fromKm, toKm, timeS }) => (
                      <td key={zone}>
                        zone {zone}: {formatNumber(fromKm, 3)}–{toKm === null ? 'beyond' : formatNumber(toKm, 3)} km,{' '}
                        {formatNumber(timeS, 3)} s
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </Table>
          </section>
        );
      })}
    </div>
  );
}
