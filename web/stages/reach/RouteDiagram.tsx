'use client';

import { useState, type KeyboardEvent, type PointerEvent } from 'react';
import { Table } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { DistanceFunction } from '@mesura/core/protection/distance/schema';
import { snap } from '@mesura/core/protection/settings/range';
import { isSameEnd } from '@mesura/core/reach/circuits';
import type { ReachRow } from '@mesura/core/reach/plan';
import { kmAt, ohmAt, stepsAlong, type Route, type Step } from '@mesura/core/reach/route';
import { Marks } from '../../plots/Marks';
import { profileScene } from '../../plots/profile';
import type { Paper } from '../../plots/scene';
import { useStoreFunction, type Change } from '../../desk/useStoreFunction';
import { useProject } from '../../project/ProjectContext';
import { setReach } from './state';
import { keyOfRow } from './ways';
import bench from '../../card/bench.module.css';
import plots from '../../plots/plots.module.css';

export const routePaper = {
  height: 250,
  margin: { top: 10, right: 14, bottom: 42, left: 46 },
  text: 11,
} satisfies Partial<Paper>;

interface Zone {
  readonly zone: number;
  readonly reachOhm: number;
  readonly timeS: number;
}

/** Zones that are stored, else those that the rulebook asks for. */
function zonesOf({ relay, zones }: ReachRow, fn: DistanceFunction | null): Zone[] {
  if (fn && relay?.secondary) {
    const { secondary } = relay;
    return fn.zones
      .filter(({ enabled, looks, name }) => enabled && looks !== 'reverse' && name !== 'overreach')
      .map(({ name, reachOhm, delayS }) => ({ zone: Number(name), reachOhm: reachOhm / secondary, timeS: delayS }));
  }
  return zones.flatMap(({ zone, reach, delay }) =>
    reach ? [{ zone, reachOhm: reach.value, timeS: delay?.value ?? 0 }] : [],
  );
}

interface Placed {
  readonly row: ReachRow;
  readonly leg: number;
  readonly zones: readonly Zone[];
  readonly steps: readonly Step[];
}

interface Held {
  readonly row: string;
  readonly change: Change<DistanceFunction>;
}

