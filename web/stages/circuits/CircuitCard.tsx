'use client';

import { useState } from 'react';
import { Button } from '@mantine/core';
import { IconWand } from '@tabler/icons-react';
import { clauseOf, criterionTexts, reasonTexts } from '@mesura/core/lowVoltage/texts';
import type { CircuitCheck } from '@mesura/core/lowVoltage/judge';
import { consumerOf, installationOf } from '@mesura/core/lowVoltage/demand';
import { isInGround } from '@mesura/core/circuits/ampacity';
import { formatNumber, withUnit } from '@mesura/core/fields/quantity';
import { consumerSchema, layingSchema, usualLaying, type Laying } from '@mesura/core/model/circuit';
import type { Element } from '@mesura/core/model/element';
import { find, nameIn } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import type { Section } from '@mesura/core/working/trace';
import { ObjectFields } from '../../card/ObjectFields';
import { ReportButtons } from '../../card/ReportButtons';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { WorkingView } from '../../card/WorkingView';
import { Chip } from '../../desk/Chip';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import { OptionCards } from './OptionCards';
import { verdictChips } from './Schedule';
import { setCircuits, useCircuitsState } from './state';
import { useProposals, type ScheduleRow } from './useCircuits';
import { layingWords } from './words';
import bench from '../../card/bench.module.css';

/** One circuit: what it has to meet, how near it is, where the figures come from, what would be right. */
export function CircuitCard({ schedule, isCurrent }: { schedule: ScheduleRow; isCurrent: boolean }) {
  const network = useProject((state) => state.network);
  const { row, parts } = schedule;
  const [shown, setShown] = useState(false);
  const asked = useCircuitsState((state) => state.asked);
  const isAsked = asked?.length === 1 && asked[0] === row.key;
  const title = row.ends.map((id) => nameIn(network, id)).join(', ');
  const working = useCore<readonly Section[]>(shown ? `circuit working ${row.key}` : null, (service) =>
    service.circuitWorking(row.key),
  );
  const figures: readonly (readonly [string, string])[] = [
    ['Design current', withUnit(row.designA, 'A')],
    ...(row.guard?.referenceA
      ? ([['Device', `${row.guard.name}: ${withUnit(row.guard.referenceA, 'A')}`]] as const)
      : []),
    ...row.cables.flatMap(({ element, capacity }) =>
      capacity.ampere === null
        ? []
        : ([[`${nameIn(network, element)} carries`, withUnit(capacity.ampere, 'A')]] as const),
    ),
    ['Voltage drop', `${formatNumber(row.upstreamPercent, 2)} + ${formatNumber(row.ownPercent, 3)} %`],
    ...(row.startPercent === null ? [] : ([['… while it starts', withUnit(row.startPercent, '%', 3)]] as const)),
    ...(row.boardMax ? ([['Ik3 max at the board', withUnit(row.boardMax.ampere / 1000, 'kA')]] as const) : []),
    ...(row.boardEarth ? ([['Ik1 max at the board', withUnit(row.boardEarth.ampere / 1000, 'kA')]] as const) : []),
    ...(row.endMax
      ? ([
          [row.isSinglePhase ? 'L-N max at the load' : 'Ik3 max at the load', withUnit(row.endMax.ampere, 'A')],
        ] as const)
      : []),
    ...(row.endShort
      ? ([
          [row.isSinglePhase ? 'L-N min at the load' : 'Ik2 min at the load', withUnit(row.endShort.ampere, 'A')],
        ] as const)
      : []),
    ...(row.endEarth ? ([['Ik1 min at the load', withUnit(row.endEarth.ampere, 'A')]] as const) : []),
    ...(row.loopOhm ? ([['Loop impedance', withUnit(row.loopOhm, 'Ω')]] as const) : []),
    ...(row.operatingA ? ([['Needed to cut off in time', withUnit(row.operatingA, 'A')]] as const) : []),
  ];
  return (
    <section aria-label={`Circuit ${title}`} className={isCurrent ? undefined : bench.stale} style={{ marginTop: 10 }}>
      <div className={bench.head}>
        <h3 className={bench.subtitle} style={{ margin: 0 }}>
          {title}
        </h3>
        <Chip state={verdictChips[row.verdict].state}>{verdictChips[row.verdict].text}</Chip>
        <span className={bench.spacer} />
        <Button
          size="compact-xs"
          variant={isAsked ? 'light' : 'default'}
          leftSection={<IconWand size={13} />}
          onClick={() => setCircuits({ asked: isAsked ? null : [row.key] })}
        >
          Propose
        </Button>
        <Button size="compact-xs" variant={shown ? 'light' : 'default'} onClick={() => setShown(!shown)}>
          Working
        </Button>
        <ReportButtons request={{ study: 'circuits', board: row.board, circuits: [row.key] }} />
      </div>
      {isAsked && <Proposed />}
      <Checks row={schedule} />
      <dl className={bench.facts}>
        {figures.map(([name, value]) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd className="figures">{value}</dd>
          </div>
        ))}
      </dl>
      <LayingForm key={parts.cable} schedule={schedule} />
      {shown && working.value && <WorkingView working={{ title: '', sections: working.value, omitted: 0 }} />}
    </section>
  );
}

