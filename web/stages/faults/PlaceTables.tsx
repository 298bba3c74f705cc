'use client';

import { useState } from 'react';
import { SegmentedControl } from '@mantine/core';
import type { BranchFigures, BusFigures } from '@mesura/core/studies/engine';
import { angle, magnitude, type Complex } from '@mesura/core/linear/complex';
import { useProject } from '../../project/ProjectContext';
import { formatNumber } from '@mesura/core/fields/quantity';
import bench from '../../card/bench.module.css';
import classes from './faults.module.css';

const views = [
  { value: 'phases', label: 'Phases' },
  { value: 'components', label: 'Components' },
];

const figure = (value: Complex, scale: number) => {
  const size = magnitude(value) * scale;
  if (size < 1e-6) return '0';
  const degrees = ((angle(value) * 180) / Math.PI).toFixed(0).replace('-', '−');
  return `${formatNumber(size, 4)} ∠${degrees}°`;
};

interface Row {
  key: string;
  element: BranchFigures['element'];
  name: string;
  place: string;
  values: Complex[];
}

/** Currents into every branch and machine at each end, or voltages at every bus; the largest first. */
function PhasorTable({ heads, rows, scale }: { heads: string[]; rows: Row[]; scale: number }) {
  const select = useProject((state) => state.select);
  return (
    <div className={classes.scroll}>
      <table className={`${bench.table} figures`}>
        <thead>
          <tr>
            {heads.map((head, k) => (
              <th key={head} className={k < 2 ? undefined : 'number'}>
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.key} data-clickable tabIndex={0} onClick={() => select([row.element])}>
              <td>{row.name}</td>
              <td>{row.place}</td>
              {row.values.map((value, k) => (
                <td key={k} className="number">
                  {figure(value, scale)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

type Values = Pick<BranchFigures, 'phases' | 'components'>;
const valuesOf = ({ phases, components }: Values, view: string): Complex[] =>
  view === 'phases' ? [phases.l1, phases.l2, phases.l3] : [components.positive, components.negative, components.zero];
const largest = ({ phases }: Values) => Math.max(magnitude(phases.l1), magnitude(phases.l2), magnitude(phases.l3));

export function BranchTable({ branches }: { branches: readonly BranchFigures[] }) {
  const [view, setView] = useState('phases');
  const rows = branches
    .filter((branch) => largest(branch) > 1e-6)
    .sort((p, q) => largest(q) - largest(p))
    .map((branch): Row => ({
      key: `${branch.element}:${branch.terminal}`,
      element: branch.element,
      name: branch.name,
      place: branch.end || `end ${branch.terminal + 1}`,
      values: valuesOf(branch, view),
    }));
  const heads = view === 'phases' ? ['L1 A', 'L2 A', 'L3 A'] : ['I1 A', 'I2 A', 'I0 A'];
  return (
    <>
      <ViewChoice view={view} onView={setView} note="Currents into each element at its end" />
      <PhasorTable heads={['Element', 'At', ...heads]} rows={rows} scale={1} />
    </>
  );
}

export function VoltageTable({ buses }: { buses: readonly BusFigures[] }) {
  const [view, setView] = useState('phases');
  const rows = [...buses]
    .sort((p, q) => q.nominalKv - p.nominalKv)
    .map((bus): Row => ({
      key: bus.bus,
      element: bus.bus,
      name: bus.name,
      place: String(bus.nominalKv),
      values: valuesOf(bus, view),
    }));
  const heads = view === 'phases' ? ['L1 kV', 'L2 kV', 'L3 kV'] : ['U1 kV', 'U2 kV', 'U0 kV'];
  return (
    <>
      <ViewChoice view={view} onView={setView} note="Voltages to earth during the fault" />
      <PhasorTable heads={['Bus', 'Un kV', ...heads]} rows={rows} scale={1e-3} />
    </>
  );
}

function ViewChoice({ view, onView, note }: { view: string; onView: (view: string) => void; note: string }) {
  return (
    <div className={bench.head}>
      <span className={bench.muted}>{note}</span>
      <span className={bench.spacer} />
      <SegmentedControl size="xs" value={view} onChange={onView} data={views} aria-label="Phases or components" />
    </div>
  );
}
