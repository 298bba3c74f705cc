'use client';

import { useState } from 'react';
import { ActionIcon, Button, NativeSelect, Textarea, TextInput } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { pointsProblem } from '@mesura/core/model/curvePoints';
import { parseQuantity } from '@mesura/core/fields/quantity';
import type { GradingChart } from '@mesura/core/model/chart';
import { ofKind } from '@mesura/core/model/network';
import { ownElsewhere } from '@mesura/core/grading/chart/level';
import { useProject } from '../../project/ProjectContext';
import bench from '../../card/bench.module.css';

type Own = GradingChart['own'][number];

const kinds = [
  { value: 'device', label: 'a device' },
  { value: 'damage', label: 'a limit' },
  { value: 'load', label: 'a load' },
];

/** A line of points a line of text: amperes, then seconds; the message says which line cannot be read. */
export function readPoints(text: string): { points: [number, number][] } | { problem: string } {
  const points: [number, number][] = [];
  for (const [k, line] of text.split('\n').entries()) {
    if (line.trim() === '') continue;
    const cells = line.trim().split(/[\s;]+/);
    const [current, time] = [parseQuantity(cells[0] ?? '', 'A'), parseQuantity(cells[1] ?? '', 's')];
    if (!current.ok || !time.ok || cells.length > 2)
      return { problem: `Line ${k + 1}: amperes and seconds are needed, such as 600 0.5` };
    points.push([current.value, time.value]);
  }
  const problem = pointsProblem(points);
  return problem ? { problem: problem[0].toUpperCase() + problem.slice(1) } : { points };
}

/** Curves of nothing in the network: a machine still to come, an arc furnace. Amperes at the voltage of the chart. */
export function OwnCurves({
  chart,
  update,
}: {
  chart: GradingChart;
  update: (chart: GradingChart, what: string) => void;
}) {
  const [name, setName] = useState('');
  const [kind, setKind] = useState<Own['kind']>('device');
  const [text, setText] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const network = useProject((state) => state.network);
  const elsewhere = ownElsewhere(chart, ofKind(network, 'gradingChart'));
  const add = () => {
    const read = readPoints(text);
    if (name.trim() === '') return setProblem('A name is needed here.');
    if ('problem' in read) return setProblem(read.problem);
    if (read.points.length > 60) return setProblem('At most 60 points.');
    update(
      { ...chart, own: [...chart.own, { name: name.trim().slice(0, 60), kind, points: read.points }] },
      'own curve',
    );
    setName('');
    setText('');
    setProblem(null);
  };
  return (
    <div role="group" aria-label="Own curves" style={{ marginTop: 12 }}>
      <span className={bench.muted}>Own curves, at {chart.referenceKv} kV</span>
      {chart.own.map((own, k) => (
        <div key={`${own.name}${k}`} className={bench.head}>
          <span>{own.name}</span>
          <span className={bench.muted}>{own.points.length} points</span>
          <ActionIcon
            variant="subtle"
            color="gray"
            size={18}
            aria-label={`Remove curve ${own.name}`}
            onClick={() => update({ ...chart, own: chart.own.filter((_, n) => n !== k) }, 'remove a curve')}
          >
            <IconX size={11} />
          </ActionIcon>
        </div>
      ))}
      {elsewhere.length > 0 && (
        <NativeSelect
          size="xs"
          mt={4}
          aria-label="Curve of another chart"
          value=""
          disabled={chart.own.length >= 12}
          data={[
            { value: '', label: 'Take one of another chart …' },
            ...elsewhere.map((own) => ({ value: own.name, label: own.name })),
          ]}
          onChange={(event) => {
            const own = elsewhere.find((each) => each.name === event.currentTarget.value);
            if (own) update({ ...chart, own: [...chart.own, own] }, `own curve ${own.name}`);
          }}
        />
      )}
      <div style={{ display: 'flex', gap: 6, marginTop: 4 }}>
        <TextInput
          size="xs"
          aria-label="Name of the curve"
          placeholder="Name"
          value={name}
          onChange={(event) => setName(event.currentTarget.value)}
        />
        <NativeSelect
          size="xs"
          aria-label="The curve is of"
          data={kinds}
          value={kind}
          onChange={(event) => setKind(event.currentTarget.value as Own['kind'])}
        />
      </div>
      <Textarea
        size="xs"
        mt={4}
        rows={4}
        aria-label="Points of the curve"
        placeholder={'600 10\n1200 0.5'}
        description="A line each: amperes, seconds"
        value={text}
        error={problem}
        onChange={(event) => {
          setText(event.currentTarget.value);
          setProblem(null);
        }}
      />
      <Button size="compact-xs" mt={4} disabled={chart.own.length >= 12} onClick={add}>
        Add curve
      </Button>
    </div>
  );
}
