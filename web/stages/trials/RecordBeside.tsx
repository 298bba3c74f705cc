'use client';

import { useState } from 'react';
import { Button, FileButton, NumberInput } from '@mantine/core';
import { formatNumber } from '@mesura/core/fields/quantity';
import { operatingPoint, recordPhases, type OperatingPoint } from '@mesura/core/formats/comtrade/phasors';
import type { ComtradeRecord } from '@mesura/core/formats/comtrade/read';
import { angle, magnitude, type Complex } from '@mesura/core/linear/complex';
import { recordOf, type BesideRecord } from './record';
import bench from '../../card/bench.module.css';

/** A record from a relay or a recorder, laid over the trial. */
export function RecordBeside({
  beside,
  put,
}: {
  beside: BesideRecord | null;
  put: (beside: BesideRecord | null) => void;
}) {
  const [failure, setFailure] = useState<string | null>(null);
  const open = async (files: File[]) => {
    if (files.length === 0) return;
    const read = await recordOf(files);
    setFailure(read.ok ? null : read.message);
    if (read.ok) put(read.beside);
  };
  return (
    <>
      {beside ? (
        <>
          <span className={bench.muted} style={{ color: 'var(--m-fail)' }}>
            {beside.name}
            {beside.record.station && `, ${beside.record.station}`}
          </span>
          <NumberInput
            size="xs"
            w={150}
            aria-label="Beginning of the fault in the record, milliseconds"
            title="Moment of the record that falls on the beginning of the fault"
            prefix="fault at "
            suffix=" ms"
            decimalScale={2}
            step={1}
            value={Number((beside.startS * 1000).toFixed(2))}
            onChange={(value) => typeof value === 'number' && put({ ...beside, startS: value / 1000 })}
          />
          <Button size="compact-xs" variant="subtle" onClick={() => put(null)}>
            Without the record
          </Button>
        </>
      ) : (
        <FileButton
          multiple
          accept=".cfg,.dat,.cff"
          onChange={(files) => void open(files)}
          inputProps={{ 'aria-label': 'COMTRADE files' }}
        >
          {(props) => (
            <Button size="compact-xs" variant="default" {...props}>
              Put a record beside
            </Button>
          )}
        </FileButton>
      )}
      {failure && (
        <span role="alert" className={bench.muted} style={{ color: 'var(--m-fail)' }}>
          {failure}
        </span>
      )}
    </>
  );
}

/** Samples of the trial as {@link operatingPoint} reads them. */
interface Sampled {
  readonly rateHz: number;
  readonly count: number;
  readonly fromS: number;
  readonly analog: readonly { readonly phase: string; readonly unit: string; readonly values: Float64Array }[];
}

const asRecord = ({ rateHz, count, analog }: Sampled, frequencyHz: number): ComtradeRecord => ({
  station: '',
  device: '',
  revision: 1999,
  frequencyHz,
  seconds: Float64Array.from({ length: count }, (_, k) => k / rateHz),
  triggerS: null,
  channels: analog.map(({ phase, unit, values }) => ({
    name: phase,
    phase,
    unit,
    values,
    primary: 1,
    secondary: 1,
    side: 'primary',
  })),
  states: [],
  remarks: [],
});

const size = (value: Complex | null | undefined, unit: string): string =>
  value ? `${formatNumber(magnitude(value) / 1000, 4)} k${unit}` : '–';
const ohms = (value: Complex | null | undefined): string =>
  value ? `${formatNumber(magnitude(value), 4)} Ω ∠ ${formatNumber((angle(value) * 180) / Math.PI, 3)}°` : '–';

/** What the trial and the record come to at the moment that is looked at: the cycle before it. */
export function OperatingPoints({
  trial,
  frequencyHz,
  beside,
  atS,
}: {
  trial: Sampled;
  frequencyHz: number;
  beside: BesideRecord;
  atS: number;
}) {
  const ours = operatingPoint(asRecord(trial, frequencyHz), atS - trial.fromS);
  const theirs = operatingPoint(beside.record, atS + beside.startS);
  const row = (title: string, read: (point: OperatingPoint) => string) =>
    // Neither measures it.
    (!ours || read(ours) === '–') && (!theirs || read(theirs) === '–') ? null : (
      <tr key={title}>
        <td>{title}</td>
        <td className="figure">{ours ? read(ours) : '–'}</td>
        <td className="figure">{theirs ? read(theirs) : '–'}</td>
      </tr>
    );
  const remarks = beside.record.remarks;
  return (
    <>
      <table className={`${bench.table} figures`} aria-label="Operating points">
        <thead>
          <tr>
            <th>over the cycle before {formatNumber(atS * 1000, 4)} ms</th>
            <th>trial</th>
            <th>record</th>
          </tr>
        </thead>
        <tbody>
          {recordPhases.map((phase) => row(`I ${phase}`, ({ currents }) => size(currents[phase], 'A')))}
          {recordPhases.map((phase) => row(`U ${phase}`, ({ voltages }) => size(voltages[phase], 'V')))}
          {['L1-L2', 'L2-L3', 'L3-L1'].map((loop) =>
            row(`Z ${loop}`, ({ loops }) => ohms(loops.find((each) => each.loop === loop)?.ohm)),
          )}
        </tbody>
      </table>
      {remarks.length > 0 && <p className={bench.muted}>{remarks.join('; ')}</p>}
    </>
  );
}
