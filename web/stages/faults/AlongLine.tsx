'use client';

import { useState } from 'react';
import { useElementSize } from '@mantine/hooks';
import type { FaultRow, PlaceQuery } from '@mesura/core/studies/engine';
import { find } from '@mesura/core/model/network';
import { Marks } from '../../plots/Marks';
import { frameOf, type Paper, type Point } from '../../plots/scene';
import { currentLabel, extentFromNought } from '../../plots/ticks';
import { profileScene } from '../../plots/profile';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import { formatCurrent, formatNumber } from '@mesura/core/fields/quantity';
import { useQueries } from './queries';
import { setFaults } from './state';
import { currentSymbol } from './useFaults';
import bench from '../../card/bench.module.css';
import plots from '../../plots/plots.module.css';
import { PictureLine } from '../../card/PictureMenu';

const sheet = {
  height: 230,
  margin: { top: 10, right: 14, bottom: 42, left: 52 },
  text: 11,
} satisfies Partial<Paper>;

/** How the current changes from end to end of a line; a click takes the fault there. */
export function AlongLine({ place }: { place: Extract<PlaceQuery, { at: 'line' }> }) {
  const queries = useQueries();
  const line = useProject((state) => find(state.network, 'line', place.element));
  const { ref, width } = useElementSize();
  const [hovered, setHovered] = useState<number | null>(null);
  const { value } = useCore(`along ${JSON.stringify([place.element, queries])}`, (service) =>
    service.faultsAlong(queries.study, queries.fault, place.element),
  );
  if (!line || !value) return null;
  const told = value.filter((row) => row.result);
  if (told.length === 0)
    return <p className={bench.muted}>{value[0]?.problems.map(({ message }) => message).join('; ')}</p>;
  const paper: Paper = { ...sheet, width: Math.max(width, 320) };
  const km = (row: FaultRow) => (row.place.at === 'line' ? row.place.fraction : 0) * line.lengthKm;
  const pointsOf = (figure: (row: FaultRow) => number | null | undefined): Point[] =>
    told.flatMap((row) => {
      const y = figure(row);
      return y ? [{ x: km(row), y }] : [];
    });
  const symbol = currentSymbol(value[0].method);
  const lines = [
    { label: symbol, points: pointsOf((row) => row.result?.ikA) },
    // With one phase to earth it is the same current.
    ...(queries.fault.kind === '2phE' ? [{ label: '3I0', points: pointsOf((row) => row.result?.earthA) }] : []),
  ].filter(({ points }) => points.length > 0);
  const most = lines.flatMap(({ points }) => points.map(({ y }) => y));
  const { x, scene } = profileScene(
    {
      lines,
      x: { extent: { from: 0, to: line.lengthKm }, label: String },
      y: { extent: extentFromNought(most, { from: 0, to: 1000 }), label: currentLabel },
      caption: `km from terminal 1 of ${line.name}`,
      at: place.fraction * line.lengthKm,
    },
    paper,
  );
  const { left, right } = frameOf(paper);
  const fractionAt = (event: { clientX: number; currentTarget: Element }) => {
    const at = event.clientX - event.currentTarget.getBoundingClientRect().left;
    const share = x.valueAt(Math.min(Math.max(at, left), right)) / line.lengthKm;
    return Math.min(Math.max(Math.round(share * 100) / 100, 0.01), 0.99);
  };
  const take = (fraction: number) => {
    const linePlace = { ...place, fraction };
    setFaults({ place: linePlace, linePlace });
  };
  const near = hovered === null ? undefined : told[Math.round(hovered * (told.length - 1))];
  return (
    <div ref={ref}>
      <svg
        className={plots.plot}
        height={paper.height}
        viewBox={`0 0 ${paper.width} ${paper.height}`}
        role="slider"
        tabIndex={0}
        aria-label={`Place of the fault along ${line.name}, percent`}
        aria-valuemin={1}
        aria-valuemax={99}
        aria-valuenow={Math.round(place.fraction * 100)}
        style={{ cursor: 'crosshair' }}
        onClick={(event) => take(fractionAt(event))}
        onKeyDown={(event) => {
          const step = { ArrowLeft: -0.01, ArrowRight: 0.01, PageDown: -0.1, PageUp: 0.1 }[event.key];
          if (step === undefined) return;
          event.preventDefault();
          event.stopPropagation();
          take(Math.min(Math.max(Math.round((place.fraction + step) * 100) / 100, 0.01), 0.99));
        }}
        onPointerMove={(event) => setHovered(fractionAt(event))}
        onPointerLeave={() => setHovered(null)}
      >
        <Marks scene={scene} />
      </svg>
      <PictureLine name={`Fault currents along ${line.name}`} scene={scene} />
      <p className={bench.muted} style={{ margin: 0 }} aria-live="off">
        {near
          ? `${formatNumber(km(near), 3)} km: ${symbol} ${formatCurrent(near.result!.ikA, 4)}`
          : 'A click, or the arrow keys, take the fault to another place.'}
      </p>
    </div>
  );
}