/** One direction of a route by impedance. The end of a stored zone is a handle: along for its reach, up and down for its delay. */
export function RouteDiagram({
  route,
  rows,
  title,
  way,
}: {
  route: Route;
  rows: readonly ReachRow[];
  title: string;
  way: 'there' | 'back';
}) {
  const storeFunction = useStoreFunction();
  const select = useProject((state) => state.select);
  const { ref, width } = useElementSize();
  const [held, setHeld] = useState<Held | null>(null);
  const paper: Paper = { ...routePaper, width: Math.max(width, 320) };
  const fnOf = ({ relay, ...row }: ReachRow) => {
    const fn = relay?.fn ?? null;
    return fn && held?.row === keyOfRow(row) ? held.change(fn) : fn;
  };
  const placed = route.legs.flatMap(({ end }, leg): Placed[] => {
    const row = rows.find((each) => isSameEnd(each.end, end));
    if (!row) return [];
    const zones = zonesOf(row, fnOf(row));
    return [{ row, leg, zones, steps: stepsAlong(route, leg, zones) }];
  });
  // By what is stored: the axes stay while a zone is held.
  const most = Math.max(
    0.5,
    ...placed.flatMap(({ row }) => zonesOf(row, row.relay?.fn ?? null).map(({ timeS }) => timeS)),
  );
  const { x, y, scene } = profileScene(
    {
      lines: placed.map(({ row, steps }) => ({
        label: `${row.stationName}, ${row.lineName}`,
        points: steps.flatMap(({ fromKm, toKm, timeS }) => [
          { x: fromKm, y: timeS },
          { x: toKm ?? route.lengthKm, y: timeS },
        ]),
      })),
      x: { extent: { from: 0, to: route.lengthKm }, label: (value) => String(Number(value.toPrecision(4))) },
      y: { extent: { from: 0, to: 1.2 * most }, label: (value) => `${Number(value.toPrecision(3))} s` },
      caption: `km along ${title}`,
    },
    paper,
  );
  const moved = (fn: DistanceFunction, zone: number, reachOhm: number | null, delayS: number | null) => ({
    ...fn,
    zones: fn.zones.map((each) => {
      if (each.name !== String(zone)) return each;
      const reach = reachOhm === null ? each.reachOhm : snap(fn.ranges.ohm, reachOhm);
      const delay = delayS === null ? each.delayS : snap(fn.ranges.delayS, Math.max(0, delayS));
      // Earth loops keep their share of the reach and their distance in time.
      const share = each.reachOhm > 0 ? reach / each.reachOhm : 1;
      const earth = share === 1 ? each.reachEarthOhm : snap(fn.ranges.ohm, each.reachEarthOhm * share);
      const later = Math.max(0, each.delayEarthS + delay - each.delayS);
      const delayEarthS = delay === each.delayS ? each.delayEarthS : snap(fn.ranges.delayS, later);
      return { ...each, reachOhm: reach, reachEarthOhm: earth, delayS: delay, delayEarthS };
    }),
  });
  const store = (row: ReachRow, change: Change<DistanceFunction>, zone: number) =>
    storeFunction(
      { device: row.relay!.device.id, function: row.relay!.fn!.id },
      change,
      `${row.relay!.device.name}: zone ${zone} moved`,
    );
  const open = (row: ReachRow) => {
    setReach({ view: 'reaches', end: keyOfRow(row), station: row.station });
    if (row.relay) select([row.relay.device.id]);
  };
  return (
    <section aria-label={`Time over distance, ${way}`} ref={ref}>
      <svg
        className={plots.plot}
        height={paper.height}
        viewBox={`0 0 ${paper.width} ${paper.height}`}
        role="group"
        aria-label={`Time over distance along ${title}`}
      >
        <Marks scene={scene} />
        {placed.flatMap(({ row, leg, zones }) => {
          const fn = fnOf(row);
          const secondary = row.relay?.secondary ?? null;
          if (!fn || secondary === null) return [];
          return zones.map(({ zone, reachOhm, timeS }) => {
            const km = kmAt(route, leg, reachOhm) ?? route.lengthKm;
            const label = `Zone ${zone} of ${row.relay!.device.name}, ${formatNumber(reachOhm, 4)} Ω, ${formatNumber(timeS, 3)} s`;
            const drag = (event: PointerEvent<SVGCircleElement>): Change<DistanceFunction> => {
              const box = event.currentTarget.ownerSVGElement!.getBoundingClientRect();
              const scale = paper.width / box.width;
              const at = { x: (event.clientX - box.left) * scale, y: (event.clientY - box.top) * scale };
              const along = Math.min(Math.max(x.valueAt(at.x), 0), route.lengthKm);
              const isBeyond = along >= route.lengthKm - 1e-6;
              const ohm = ohmAt(route, leg, along) * secondary;
              const timeS = y.valueAt(at.y);
              return (now) => moved(now, zone, isBeyond || ohm < now.ranges.ohm.min ? null : ohm, timeS);
            };
            const step = (event: KeyboardEvent) => {
              const many = event.shiftKey ? 10 : 1;
              const reaches: Record<string, number> = { ArrowLeft: -many, ArrowRight: many };
              const delays: Record<string, number> = { ArrowDown: -many, ArrowUp: many };
              if (event.key === 'Enter') return open(row);
              if (!(event.key in reaches) && !(event.key in delays)) return;
              event.preventDefault();
              const stepped = (now: DistanceFunction) => {
                const own = now.zones.find(({ name }) => name === String(zone));
                const { ohm, delayS } = now.ranges;
                return own
                  ? moved(
                      now,
                      zone,
                      event.key in reaches ? own.reachOhm + reaches[event.key] * ohm.step : null,
                      event.key in delays ? own.delayS + delays[event.key] * delayS.step : null,
                    )
                  : now;
              };
              store(row, stepped, zone);
            };
            return (
              <circle
                key={`${keyOfRow(row)} ${zone}`}
                cx={x.at(km)}
                cy={y.at(timeS)}
                r={6}
                fill="var(--m-panel)"
                stroke="var(--m-accent)"
                strokeWidth={1.6}
                style={{ cursor: 'grab', touchAction: 'none' }}
                tabIndex={0}
                role="button"
                aria-label={label}
                onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
                onPointerMove={(event) => {
                  if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
                  setHeld({ row: keyOfRow(row), change: drag(event) });
                }}
                onPointerUp={(event) => {
                  event.currentTarget.releasePointerCapture(event.pointerId);
                  if (held?.row === keyOfRow(row)) store(row, held.change, zone);
                  setHeld(null);
                }}
                onPointerCancel={() => setHeld(null)}
                onDoubleClick={() => open(row)}
                onKeyDown={step}
              >
                <title>{`${label}. Drag, or arrow keys; Enter opens its relay.`}</title>
              </circle>
            );
          });
        })}
      </svg>
      <Table className={`${bench.table} figures`} aria-label={`Zones along ${title}`} withRowBorders={false}>
        <tbody>
          {placed.map(({ row, steps }) => (
            <tr key={keyOfRow(row)}>
              <td>
                <button type="button" className={bench.sort} onClick={() => open(row)}>
                  {row.stationName}, {row.lineName}
                </button>
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
}
