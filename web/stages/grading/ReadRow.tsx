'use client';

import { useState } from 'react';
import { ActionIcon, Button } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { formatCurrent, formatNumber } from '@mesura/core/fields/quantity';
import type { GradingChart } from '@mesura/core/model/protection';
import { QuantityField } from '../../card/QuantityField';
import { answersAt, currentsAt, shortName, type ChartCurve } from './curves';
import { setGrading, useGradingState } from './state';
import bench from '../../card/bench.module.css';
import classes from './grading.module.css';

const seconds = (timeS: number): string => (Number.isFinite(timeS) ? `${formatNumber(timeS, 3)} s` : '–');

/** Questions to the chart: what each device does at a current, and at which current it takes a time; kept as a note where wanted. */
export function ReadRow({
  chart,
  curves,
  update,
}: {
  chart: GradingChart;
  curves: readonly ChartCurve[];
  update: (chart: GradingChart, what: string) => void;
}) {
  const asked = useGradingState((state) => state.asked);
  const [timeS, setTime] = useState<number | null>(null);
  const times = asked === null ? [] : answersAt(curves, asked);
  const currents = timeS === null ? [] : curves.map((curve) => ({ curve, at: currentsAt(curve, timeS) }));
  const keep = (text: string, currentA: number, at: number) =>
    update({ ...chart, notes: [...chart.notes, { text: text.slice(0, 200), currentA, timeS: at }].slice(-40) }, 'note');
  const first = times.filter(({ latestS }) => latestS < Infinity).sort((p, q) => p.latestS - q.latestS)[0];
  return (
    <div className={classes.read} role="group" aria-label="Read the chart">
      <span className={bench.muted}>Times at</span>
      <div style={{ width: 104 }}>
        <QuantityField
          compact
          optional
          label="Current asked about"
          placeholder="…"
          unit="A"
          value={asked}
          onCommit={(value) => {
            if (value !== null && !(value > 0)) return 'above 0';
            setGrading({ asked: value });
            return null;
          }}
        />
      </div>
      <span className={bench.muted}>currents at</span>
      <div style={{ width: 92 }}>
        <QuantityField
          compact
          optional
          label="Time asked about"
          placeholder="…"
          unit="s"
          value={timeS}
          onCommit={(value) => {
            if (value !== null && !(value > 0)) return 'above 0';
            setTime(value);
            return null;
          }}
        />
      </div>
      {asked !== null && first && (
        <Button
          size="compact-xs"
          variant="light"
          onClick={() =>
            keep(
              times
                .filter(({ latestS }) => latestS < Infinity)
                .map(({ name, latestS }) => `${name} ${seconds(latestS)}`)
                .join(', '),
              asked,
              first.latestS,
            )
          }
        >
          Keep as a note
        </Button>
      )}
      {asked !== null && (
        <table className={`${bench.table} figures`} aria-label={`Times at ${formatCurrent(asked, 3)}`}>
          <thead>
            <tr>
              <th>Device</th>
              <th>trips by</th>
              <th className="number">operates from</th>
              <th className="number">cleared by</th>
            </tr>
          </thead>
          <tbody>
            {times.map(({ name, by, earliestS, latestS }) => (
              <tr key={name}>
                <td>{name}</td>
                <td>{by || '–'}</td>
                <td className="number">{seconds(earliestS)}</td>
                <td className="number">{seconds(latestS)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {timeS !== null && (
        <ul className={classes.paths} aria-label={`Currents at ${seconds(timeS)}`}>
          {currents.map(({ curve, at }) => (
            <li key={curve.device.id}>
              {shortName(curve.device)}: {at.length > 0 ? at.map((each) => formatCurrent(each, 3)).join(', ') : 'none'}
            </li>
          ))}
        </ul>
      )}
      {chart.notes.map((note, k) => (
        <span key={`${note.text}${k}`} className={classes.device}>
          {note.text}
          <ActionIcon
            variant="subtle"
            color="gray"
            size={18}
            aria-label={`Remove note ${note.text}`}
            onClick={() => update({ ...chart, notes: chart.notes.filter((_, n) => n !== k) }, 'remove a note')}
          >
            <IconX size={11} />
          </ActionIcon>
        </span>
      ))}
    </div>
  );
}
