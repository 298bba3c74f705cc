'use client';

import { NumberInput, Select } from '@mantine/core';
import type { BusDip } from '@mesura/core/flow/start';
import { formatNumber } from '@mesura/core/fields/quantity';
import { fieldTitle } from '@mesura/core/fields/schemaFields';
import { ofKind } from '@mesura/core/model/network';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { useCondition } from '../../desk/condition';
import { useGoToField } from '../../desk/findings';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import type { StartAnswer } from '../../workers/coreService';
import { RunUpChart } from './RunUpChart';
import { setLoad, useLoadState } from './state';
import bench from '../../card/bench.module.css';

const columns: SortColumn<BusDip>[] = [
  { id: 'bus', head: 'Bus', text: true, value: (row) => row.name },
  { id: 'un', head: 'Un kV', value: (row) => row.nominalKv },
  { id: 'before', head: 'before % Un', value: (row) => row.beforePercent },
  { id: 'start', head: 'starting % Un', value: (row) => row.startPercent },
  { id: 'dip', head: 'dip %', title: 'Percentage points of Un', value: (row) => row.dipPercent, digits: 3 },
];

const ways = [
  { value: '1', label: 'direct' },
  { value: '0.3333333333333333', label: 'star–delta (1/3)' },
  { value: '0.64', label: 'starting transformer 80 %' },
  { value: '0.4225', label: 'starting transformer 65 %' },
  { value: '0.25', label: 'starting transformer 50 %' },
];

/** The voltages while a motor starts, and whether and when it runs up. */
export function StartView() {
  const condition = useCondition();
  const { motor: chosen, reduction, scaled } = useLoadState();
  const motors = useProject((state) => ofKind(state.network, 'asynchronousMotor'));
  const select = useProject((state) => state.select);
  const largest = [...motors].sort((p, q) => q.ratedMw - p.ratedMw)[0];
  const motor = motors.find(({ id }) => id === chosen) ?? largest;
  const answer = useCore(
    motor && `start ${JSON.stringify([condition.id, scaled, motor.id, reduction])}`,
    async (service) => await service.start(condition.id, scaled, motor.id, reduction),
  );
  if (!motor) return <p className={bench.muted}>There is no motor in this network.</p>;
  const known = ways.some(({ value }) => Number(value) === reduction);
  return (
    <>
      <div className={bench.head}>
        <Select
          size="xs"
          w={190}
          label="Motor"
          searchable
          allowDeselect={false}
          value={motor.id}
          data={motors.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(value) => {
            setLoad({ motor: motors.find(({ id }) => id === value)?.id ?? null });
            if (value) select([value as typeof motor.id]);
          }}
        />
        <Select
          size="xs"
          w={210}
          label="Starting"
          allowDeselect={false}
          value={known ? String(reduction) : 'other'}
          data={[...ways, ...(known ? [] : [{ value: 'other', label: 'by a factor' }])]}
          onChange={(value) => value !== 'other' && setLoad({ reduction: Number(value) })}
        />
        <NumberInput
          size="xs"
          w={120}
          label="Line current ×"
          min={0.01}
          max={1}
          step={0.05}
          decimalScale={4}
          value={reduction}
          onChange={(value) => Number(value) > 0 && Number(value) <= 1 && setLoad({ reduction: Number(value) })}
        />
      </div>
      {answer.value && (
        <StartResult answer={answer.value} motor={motor.id} ratedKv={motor.ratedKv} current={answer.isCurrent} />
      )}
    </>
  );
}

function StartResult({
  answer,
  motor,
  ratedKv,
  current,
}: {
  answer: StartAnswer;
  motor: Parameters<ReturnType<typeof useGoToField>>[0];
  ratedKv: number;
  current: boolean;
}) {
  const select = useProject((state) => state.select);
  const goToField = useGoToField();
  if (!answer.ok) return <p className={bench.problem}>{answer.problems.map(({ message }) => message).join('; ')}</p>;
  const { startingA, ratedA, terminalPercent, torqueFactor, runUp, buses, assumed } = answer.start;
  return (
    <>
      <p style={{ fontSize: 13, margin: '4px 0' }} role="status">
        Draws <span className="figure">{formatNumber(startingA)} A</span> ({formatNumber(startingA / ratedA, 3)} ×
        rated) at <span className="figure">{formatNumber(terminalPercent)} %</span> of its rated {formatNumber(ratedKv)}{' '}
        kV; torque {formatNumber(100 * torqueFactor, 3)} % of direct starting at rated voltage.{' '}
        {runUp ? (
          runUp.runsUp ? (
            <>
              Runs up in <span className="figure">{formatNumber(runUp.timeS!)} s</span>.
            </>
          ) : runUp.stallSlip === 1 ? (
            'It does not start: its torque is below that of the load.'
          ) : (
            `It hangs at ${formatNumber((1 - runUp.stallSlip!) * 100, 3)} % of synchronous speed.`
          )
        ) : (
          <>
            The run-up time needs{' '}
            <button type="button" className={bench.input} onClick={() => goToField(motor, 'inertiaKgM2')}>
              the moment of inertia
            </button>
            .
          </>
        )}
      </p>
      {assumed.length > 0 && (
        <p className={bench.muted} style={{ margin: '0 0 6px' }}>
          Typical values stand in for: {assumed.map((field) => fieldTitle('asynchronousMotor', field)).join(', ')} (IEC
          60034-12, design N, as remembered; power factor by R/X).
        </p>
      )}
      {runUp?.runsUp && <RunUpChart course={runUp.course} />}
      <SortTable
        label="Voltage dips"
        columns={columns}
        rows={[...buses].sort((p, q) => q.dipPercent - p.dipPercent)}
        rowId={({ bus }) => bus}
        current={current}
        onChoose={({ bus }) => select([bus])}
      />
      <p className={bench.muted}>
        Feeders and machines stand as constant voltages behind their impedances, machines behind x′d; other loads as
        they behave; taps stay.
      </p>
    </>
  );
}
