'use client';

import { NumberInput, SegmentedControl, Select, Slider } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { faultKinds, shortKindTitles, type FaultKind } from '@mesura/core/faults/kinds';
import { formatNumber } from '@mesura/core/fields/quantity';
import { nameOf } from '@mesura/core/model/element';
import { conditionsOf } from '@mesura/core/model/state';
import type { ReachRow } from '@mesura/core/reach/plan';
import { proposedRegions, storedRegions, type TrackPoint } from '@mesura/core/reach/region';
import { useState } from 'react';
import { Marks } from '../../plots/Marks';
import { impedanceScene, type PlottedRegion } from '../../plots/impedance';
import type { Paper } from '../../plots/scene';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
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
export function PlaneView({ row }: { row: ReachRow }) {
  const network = useProject((state) => state.network);
  const { kind, resistance, km } = useReachState();
  const [loops, setLoops] = useState<'phase' | 'earth'>('phase');
  const [condition, setCondition] = useState('maximum');
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
    JSON.stringify(['loops', row.end, lines, kind, resistance, condition]),
    (service, ticket, onProgress) =>
      service.loopsAlong(
        {
          end: row.end,
          lines,
          kind,
          phaseOhm,
          earthOhm,
          state: { condition: condition as never },
          k0: row.k0 ?? { re: 0, im: 0 },
        },
        ticket,
        onProgress,
      ),
  );
  const { relay } = row;
  const plotted = (list: ReturnType<typeof proposedRegions>, dash?: string): PlottedRegion[] =>
    list.map(({ zone, outline }) => ({
      label: zone === 'overreach' ? 'over' : zone,
      outline: outline.map(({ re, im }) => ({ x: re, y: im })),
      style: (Number(zone) || 6) - 1,
      dash,
    }));
  const stored = relay?.fn && relay.secondary !== null ? storedRegions(relay.fn, relay.secondary, isEarth) : null;
  const proposed = proposedRegions(row, isEarth);
  const points = track.value ?? [];
  const names = [...new Set(points.flatMap(({ loops: of }) => of.map(({ name }) => name)))];
  const lengthKm = way.value?.route.lengthKm ?? 0;
  const near = points.length > 0 ? points.reduce((p, q) => (Math.abs(q.km - km) < Math.abs(p.km - km) ? q : p)) : null;
  const scene = impedanceScene(
    {
      regions: [...plotted(proposed, stored ? '5 4' : undefined), ...(stored ? plotted(stored) : [])],
      ways: [
        {
          label: 'lines',
          points: (way.value?.ohm ?? []).map(({ re, im }) => ({ x: re, y: im })),
          ink: 'ink',
        },
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
      dots: together(near?.loops ?? []),
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
        <Select
          size="xs"
          w={130}
          aria-label="Kind of fault"
          allowDeselect={false}
          value={kind}
          data={faultKinds.map((value) => ({ value, label: shortKindTitles[value] }))}
          onChange={(value) => setReach({ kind: value as FaultKind })}
        />
        <NumberInput
          size="xs"
          w={90}
          aria-label="Resistance of the fault in ohms"
          suffix=" Ω"
          min={0}
          max={500}
          value={resistance}
          onChange={(value) => setReach({ resistance: Number(value) || 0 })}
        />
        <Select
          size="xs"
          w={150}
          aria-label="Condition"
          allowDeselect={false}
          value={condition}
          data={conditionsOf(network).map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(value) => setCondition(value ?? 'maximum')}
        />
      </div>
      <div ref={ref}>
        <svg
          className={plots.plot}
          height={paper.height}
          viewBox={`0 0 ${paper.width} ${paper.height}`}
          role="img"
          aria-label={`Zones of ${row.stationName}, ${row.lineName} in the plane of impedance`}
        >
          <Marks scene={scene} />
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
      {stored && <p className={bench.muted}>Full lines: as stored. Broken lines: by the rulebook.</p>}
    </>
  );
}
