'use client';

import { Checkbox, SegmentedControl, Slider } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { formatNumber } from '@mesura/core/fields/quantity';
import { add, magnitude, type Complex } from '@mesura/core/linear/complex';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import type { ReachRow } from '@mesura/core/reach/plan';
import type { DistanceFunction } from '@mesura/core/protection/distance/schema';
import { isSameEnd, otherEnd } from '@mesura/core/reach/circuits';
import { loadAngleDeg } from '@mesura/core/reach/loadability';
import { movedRegions, proposedRegions, storedRegions, type TrackPoint } from '@mesura/core/reach/region';
import type { Route } from '@mesura/core/reach/route';
import { swingPath, type Swing } from '@mesura/core/reach/swing';
import { useState } from 'react';
import { Marks } from '../../plots/Marks';
import { impedanceScene, type PlottedRegion } from '../../plots/impedance';
import type { Paper } from '../../plots/scene';
import { PictureMenu } from '../../card/PictureMenu';
import { useStoreFunction, type Change } from '../../desk/useStoreFunction';
import { PlaneHandles } from './PlaneHandles';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import { ConditionField, KindField, ResistanceFields } from './FaultFields';
import { setReach, useReachState } from './state';
import { wayOf } from './ways';
import bench from '../../card/bench.module.css';
import plots from '../../plots/plots.module.css';

const sheet = {
  height: 430,
  margin: { top: 10, right: 14, bottom: 42, left: 46 },
  text: 11,
} satisfies Partial<Paper>;

/** Loops that lie on each other share a dot. */
function together(loops: TrackPoint['loops']) {
  const places = new Map<string, { at: { x: number; y: number }; label: string; ink: 'fail' }>();
  for (const { name, ohm } of loops) {
    const key = `${ohm.re.toFixed(2)} ${ohm.im.toFixed(2)}`;
    const before = places.get(key);
    places.set(key, {
      at: { x: ohm.re, y: ohm.im },
      label: before ? `${before.label}, ${name}` : name,
      ink: 'fail',
    });
  }
  return [...places.values()];
}

