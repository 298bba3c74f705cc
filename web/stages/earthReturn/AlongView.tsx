'use client';

import { Select } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { returnsAnything, type EarthFaultKind } from '@mesura/core/earthReturn/fromNetwork';
import { mostAlong, type AlongAnswer, type AlongRow } from '@mesura/core/earthReturn/study';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn, ofKind } from '@mesura/core/model/network';
import type { ShownUnit } from '../../card/ObjectFields';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { Marks } from '../../plots/Marks';
import { profileScene } from '../../plots/profile';
import type { Paper } from '../../plots/scene';
import { extentFromNought } from '../../plots/ticks';
import { useProject } from '../../project/ProjectContext';
import { conditionsOf } from '@mesura/core/model/state';
import { useCore } from '../../workers/useCore';
import { lookInto, setEarth, useEarthState } from './state';
import { useShownUnit } from './units';
import bench from '../../card/bench.module.css';
import plots from '../../plots/plots.module.css';
import { Done } from '../../workers/Done';
import { PictureLine } from '../../card/PictureMenu';

const columnsIn = ({ unit, factor }: ShownUnit): SortColumn<AlongRow>[] => [
  { id: 'tower', head: 'Tower', value: ({ tower }) => tower, cell: ({ tower }) => String(tower) },
  { id: 'km', head: unit, value: ({ km }) => km * factor, digits: 4 },
  { id: 'fault', head: 'IF A', title: 'Into the fault', value: ({ faultA }) => faultA, digits: 4 },
  { id: 'towerV', head: 'tower V', title: 'Potential of the faulted tower', value: ({ towerV }) => towerV, digits: 4 },
  { id: 'towerA', head: 'tower A', title: 'Down its footing', value: ({ towerA }) => towerA, digits: 4 },
  {
    id: 'hubV',
    head: 'near V',
    title: 'Potential of the station that towers are counted from',
    value: ({ hubV }) => hubV,
    digits: 4,
  },
  {
    id: 'hubSplit',
    head: 'near %',
    title: 'Of the fault current in its earthing',
    value: ({ hubSplit }) => 100 * hubSplit,
    digits: 3,
  },
  { id: 'farV', head: 'far V', title: 'Potential of the other station', value: ({ farV }) => farV, digits: 4 },
  {
    id: 'farSplit',
    head: 'far %',
    title: 'Of the fault current in its earthing',
    value: ({ farSplit }) => 100 * farSplit,
    digits: 3,
  },
];

const sheet = { height: 210, margin: { top: 12, right: 14, bottom: 42, left: 58 }, text: 11 } satisfies Partial<Paper>;

