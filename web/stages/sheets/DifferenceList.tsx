'use client';

import { useState } from 'react';
import { Button } from '@mantine/core';
import type { SheetDifference } from '@mesura/core/sheets/difference';
import bench from '../../card/bench.module.css';

const titles: Readonly<Record<SheetDifference['part'], string>> = {
  value: 'value',
  function: 'functions',
  device: 'device',
  statement: 'check',
  margin: 'margin',
  figure: 'fault',
  trial: 'trial',
  row: 'row',
};

/** What matters most comes first: what no longer holds, then values, then figures. */
const weight = ({ part, worse }: SheetDifference): number =>
  worse ? 0 : part === 'value' || part === 'function' || part === 'device' ? 1 : part === 'figure' ? 3 : 2;

const few = 8;

export function DifferenceList({ title, differences }: { title: string; differences: readonly SheetDifference[] }) {
  const [all, setAll] = useState(false);
  const sorted = [...differences].sort((p, q) => weight(p) - weight(q));
  const shown = all ? sorted : sorted.slice(0, few);
  return (
    <>
      <h4 className={bench.subtitle} style={{ marginTop: 4 }}>
        {title}
      </h4>
      <table className={`${bench.table} figures`} aria-label={title}>
        <thead>
          <tr>
            <th />
            <th>What</th>
            <th className="number">then</th>
            <th className="number">now</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((each, k) => (
            <tr key={k}>
              <td className={bench.muted}>{titles[each.part]}</td>
              <td style={each.worse ? { color: 'var(--m-fail)', fontWeight: 600 } : undefined}>{each.what}</td>
              <td className="number">{each.before || '–'}</td>
              <td className="number">{each.after || '–'}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {sorted.length > few && (
        <Button size="compact-xs" variant="subtle" onClick={() => setAll(!all)}>
          {all ? 'Fewer' : `${sorted.length - few} more`}
        </Button>
      )}
    </>
  );
}