/** Zones of one line end, its lines, and the loops of a fault that moves along them. */
export function PlaneView({ row, rows }: { row: ReachRow; rows: readonly ReachRow[] }) {
  const network = useProject((state) => state.network);
  const { kind, resistance, km, arc } = useReachState();
  const [loops, setLoops] = useState<'phase' | 'earth'>('phase');
  const [condition, setCondition] = useState('maximum');
  const [withSwing, setSwing] = useState(false);
  const [withOthers, setOthers] = useState(false);
  const [held, setHeld] = useState<{ readonly change: Change<DistanceFunction> } | null>(null);
  const storeFunction = useStoreFunction();
  const { ref, width } = useElementSize();
  const paper: Paper = { ...sheet, width: Math.max(width, 320) };
  const lines = wayOf(row);
  const isEarth = loops === 'earth';
  const way = useCore(`way ${lines.join()} ${row.end.terminal}`, (service) =>
    service.wayAlong(lines, row.end.terminal),
  );
  const phaseOhm = kind === '2ph' ? resistance / 2 : kind === '3ph' ? resistance : 0;
  const earthOhm = kind === '1ph' || kind === '2phE' ? resistance : 0;
  const track = useCore<readonly TrackPoint[]>(
    JSON.stringify(['loops', row.end, lines, kind, resistance, arc, condition]),
    (service, ticket, onProgress) =>
      service.loopsAlong(
        {
          end: row.end,
          lines,
          kind,
          phaseOhm,
          earthOhm,
          arc,
          state: { condition: condition as never },
          k0: row.k0 ?? { re: 0, im: 0 },
        },
        ticket,
        onProgress,
      ),
  );
  const { relay } = row;
  const swing = useCore<Swing | null>(withSwing ? JSON.stringify(['swing', row.end, condition]) : null, (service) =>
    service.swing(row.end, condition as ElementId),
  );
  const plotted = (list: ReturnType<typeof proposedRegions>, dash?: string): PlottedRegion[] =>
    list.map(({ zone, outline }) => ({
      label: zone === 'overreach' ? 'over' : zone,
      outline: outline.map(({ re, im }) => ({ x: re, y: im })),
      style: (Number(zone) || 6) - 1,
      dash,
    }));
  // While a zone is held it is drawn where it would come to lie; as stored it stays as a ghost.
  const known = relay?.fn ?? null;
  const fn = held && known ? held.change(known) : known;
  const stored = fn && relay && relay.secondary !== null ? storedRegions(fn, relay.secondary, isEarth) : null;
  const ghosts = held && relay?.fn && relay.secondary !== null ? storedRegions(relay.fn, relay.secondary, isEarth) : [];
  const others = withOthers && way.value ? regionsAlong(way.value.route, rows, row, isEarth) : [];
  const proposed = proposedRegions(row, isEarth);
  const points = track.value ?? [];
  const names = [...new Set(points.flatMap(({ loops: of }) => of.map(({ name }) => name)))];
  const lengthKm = way.value?.route.lengthKm ?? 0;
  const near = points.length > 0 ? points.reduce((p, q) => (Math.abs(q.km - km) < Math.abs(p.km - km) ? q : p)) : null;
  const { x, y, scene } = impedanceScene(
    {
      regions: [
        ...(held ? plotted(ghosts, '2 4') : plotted(proposed, stored ? '5 4' : undefined)),
        ...others.flatMap(({ regions, style }) => plotted(regions, '8 3').map((each) => ({ ...each, style }))),
        // The axes stay while a zone is held.
        ...(stored ? plotted(stored).map((each) => ({ ...each, isAside: held !== null })) : []),
      ],
      ways: [
        {
          label: 'lines',
          points: (way.value?.ohm ?? []).map(({ re, im }) => ({ x: re, y: im })),
          ink: 'ink',
        },
        ...loadWays(row),
        ...(swing.value
          ? [
              {
                label: 'swing',
                points: swingPath(swing.value).map(({ ohm }) => ({ x: ohm.re, y: ohm.im })),
                ink: 'muted' as const,
                dash: '1 4',
                isAside: true,
              },
            ]
          : []),
        ...names.map((name) => ({
          label: name,
          points: points.flatMap(({ loops: of }) => {
            const loop = of.find((each) => each.name === name);
            return loop ? [{ x: loop.ohm.re, y: loop.ohm.im }] : [];
          }),
          ink: 'accent' as const,
          dash: '3 3',
        })),
      ],
      dots: [
        ...together(near?.loops ?? []),
        ...(swing.value ? swingDots(swing.value) : []),
        ...others.map(({ at, name }) => ({ at: { x: at.re, y: at.im }, label: name, ink: 'muted' as const })),
      ],
      caption: 'R in Ω, X in Ω, primary',
    },
    paper,
  );
  const place = near && network.elements.get(near.line);
  return (
    <>
      <div className={bench.head}>
        <SegmentedControl
          size="xs"
          aria-label="Loops"
          value={loops}
          onChange={(value) => setLoops(value as 'phase' | 'earth')}
          data={[
            { value: 'phase', label: 'phase loops' },
            { value: 'earth', label: 'earth loops' },
          ]}
        />
        <KindField />
        <ResistanceFields />
        <ConditionField value={condition} onChange={setCondition} />
        <Checkbox
          size="xs"
          label="swing"
          checked={withSwing}
          onChange={(event) => setSwing(event.currentTarget.checked)}
        />
        <Checkbox
          size="xs"
          label="relays along the lines"
          checked={withOthers}
          onChange={(event) => setOthers(event.currentTarget.checked)}
        />
        <span className={bench.spacer} />
        <PictureMenu name={`Zones of ${row.stationName}, ${row.lineName}`} scene={scene} />
      </div>
      <div ref={ref}>
        <svg
          className={plots.plot}
          height={paper.height}
          viewBox={`0 0 ${paper.width} ${paper.height}`}
          role="group"
          aria-label={`Zones of ${row.stationName}, ${row.lineName} in the plane of impedance`}
        >
          <Marks scene={scene} />
          {fn && relay && relay.secondary !== null && (
            <PlaneHandles
              fn={fn}
              secondary={relay.secondary}
              isEarth={isEarth}
              x={x}
              y={y}
              paper={paper}
              device={relay.device.name}
              isHeld={held !== null}
              onMove={(change) => setHeld({ change })}
              onStore={(change, what) => {
                setHeld(null);
                storeFunction({ device: relay.device.id, function: fn.id }, change, `${what} moved`);
              }}
              onCancel={() => setHeld(null)}
            />
          )}
        </svg>
      </div>
      <Slider
        size="sm"
        thumbLabel="Place of the fault along the way"
        min={0}
        max={Math.max(lengthKm, 0.1)}
        step={lengthKm / 200 || 0.1}
        value={Math.min(km, lengthKm)}
        label={(value) => `${formatNumber(value, 3)} km`}
        onChange={(value) => setReach({ km: value })}
      />
      <p className={bench.muted} role="status" style={{ margin: '6px 0 0' }}>
        {near && place
          ? `${formatNumber(near.km, 3)} km, on ${nameOf(place)}: ${
              near.loops.length === 0
                ? 'nothing is measured'
                : near.loops
                    .map(({ name, ohm }) => `${name} ${formatNumber(ohm.re, 3)} + j ${formatNumber(ohm.im, 3)} Ω`)
                    .join(', ')
            }`
          : 'Following the fault along the lines …'}
      </p>
      {stored && (
        <p className={bench.muted}>
          Full lines: as stored, held by their rings. Broken lines: by the rulebook
          {row.figures.load.value &&
            `; load of an emergency from ${formatNumber(magnitude(row.figures.load.value), 3)} Ω on`}
          {withOthers && '; long broken lines: other relays, from where they stand'}
          {withSwing &&
            (swing.isCurrent && swing.value === null
              ? '; no swing: without the line one end is dead'
              : '; dotted: a swing of equal voltages over this line as the last tie')}
          .
        </p>
      )}
    </>
  );
}

