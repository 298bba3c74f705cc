'use client';

import { useState } from 'react';
import { Button, Select } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { formatNumber } from '@mesura/core/fields/quantity';
import { comtrade } from '@mesura/core/formats/comtrade/write';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn, settingsOf } from '@mesura/core/model/network';
import type { TrialAnswer } from '@mesura/core/trials/answer';
import { samplesOf } from '@mesura/core/trials/waveform';
import type { RecordPhase } from '@mesura/core/formats/comtrade/phasors';
import { saveText } from '../../card/saveText';
import { OperatingPoints, RecordBeside } from './RecordBeside';
import { traceOf, type BesideRecord } from './record';
import { useProject } from '../../project/ProjectContext';
import { useTrialsState } from './state';
import plots from '../../plots/plots.module.css';
import bench from '../../card/bench.module.css';

const height = 86;
const longestShownS = 3;

/** Currents and voltages of one device as they run, and the record for a test set. */
export function Waves({ answer }: { answer: TrialAnswer }) {
  const [beside, setBeside] = useState<BesideRecord | null>(null);
  const network = useProject((state) => state.network);
  const atS = useTrialsState((state) => state.atS);
  const { ref, width } = useElementSize();
  const [chosen, setChosen] = useState<ElementId | null>(null);
  const measuring = answer.devices.filter((id) =>
    answer.intervals.some(({ currents }) => currents.some(({ device }) => device === id)),
  );
  const device = chosen && measuring.includes(chosen) ? chosen : measuring.at(0);
  const name = (id: ElementId) => nameIn(network, id);
  if (!device) return <p className={bench.muted}>No device took part.</p>;
  const { frequencyHz } = settingsOf(network);
  const sampled = (rateHz: number, longestS: number) =>
    samplesOf(answer, { device, rateHz, beforeS: 0.06, longestS, frequencyHz, nameOf: name });
  const shown = sampled(frequencyHz * 24, longestShownS)!;
  const across = Math.max(width - 90, 200);
  const duration = (shown.count - 1) / shown.rateHz;
  const x = (k: number) => 80 + (k / (shown.count - 1)) * across;
  const download = () => {
    const record = sampled(frequencyHz * 80, 20)!;
    const { cfg, dat } = comtrade({
      station: answer.trial.name,
      device: name(device),
      frequencyHz,
      rateHz: record.rateHz,
      triggerSample: Math.round(-record.fromS * record.rateHz),
      channels: record.analog.map(({ name: title, phase, unit, values }) => ({
        name: `${title} ${phase}`,
        phase: 'ABC'[Number(phase[1]) - 1],
        unit,
        values: Array.from(values),
      })),
      states: record.binary,
    });
    const file = name(device).replace(/[^A-Za-z0-9]+/g, '-');
    saveText(`${file}.cfg`, cfg, 'text/plain;charset=utf-8');
    saveText(`${file}.dat`, dat, 'text/plain;charset=utf-8');
  };
  return (
    <div ref={ref}>
      <div className={bench.head}>
        <Select
          size="xs"
          w={190}
          searchable
          allowDeselect={false}
          aria-label="Device"
          value={device}
          data={measuring.map((id) => ({ value: id as string, label: name(id) }))}
          onChange={(id) => setChosen(id as ElementId)}
        />
        <Button size="compact-xs" variant="default" onClick={download}>
          COMTRADE record
        </Button>
        <RecordBeside beside={beside} put={setBeside} />
      </div>
      {beside && <OperatingPoints trial={shown} frequencyHz={frequencyHz} beside={beside} atS={atS} />}
      {shown.analog.map(({ name: title, phase, unit, values }) => {
        const recorded = beside && traceOf(beside, unit === 'A' ? 'current' : 'voltage', phase as RecordPhase);
        const sizeOf = (list: Float64Array) => list.reduce((p, q) => (Math.abs(q) > p ? Math.abs(q) : p), 0);
        const most = Math.max(sizeOf(values), recorded ? sizeOf(recorded.values) : 0) || 1;
        const y = (value: number) => (height / 2 - (value / most) * (height / 2 - 6)).toFixed(1);
        const points = Array.from(values, (value, k) => `${x(k).toFixed(1)},${y(value)}`);
        const besidePoints = recorded
          ? recorded
              .shown(shown.fromS, shown.fromS + duration)
              .map(({ atS: t, value }) => `${x((t - shown.fromS) * shown.rateHz).toFixed(1)},${y(value)}`)
          : [];
        return (
          <svg
            key={`${title} ${phase}`}
            className={plots.plot}
            width={Math.max(width, 300)}
            height={height}
            role="img"
            aria-label={`${title} ${phase}`}
          >
            <line x1={80} x2={80 + across} y1={height / 2} y2={height / 2} stroke="var(--m-grid)" />
            <text x={0} y={height / 2 - 4} fontSize={12} fill="var(--m-ink)">
              {unit === 'A' ? 'I' : 'U'} {phase}
            </text>
            <text x={0} y={height / 2 + 12} fontSize={11} fill="var(--m-muted)">
              {formatNumber(most / 1000, 3)} k{unit}
            </text>
            {besidePoints.length > 1 && (
              <polyline points={besidePoints.join(' ')} fill="none" stroke="var(--m-fail)" strokeWidth={0.9}>
                <title>{`${beside!.name}: ${recorded!.channel}`}</title>
              </polyline>
            )}
            <polyline points={points.join(' ')} fill="none" stroke="var(--m-accent)" strokeWidth={1} />
            <line
              x1={x(((atS - shown.fromS) / duration) * (shown.count - 1))}
              x2={x(((atS - shown.fromS) / duration) * (shown.count - 1))}
              y1={0}
              y2={height}
              stroke="var(--m-fail)"
              strokeDasharray="3 3"
            />
          </svg>
        );
      })}
      {shown.binary.map(({ name: title, values }) => (
        <svg key={title} className={plots.plot} width={Math.max(width, 300)} height={20} role="img" aria-label={title}>
          <text x={0} y={14} fontSize={11} fill="var(--m-ink)">
            {title.length > 14 ? `${title.slice(0, 13)}…` : title}
            <title>{title}</title>
          </text>
          {spansOf(values).map(([from, to]) => (
            <rect key={from} x={x(from)} y={6} width={Math.max(x(to) - x(from), 1)} height={8} fill="var(--m-ink)" />
          ))}
        </svg>
      ))}
      <p className={bench.muted}>
        Primary values. Symmetrical currents of each interval by their angles; without the d.c. part at its beginning.
        {answer.endS > longestShownS && ` The first ${longestShownS} s are shown.`}
      </p>
    </div>
  );
}

function spansOf(values: Uint8Array): [number, number][] {
  const spans: [number, number][] = [];
  values.forEach((value, k) => {
    if (!value) return;
    const last = spans.at(-1);
    if (last && last[1] === k - 1) last[1] = k;
    else spans.push([k, k]);
  });
  return spans;
}