/** The fault moved from tower to tower of a line. */
export function AlongView() {
  const network = useProject((state) => state.network);
  const shownUnit = useShownUnit();
  const { along, condition, kind } = useEarthState();
  const lines = ofKind(network, 'line').filter(({ returnPath }) => returnsAnything(returnPath));
  const conditions = conditionsOf(network);
  const line = lines.find(({ id }) => id === along?.line) ?? lines.at(0);
  const hubTerminal = along?.hubTerminal ?? 0;
  const state = conditions.find(({ id }) => id === condition)?.id ?? conditions[0].id;
  const { value, isCurrent, progress, failed } = useAlong(line?.id ?? null, hubTerminal, state, kind);
  if (!line)
    return <p className={bench.muted}>No line has towers or sheaths: give them under &quot;Towers and cables&quot;.</p>;
  const rows = value?.ok ? value.rows : [];
  const worst = (of: (row: AlongRow) => number) =>
    rows.reduce<AlongRow | null>((p, q) => (p && of(p) >= of(q) ? p : q), null);
  const [tower, near, far] = [worst(({ towerV }) => towerV), worst(({ hubV }) => hubV), worst(({ farV }) => farV)];
  return (
    <>
      <div className={bench.head}>
        <Select
          size="xs"
          w={170}
          aria-label="Line of the fault"
          allowDeselect={false}
          value={line.id}
          data={lines.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(next) => setEarth({ along: { line: next as ElementId, hubTerminal } })}
        />
        <Select
          size="xs"
          w={170}
          aria-label="Towers counted from"
          allowDeselect={false}
          value={String(hubTerminal)}
          data={[
            { value: '0', label: 'from its first end' },
            { value: '1', label: 'from its second end' },
          ]}
          onChange={(next) => setEarth({ along: { line: line.id, hubTerminal: next === '1' ? 1 : 0 } })}
        />
        <Select
          size="xs"
          w={170}
          aria-label="Condition of the fault"
          allowDeselect={false}
          value={state}
          data={conditions.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(next) => setEarth({ condition: next as ElementId })}
        />
        <Done of={progress} w={80} label="Moving the fault" />
      </div>
      {failed && <p className={bench.problem}>{failed}</p>}
      {!value ? (
        <p className={bench.muted} role="status">
          Moving the fault from tower to tower …
        </p>
      ) : !value.ok ? (
        <p className={bench.problem}>{`${value.problem[0].toUpperCase()}${value.problem.slice(1)}.`}</p>
      ) : (
        <>
          {tower && near && far && (
            <p style={{ margin: '0 0 6px' }}>
              Worst: tower {tower.tower} rises by <strong>{formatNumber(tower.towerV, 4)} V</strong>; the near station
              by {formatNumber(near.hubV, 4)} V for a fault at tower {near.tower}; the far one by{' '}
              {formatNumber(far.farV, 4)} V for a fault at tower {far.tower}.
              {value.towers > mostAlong && (
                <span className={bench.muted}>
                  {' '}
                  {rows.length} of {value.towers} towers are computed.
                </span>
              )}
            </p>
          )}
          <AlongPlot rows={rows} name={nameIn(network, line.id)} />
          <div className={bench.short} style={{ overflowX: 'auto' }}>
            <SortTable
              label="Faults along the line"
              columns={columnsIn(shownUnit('km'))}
              rows={rows}
              rowId={(row) => String(row.tower)}
              current={isCurrent}
              onChoose={(row) => {
                // Rows count from the station that is looked at, places from the first end of the line.
                const counted = hubTerminal === 0 ? row.tower : value.towers + 1 - row.tower;
                lookInto({ at: 'tower', line: line.id, tower: counted, hubTerminal }, state);
              }}
            />
          </div>
          <p className={bench.muted}>A click on a row looks into that fault.</p>
        </>
      )}
    </>
  );
}

const useAlong = (line: ElementId | null, hubTerminal: 0 | 1, condition: ElementId, kind: EarthFaultKind) =>
  useCore<AlongAnswer>(
    line && JSON.stringify(['earth along', line, hubTerminal, condition, kind]),
    (service, ticket, onProgress) =>
      service.earthAlong({ of: 'network', condition, line: line!, hubTerminal, kind }, ticket, onProgress),
  );

function AlongPlot({ rows, name }: { rows: readonly AlongRow[]; name: string }) {
  const { unit, factor } = useShownUnit()('km');
  const { ref, width } = useElementSize();
  const paper: Paper = { ...sheet, width: Math.max(width, 320) };
  const line = (label: string, of: (row: AlongRow) => number, style: number) => ({
    label,
    style,
    points: rows.map((row) => ({ x: factor * row.km, y: of(row) })),
  });
  const lines = [
    line('faulted tower', ({ towerV }) => towerV, 0),
    line('near station', ({ hubV }) => hubV, 1),
    line('far station', ({ farV }) => farV, 2),
  ];
  const { scene } = profileScene(
    {
      lines,
      x: {
        extent: { from: 0, to: (rows.at(-1)?.km ?? 1) * factor * 1.02 },
        label: (value) => String(Number(value.toPrecision(4))),
      },
      y: {
        extent: extentFromNought(
          lines.flatMap(({ points }) => points.map(({ y }) => y)),
          { from: 0, to: 1 },
        ),
        label: (value) => `${Number(value.toPrecision(4))} V`,
      },
      caption: `${unit} of the fault along ${name}`,
    },
    paper,
  );
  return (
    <div ref={ref}>
      <svg
        className={plots.plot}
        height={paper.height}
        viewBox={`0 0 ${paper.width} ${paper.height}`}
        role="img"
        aria-label={`Potentials for faults along ${name}`}
      >
        <Marks scene={scene} />
      </svg>
      <PictureLine name={`Potentials for faults along ${name}`} scene={scene} />
    </div>
  );
}