/** Where the load of an emergency lies, ahead: from its smallest impedance on, up to 30° to both sides. */
function loadWays({ figures }: ReachRow) {
  const load = figures.load.value ? magnitude(figures.load.value) : null;
  if (load === null) return [];
  const at = (ohm: number, deg: number) => ({
    x: ohm * Math.cos((deg * Math.PI) / 180),
    y: ohm * Math.sin((deg * Math.PI) / 180),
  });
  const arc = Array.from({ length: 13 }, (_, k) => at(load, loadAngleDeg * (1 - k / 6)));
  const points = [at(5 * load, loadAngleDeg), ...arc, at(5 * load, -loadAngleDeg)];
  return [{ label: 'load', points, ink: 'fail' as const, dash: '6 3', isAside: true }];
}

/** Where a swing is at some angles between the two voltages. */
const swingDots = (swing: Swing) =>
  [60, 90, 120, 180].flatMap((deg) =>
    swingPath(swing, 1, deg, deg).map(({ ohm }) => ({
      at: { x: ohm.re, y: ohm.im },
      label: `${deg}°`,
      ink: 'muted' as const,
    })),
  );

/** Stored zones of the other relays along a route, from where they stand. */
function regionsAlong(route: Route, rows: readonly ReachRow[], own: ReachRow, isEarth: boolean) {
  let at: Complex = { re: 0, im: 0 };
  let style = 5;
  return route.legs.flatMap(({ end, ohm }) => {
    const [near, far] = [at, add(at, ohm)];
    at = far;
    return [
      { from: near, of: end, looksBack: false },
      { from: far, of: otherEnd(end), looksBack: true },
    ].flatMap(({ from, of, looksBack }) => {
      const row = rows.find((each) => isSameEnd(each.end, of));
      if (!row?.relay?.fn || row.relay.secondary === null || isSameEnd(of, own.end)) return [];
      style = 5 + ((style - 4) % 3);
      const regions = movedRegions(storedRegions(row.relay.fn, row.relay.secondary, isEarth), from, looksBack);
      return [{ at: from, name: row.relay.device.name, regions, style }];
    });
  });
}
