'use client';

import { Button } from '@mantine/core';
import type { GradingChart } from '@mesura/core/model/chart';
import { QuantityField } from '../../card/QuantityField';
import type { Extent } from '../../plots/ticks';
import bench from '../../card/bench.module.css';

type Range = NonNullable<GradingChart['range']>;

const fields = [
  ['fromA', 'A', 'Currents from'],
  ['toA', 'A', 'Currents to'],
  ['fromS', 's', 'Times from'],
  ['toS', 's', 'Times to'],
] as const satisfies readonly (readonly [keyof Range, string, string])[];

/** The range of the axes by hand; it begins as what is drawn. */
export function RangeFields({
  chart,
  extents,
  update,
}: {
  chart: GradingChart;
  extents: { readonly currents: Extent; readonly times: Extent };
  update: (chart: GradingChart, what: string) => void;
}) {
  const now: Range = chart.range ?? {
    fromA: extents.currents.from,
    toA: extents.currents.to,
    fromS: extents.times.from,
    toS: extents.times.to,
  };
  const set = (field: keyof Range, value: number | null): string | null => {
    if (value === null || !(value > 0)) return 'must be above 0';
    const range = { ...now, [field]: value };
    if (range.toA < 2 * range.fromA) return 'the currents must span at least 1 : 2';
    if (range.toS < 2 * range.fromS) return 'the times must span at least 1 : 2';
    update({ ...chart, range }, 'range');
    return null;
  };
  return (
    <div role="group" aria-label="Range of the chart" style={{ marginTop: 12 }}>
      <span className={bench.muted}>Range</span>
      {fields.map(([field, unit, label]) => (
        <QuantityField
          key={field}
          label={label}
          unit={unit}
          value={now[field]}
          onCommit={(value) => set(field, value)}
        />
      ))}
      {chart.range && (
        <Button
          size="compact-xs"
          variant="default"
          mt={4}
          onClick={() => update({ ...chart, range: null }, 'automatic range')}
        >
          Automatic
        </Button>
      )}
    </div>
  );
}