/** Of the one circuit. */
function Proposed() {
  const { value, failed } = useProposals();
  if (failed) return <p className={bench.problem}>{failed}</p>;
  if (!value)
    return (
      <p className={bench.muted} role="status">
        Trying sections and devices …
      </p>
    );
  return value.map((proposal) => <OptionCards key={proposal.key} proposal={proposal} />);
}

function Checks({ row: { row } }: { row: ScheduleRow }) {
  const network = useProject((state) => state.network);
  const { rules } = installationOf(network, row.board);
  const told = (value: number | null, { unit }: CircuitCheck) => (value === null ? '' : withUnit(value, unit, 3));
  const columns: readonly SortColumn<CircuitCheck>[] = [
    {
      id: 'criterion',
      head: 'What is asked',
      text: true,
      width: 210,
      value: ({ criterion }) => criterionTexts[criterion].title,
    },
    { id: 'value', head: 'is', value: ({ value }) => value, cell: (check) => told(check.value, check) },
    { id: 'limit', head: 'at most', value: ({ limit }) => limit, cell: (check) => told(check.limit, check) },
    {
      id: 'used',
      head: '%',
      title: 'Of the limit; of disconnection the current that is needed over the smallest that flows',
      value: ({ used }) => used,
      cell: ({ verdict, used, criterion }) => (
        <Chip state={verdictChips[verdict].state}>
          {criterion === row.binding ? '▸ ' : ''}
          {used === null
            ? verdictChips[verdict].text
            : used > 99
              ? '> 9900'
              : used > 0 && used < 0.001
                ? '< 0.1'
                : formatNumber(100 * used, 3)}
        </Chip>
      ),
    },
    {
      id: 'where',
      head: 'Decided by',
      text: true,
      width: 190,
      value: ({ subject, condition }) =>
        [subject && nameIn(network, subject), condition && conditionOf(network, condition)?.name]
          .filter(Boolean)
          .join(', '),
    },
    {
      id: 'clause',
      head: 'Clause',
      text: true,
      width: 230,
      value: ({ criterion }) =>
        `${clauseOf(criterion, rules)}${criterionTexts[criterion].isRemembered ? ' (as remembered)' : ''}`,
    },
  ];
  return (
    <>
      <div style={{ overflowX: 'auto' }}>
        <SortTable
          label="What the circuit has to meet"
          columns={columns}
          rows={row.checks}
          rowId={({ criterion }) => criterion}
          current
          rowTitle={({ why }) => (why ? reasonTexts[why] : undefined)}
        />
      </div>
      {row.checks.some(({ why, verdict }) => why && verdict !== 'holds') && (
        <ul className={bench.help}>
          {row.checks.flatMap(({ criterion, why, verdict }) =>
            why && verdict !== 'holds'
              ? [<li key={criterion}>{`${criterionTexts[criterion].title}: ${reasonTexts[why]}.`}</li>]
              : [],
          )}
        </ul>
      )}
    </>
  );
}

function LayingForm({ schedule: { parts } }: { schedule: ScheduleRow }) {
  const network = useProject((state) => state.network);
  const store = useProjectStore();
  const line = find(network, 'line', parts.cable);
  const end = parts.end ? network.elements.get(parts.end) : undefined;
  const put = (element: Element, what: string): string | null => {
    const result = store.getState().commit([{ op: 'update', element }], what);
    return result.ok ? null : result.problems[0].message;
  };
  const laying = line?.laying ?? usualLaying;
  const isBuried = isInGround(laying.method);
  const fields: (keyof Laying)[] = [
    'method',
    'ambientC',
    'together',
    ...(isBuried ? (['clearance', 'soil'] as const) : (['bunching'] as const)),
    'peMm2',
    'insideMethod',
    ...(laying.insideMethod === 'none' ? [] : (['insideC', 'insideTogether'] as const)),
  ];
  return (
    <>
      {line && (
        <>
          <h4 className={bench.subtitle}>How {line.name} lies</h4>
          <div className={bench.head} style={{ alignItems: 'flex-end' }}>
            <ObjectFields
              schema={layingSchema}
              value={laying}
              fields={fields}
              words={layingWords}
              placeholders={{ peMm2: 'by the table' }}
              of={line.name}
              width={104}
              store={(part, what) => put({ ...line, laying: { ...laying, ...part } }, `${line.name}: ${what}`)}
            />
          </div>
        </>
      )}
      {(end?.kind === 'load' || end?.kind === 'asynchronousMotor' || end?.kind === 'staticDrive') && (
        <>
          <h4 className={bench.subtitle}>{end.name} on its circuit</h4>
          <div className={bench.head} style={{ alignItems: 'flex-end' }}>
            <ObjectFields
              schema={consumerSchema}
              value={consumerOf(end)}
              fields={[
                'phases',
                'use',
                'demandPercent',
                ...(end.kind === 'asynchronousMotor' ? (['startS'] as const) : []),
              ]}
              words={layingWords}
              of={end.name}
              width={104}
              store={(part, what) =>
                put({ ...end, circuit: { ...consumerOf(end), ...part } } as Element, `${end.name}: ${what}`)
              }
            />
          </div>
        </>
      )}
    </>
  );
}
