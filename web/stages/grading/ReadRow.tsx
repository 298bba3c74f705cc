'use client';

import { useState } from 'react';
import { ActionIcon, Button, NativeSelect } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import type { ChartCurve } from '@mesura/core/grading/chart/curves';
import { answersAt, between, currentsAt } from '@mesura/core/grading/chart/readings';
import { formatCurrent, formatNumber } from '@mesura/core/fields/quantity';
import type { GradingChart } from '@mesura/core/model/chart';
import { QuantityField } from '../../card/QuantityField';
import type { Extents } from '../../plots/gradingChart';
import type { PlottedMargin } from '../../plots/timeCurrent';
import { setGrading, useGradingState } from './state';
import bench from '../../card/bench.module.css';
import classes from './grading.module.css';

const seconds = (timeS: number): string => (Number.isFinite(timeS) ? `${formatNumber(timeS, 3)} s` : '–');
const signed = (timeS: number): string => `${timeS < 0 ? '−' : ''}${formatNumber(Math.abs(timeS), 3)} s`;

/** The two curves that are measured between: those chosen, else none. */
const measuredCurves = (curves: readonly ChartCurve[], caliper: readonly [string, string] | null) =>
  caliper?.map((key) => curves.find((curve) => curve.key === key));

/** What is measured between two curves at a current, as it is drawn; null where nothing is. */
export function caliperOf(
  curves: readonly ChartCurve[],
  caliper: readonly [string, string] | null,
  chartA: number,
): PlottedMargin | null {
  const [p, q] = measuredCurves(curves, caliper) ?? [];
  const found = p && q ? between(p, q, chartA) : null;
  if (!found) return null;
  const { lower, upper, marginS } = found;
  return { downA: chartA, upA: chartA, downstreamS: lower.latestS, upstreamS: upper.earliestS, holds: marginS > 0 };
}

interface Props {
  chart: GradingChart;
  curves: readonly ChartCurve[];
  extents: Extents;
  update: (chart: GradingChart, what: string) => void;
}

/** Questions to the chart: what each device does at a current, at which currents it takes a time, what lies between two curves; kept as notes where wanted. */
export function ReadRow({ chart, curves, extents, update }: Props) {
  const { asked, caliper } = useGradingState();
  const [timeS, setTime] = useState<number | null>(null);
  const times = asked === null ? [] : answersAt(curves, asked);
  const inside = (currentA: number) => currentA >= extents.currents.from && currentA <= extents.currents.to;
  const currents =
    timeS === null ? [] : curves.map((curve) => ({ curve, at: currentsAt(curve, timeS).filter(inside) }));
  const keep = (text: string, currentA: number, at: number) =>
    update({ ...chart, notes: [...chart.notes, { text: text.slice(0, 200), currentA, timeS: at }].slice(-40) }, 'note');
  const clearing = times.filter(({ latestS }) => latestS < Infinity).sort((p, q) => p.latestS - q.latestS);
  const above = (value: number | null, take: (value: number | null) => void): string | null => {
    if (value !== null && !(value > 0)) return 'above 0';
    take(value);
    return null;
  };
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
          onCommit={(value) => above(value, (now) => setGrading({ asked: now }))}
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
          onCommit={(value) => above(value, setTime)}
        />
      </div>
      {asked !== null && clearing.length > 0 && (
        <Button
          size="compact-xs"
          variant="light"
          onClick={() =>
            keep(
              clearing.map(({ name, latestS }) => `${name} ${seconds(latestS)}`).join(', '),
              asked,
              clearing[0].latestS,
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
            {times.map(({ key, name, by, earliestS, latestS }) => (
              <tr key={key}>
                <td>{name}</td>
                <td>{by || '–'}</td>
                <td className="number">{seconds(earliestS)}</td>
                <td className="number">{seconds(latestS)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {asked !== null && curves.length > 1 && <Caliper curves={curves} asked={asked} caliper={caliper} keep={keep} />}
      {timeS !== null && (
        <ul className={classes.paths} aria-label={`Currents at ${seconds(timeS)}`}>
          {currents.map(({ curve, at }) => (
            <li key={curve.key}>
              {curve.label}: {at.length > 0 ? at.map((each) => formatCurrent(each, 3)).join(', ') : 'none'}
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
            onClick={() => update({ ...chart, notes: chart.notes.filter((_, j) => j !== k) }, 'remove a note')}
          >
            <IconX size={11} />
          </ActionIcon>
        </span>
      ))}
    </div>
  );
}

interface CaliperProps {
  curves: readonly ChartCurve[];
  asked: number;
  caliper: readonly [string, string] | null;
  keep: (text: string, currentA: number, timeS: number) => void;
}

/** Measures between two curves at the current asked about: from the latest end of the lower to the earliest operation of the upper. */
function Caliper({ curves, asked, caliper, keep }: CaliperProps) {
  const chosen = measuredCurves(curves, caliper);
  const keys = [chosen?.[0]?.key ?? '', chosen?.[1]?.key ?? ''] as const;
  const found = chosen?.[0] && chosen[1] ? between(chosen[0], chosen[1], asked) : null;
  const choice = (k: 0 | 1, label: string) => (
    <NativeSelect
      size="xs"
      w={132}
      aria-label={label}
      value={keys[k]}
      data={[{ value: '', label: '…' }, ...curves.map(({ key, label: name }) => ({ value: key, label: name }))]}
      onChange={(event) => {
        const next: [string, string] = [...keys];
        next[k] = event.currentTarget.value;
        setGrading({ caliper: next[0] === '' && next[1] === '' ? null : next });
      }}
    />
  );
  const isSame = keys[0] !== '' && keys[0] === keys[1];
  return (
    <div className={classes.read} role="group" aria-label="Caliper" style={{ flexBasis: '100%' }}>
      <span className={bench.muted}>Caliper from</span>
      {choice(0, 'Caliper from')}
      <span className={bench.muted}>to</span>
      {choice(1, 'Caliper to')}
      {found && !isSame && (
        <>
          <output className="figures">
            {found.lower.name} cleared by {seconds(found.lower.latestS)}, {found.upper.name} from{' '}
            {seconds(found.upper.earliestS)}: <strong>{signed(found.marginS)}</strong>{' '}
            <span className={bench.muted}>(curve to curve {seconds(found.nominalS)})</span>
          </output>
          <Button
            size="compact-xs"
            variant="light"
            onClick={() =>
              keep(
                `${found.lower.name} to ${found.upper.name}: ${signed(found.marginS)} at ${formatCurrent(asked, 3)}`,
                asked,
                found.lower.latestS,
              )
            }
          >
            Keep caliper as a note
          </Button>
        </>
      )}
      {isSame && <span className={bench.muted}>Choose two different curves.</span>}
      {chosen?.[0] && chosen[1] && !isSame && !found && (
        <span className={bench.muted}>One of them does not operate at this current.</span>
      )}
    </div>
  );
}
