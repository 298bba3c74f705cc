'use client';

import { useState } from 'react';
import { Button, MultiSelect, NumberInput, TextInput } from '@mantine/core';
import type { ElementId } from '@mesura/core/model/fields';
import { alternating } from '@mesura/core/model/directPart';
import { nameIn, ofKind } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import type { Trial } from '@mesura/core/model/trial';
import { devicesOf } from '@mesura/core/protection/device';
import type { TrialAnswered } from '@mesura/core/trials/answer';
import { verdictTitles } from '@mesura/core/trials/words';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { Chip } from '../../desk/Chip';
import { report } from '../../desk/report';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import { openTrial, setTrials, useTrialsState } from './state';
import { usePlaceText } from './TrialFields';
import bench from '../../card/bench.module.css';

interface Row {
  readonly trial: Trial;
  readonly answered: TrialAnswered | null;
}

/** Trials kept as tests of the project: played anew with every change, and by each run of the checks. */
export function KeptTrials() {
  const network = useProject((state) => state.network);
  const trials = ofKind(network, 'trial');
  const [chosen, setChosen] = useState<ElementId | null>(null);
  const placeText = usePlaceText();
  const { value, isCurrent } = useCore<readonly TrialAnswered[]>(
    trials.length > 0 ? `kept trials ${JSON.stringify(trials)}` : null,
    (service) => service.trials(trials),
  );
  if (trials.length === 0)
    return (
      <p className={bench.muted}>
        No trial is kept yet. Play one, and keep it as a test: from then on the checks play it too.
      </p>
    );
  const rows = trials.map((trial, k): Row => ({ trial, answered: value?.[k] ?? null }));
  const columns: SortColumn<Row>[] = [
    { id: 'name', head: 'Trial', text: true, value: ({ trial }) => trial.name },
    { id: 'place', head: 'Fault', text: true, value: ({ trial }) => trial.faults.map(placeText).join(' and ') },
    {
      id: 'condition',
      head: 'Condition',
      text: true,
      value: ({ trial }) => conditionOf(network, trial.condition)?.name ?? 'gone',
    },
    {
      id: 'cleared',
      head: 'cleared s',
      digits: 3,
      value: ({ answered }) => (answered?.ok ? answered.answer.clearedS : null),
    },
    {
      id: 'within',
      head: 'within s',
      digits: 3,
      value: ({ answered }) => (answered?.ok ? answered.answer.judged.wanted.withinS : null),
    },
    {
      id: 'verdict',
      head: 'Verdict',
      text: true,
      value: ({ answered }) => (answered?.ok ? verdictTitles[answered.answer.judged.verdict] : ''),
      cell: ({ answered }) =>
        answered === null ? (
          '…'
        ) : answered.ok ? (
          <Chip state={answered.answer.judged.verdict === 'selective' ? 'pass' : 'fail'}>
            {verdictTitles[answered.answer.judged.verdict]}
          </Chip>
        ) : (
          <Chip state="fail">{answered.problems[0]?.message ?? 'not played'}</Chip>
        ),
    },
  ];
  const trial = trials.find(({ id }) => id === chosen) ?? null;
  return (
    <>
      <SortTable
        label="Kept trials"
        columns={columns}
        rows={rows}
        rowId={({ trial: { id } }) => id}
        current={isCurrent}
        chosen={chosen}
        onChoose={({ trial: { id } }) => setChosen(id)}
      />
      {trial && <TrialCard key={trial.id} trial={trial} />}
    </>
  );
}

/** Its name, and what ought to happen. */
function TrialCard({ trial }: { trial: Trial }) {
  const network = useProject((state) => state.network);
  const commit = useProject((state) => state.commit);
  const kept = useTrialsState((state) => state.kept);
  const put = (part: Partial<Trial>, what: string) =>
    report(commit([{ op: 'update', element: { ...trial, ...part } }], `Trial ${trial.name}: ${what}`));
  const breakers = [...new Set(devicesOf(alternating(network)).flatMap(({ opens }) => opens))].map((id) => ({
    value: id as string,
    label: nameIn(network, id),
  }));
  const remove = () => {
    if (!report(commit([{ op: 'remove', id: trial.id }], `Remove trial ${trial.name}`))) return;
    if (kept === trial.id) setTrials({ kept: null });
  };
  return (
    <article className={bench.card} aria-label={trial.name}>
      <div className={bench.cardBody}>
        <div className={bench.head}>
          <TextInput
            size="xs"
            style={{ flex: 1 }}
            aria-label="Name of the trial"
            defaultValue={trial.name}
            maxLength={120}
            onBlur={(event) => {
              const name = event.currentTarget.value.trim();
              if (name && name !== trial.name) put({ name }, 'name');
            }}
          />
          <Button size="compact-xs" variant="light" onClick={() => openTrial(trial, trial.id)}>
            Play
          </Button>
          <Button size="compact-xs" variant="subtle" color="red" onClick={remove}>
            Remove
          </Button>
        </div>
        <div className={bench.head}>
          <MultiSelect
            size="xs"
            style={{ flex: 1 }}
            searchable
            clearable
            aria-label="Opened by"
            placeholder={trial.opens ? undefined : 'Opened by: the smallest set that parts the fault from all sources'}
            data={breakers}
            value={trial.opens ? [...trial.opens] : []}
            onChange={(ids) => put({ opens: ids.length > 0 ? (ids as ElementId[]) : null }, 'what opens')}
          />
          <NumberInput
            size="xs"
            w={170}
            aria-label="Cleared within, in seconds"
            placeholder="within: by the rulebook"
            prefix="within "
            suffix=" s"
            min={0.01}
            max={600}
            step={0.1}
            defaultValue={trial.withinS ?? ''}
            onBlur={(event) => {
              const text = event.currentTarget.value.replace(/[^\d.]/g, '');
              const withinS = text === '' ? null : Number(text);
              if (withinS !== trial.withinS && (withinS === null || withinS > 0)) put({ withinS }, 'time');
            }}
          />
        </div>
      </div>
    </article>
  );
}
