'use client';

import { useState } from 'react';
import { ActionIcon, Button, CopyButton, SegmentedControl, Tabs, Tooltip } from '@mantine/core';
import { IconAdjustments, IconArrowsDiff, IconCheck, IconCopy, IconDownload, IconX } from '@tabler/icons-react';
import { csv, tabSeparated } from '@mesura/core/formats/tables/csv';
import { peakMethodTitles } from '@mesura/core/faults/iec60909/peak';
import { faultKinds, faultKindTitles, phasesTitle, shortKindTitles, type FaultKind } from '@mesura/core/faults/kinds';
import { nameOf } from '@mesura/core/model/element';
import type { Problem } from '@mesura/core/model/problem';
import type { FaultRow } from '@mesura/core/studies/engine';
import { Chip } from '../../desk/Chip';
import { useCondition } from '../../desk/condition';
import { useElement, useProject } from '../../project/ProjectContext';
import { ElementForm } from '../../card/ElementForm';
import { formatNumber } from '@mesura/core/fields/quantity';
import { saveText } from '../../card/saveText';
import { ComparePanel, firstAgainst } from './ComparePanel';
import { AlongLine } from './AlongLine';
import { Contributions } from './Contributions';
import { FaultTable } from './FaultTable';
import { figureColumns, type FigureColumn } from './columns';
import { OverTime } from './OverTime';
import { BranchTable, VoltageTable } from './PlaceTables';
import { MethodSelect, SetupPanel, useSetupChange } from './SetupPanel';
import { useFaultDetail, useFaultTable } from './useFaults';
import { samePlace, setFaults, tagFigures, tagTitles, useFaultsState, type ArrowFigure, type TagFigure } from './state';
import { FaultReportButton } from './FaultReportButton';
import { WorkingView } from '../../card/WorkingView';
import bench from '../../card/bench.module.css';
import classes from './faults.module.css';

/** Rows as a spreadsheet takes them: tabs, decimal point, full digits. */
function tableText(
  rows: readonly FaultRow[],
  columns: readonly FigureColumn[],
  condition: string,
  separator: 'tab' | 'csv',
): string {
  const cells = [
    ['Place', 'kV', 'Kind', 'Condition', ...columns.map(({ head }) => head.replaceAll('″', '"')), 'Remark'],
    ...rows.map((row) => [
      row.name,
      row.nominalKv,
      faultKindTitles[row.kind],
      condition,
      ...columns.map((column) => {
        const value = column.value(row);
        return value === null ? '' : Number(value.toPrecision(6));
      }),
      row.problems.map(({ message }) => message).join('; '),
    ]),
  ];
  return separator === 'csv' ? csv(cells) : tabSeparated(cells);
}

export function FaultsBench() {
  const setup = useFaultsState((state) => state.setup);
  const condition = useCondition();
  const change = useSetupChange();
  const chosen = useFaultsState((state) => state.place);
  const against = useFaultsState((state) => state.against);
  const [open, setOpen] = useState(false);
  const table = useFaultTable();
  const rows = table.value?.rows ?? [];
  const columns = figureColumns(setup);
  const kinds = setup.method === 'c37' ? faultKinds.filter((kind) => kind !== '2phE') : faultKinds;
  return (
    <section aria-label="Fault currents">
      <div className={bench.head} style={{ columnGap: 9 }}>
        <h2 className={bench.title}>Fault currents</h2>
        <SegmentedControl
          size="xs"
          value={setup.kind}
          onChange={(value) => change({ kind: value as FaultKind })}
          data={kinds.map((value) => ({ value, label: shortKindTitles[value] }))}
          aria-label="Kind of fault"
        />
        <MethodSelect />
        <span className={bench.spacer} />
        <Button
          size="compact-xs"
          variant={open ? 'light' : 'default'}
          aria-expanded={open}
          leftSection={<IconAdjustments size={13} />}
          onClick={() => setOpen(!open)}
        >
          Options
        </Button>
        <Button
          size="compact-xs"
          variant={against ? 'light' : 'default'}
          aria-pressed={against !== null}
          leftSection={<IconArrowsDiff size={13} />}
          onClick={() => setFaults({ against: against ? null : firstAgainst(condition.id), comparedBus: null })}
        >
          Compare
        </Button>
        {!against && (
          <>
            {setup.method === 'iec60909' && <FaultReportButton />}
            <CopyButton value={tableText(rows, columns, condition.name, 'tab')}>
              {({ copied, copy }) => (
                <Tooltip label={copied ? 'Copied' : 'Copy the table'} openDelay={300}>
                  <ActionIcon variant="default" size={24} aria-label="Copy the table" onClick={copy}>
                    {copied ? <IconCheck size={14} /> : <IconCopy size={14} />}
                  </ActionIcon>
                </Tooltip>
              )}
            </CopyButton>
            <Tooltip label="Save as CSV" openDelay={300}>
              <ActionIcon
                variant="default"
                size={24}
                aria-label="Save as CSV"
                onClick={() =>
                  saveText(
                    `faults ${setup.kind} ${condition.name}.csv`,
                    tableText(rows, columns, condition.name, 'csv'),
                  )
                }
              >
                <IconDownload size={14} />
              </ActionIcon>
            </Tooltip>
          </>
        )}
      </div>
      {open && <SetupPanel />}
      {against && <ComparePanel />}
      <StudyProblems problems={table.value?.problems ?? []} rows={rows} />
      {!against && (
        <div className={chosen ? classes.short : undefined}>
          <FaultTable rows={rows} current={table.isCurrent} />
        </div>
      )}
      <p className={bench.muted} style={{ margin: '4px 8px 0' }}>
        <StudyNote />
      </p>
      {!against && <OnDrawing />}
      {table.failed && <p className={bench.muted}>The calculation failed: {table.failed}</p>}
      {table.value && rows.length === 0 && (
        <p className={bench.muted}>There is no bus yet. Place one in the Network stage.</p>
      )}
      {!against && <FaultCard rows={rows} isCurrent={table.isCurrent} />}
    </section>
  );
}

/** Which figures stand on the drawing. */
function OnDrawing() {
  const { tag, arrows, setup } = useFaultsState();
  const change = useSetupChange();
  const iec = setup.method === 'iec60909';
  return (
    <div className={bench.head} style={{ margin: '4px 8px 0', columnGap: 9 }}>
      <span className={bench.muted}>On the drawing</span>
      <SegmentedControl
        size="xs"
        aria-label="Figure at buses"
        value={tag}
        onChange={(value) => {
          setFaults({ tag: value as TagFigure });
          // Breaking and thermal currents are found only where they are asked for.
          if ((value === 'ib' || value === 'ith') && iec) change({ durations: true });
        }}
        data={tagFigures.map((value) => ({
          value,
          label: tagTitles[value],
          disabled: !iec && (value === 'ib' || value === 'ith'),
        }))}
      />
      <SegmentedControl
        size="xs"
        aria-label="Contributions"
        value={arrows}
        onChange={(value) => setFaults({ arrows: value as ArrowFigure })}
        data={[
          { value: 'current', label: 'kA' },
          { value: 'share', label: '% of the fault current' },
        ]}
      />
    </div>
  );
}

/** What stands behind the figures, in a line. */
function StudyNote() {
  const { method, peak, outage, phaseR, phaseX, earthR, earthX, kind, odd, current, prefaultPercent } = useFaultsState(
    (state) => state.setup,
  );
  const { sources, name } = useCondition();
  const out = useElement(outage);
  const impeded = method !== 'c37' && (phaseR || phaseX || ((kind === '1ph' || kind === '2phE') && (earthR || earthX)));
  const basis =
    method === 'iec60909'
      ? `IEC 60909-0:2016, ${sources} currents; peak by ${peakMethodTitles[peak]}`
      : method === 'c37'
        ? `IEEE C37.010 and C37.13, ${current} at ${prefaultPercent} % voltage`
        : `From the load flow, ${sources} sources; no voltage or correction factors`;
  return (
    <>
      {name}: {basis}
      {kind !== '3ph' && odd !== 0 && method !== 'c37' ? `; ${phasesTitle({ kind, odd })}` : ''}
      {impeded ? '; with fault impedance' : ''}
      {out ? `; without ${nameOf(out)}` : ''}
    </>
  );
}

/** A load flow that does not converge leaves no rows to speak for themselves. */
function StudyProblems({ problems, rows }: { problems: readonly Problem[]; rows: readonly FaultRow[] }) {
  const select = useProject((state) => state.select);
  if (rows.some((row) => row.result)) return null;
  return problems
    .filter((problem) => problem.severity === 'error')
    .map((problem) => (
      <p key={problem.message} className={bench.problem}>
        <Chip state="fail">fault</Chip>{' '}
        <button type="button" className={bench.input} onClick={() => problem.element && select([problem.element])}>
          {problem.message}
        </button>
      </p>
    ));
}

function FaultCard({ rows, isCurrent }: { rows: readonly FaultRow[]; isCurrent: boolean }) {
  const chosen = useFaultsState((state) => state.place);
  const element = useElement(chosen ? chosen.element : null);
  const detail = useFaultDetail(element ? chosen : null);
  const [tab, setTab] = useState<string | null>('faults');
  const found = rows.find((each) => samePlace(each.place, chosen));
  // While the table is made anew for a place that has moved along its line the card stays, and with it the focus.
  const [last, setLast] = useState(found);
  if (found && found !== last) setLast(found);
  const row = found ?? (!isCurrent && last?.place.element === chosen?.element ? last : undefined);
  if (!element || !row)
    return (
      <p className={bench.muted}>
        Choose a bus or a line, here or on the drawing, to see where its current comes from, and the working.
      </p>
    );
  const shown = detail.value;
  const along = chosen?.at === 'line' ? chosen : null;
  const overTime = row.method === 'iec60909' && row.result ? chosen : null;
  const panel = (make: (value: NonNullable<typeof shown>) => React.ReactNode) =>
    row.result ? shown && make(shown) : <Missing row={row} />;
  return (
    <article className={bench.card} aria-label={`Card of ${row.name}`}>
      <Tabs value={tab} onChange={setTab} keepMounted={false}>
        <Tabs.List pl={14}>
          <strong style={{ alignSelf: 'center', marginRight: 12 }}>{row.name}</strong>
          <Tabs.Tab value="data">Data</Tabs.Tab>
          <Tabs.Tab value="faults">Faults here</Tabs.Tab>
          <Tabs.Tab value="currents">Currents</Tabs.Tab>
          <Tabs.Tab value="voltages">Voltages</Tabs.Tab>
          {along && <Tabs.Tab value="along">Along the line</Tabs.Tab>}
          {overTime && <Tabs.Tab value="time">Over time</Tabs.Tab>}
          <Tabs.Tab value="working">Working</Tabs.Tab>
          <ActionIcon
            variant="subtle"
            color="gray"
            size={22}
            ml="auto"
            mr={8}
            style={{ alignSelf: 'center' }}
            aria-label="Close card"
            onClick={() => setFaults({ place: null })}
          >
            <IconX size={14} />
          </ActionIcon>
        </Tabs.List>
        <div className={`${bench.cardBody} ${detail.isCurrent || tab === 'data' ? '' : bench.stale}`}>
          <Tabs.Panel value="data">
            <ElementForm elements={[element]} />
          </Tabs.Panel>
          <Tabs.Panel value="faults">
            {panel((value) => (
              <Contributions row={row} detail={value} />
            ))}
          </Tabs.Panel>
          <Tabs.Panel value="currents">
            {panel((value) => (
              <BranchTable branches={value.branches} />
            ))}
          </Tabs.Panel>
          <Tabs.Panel value="voltages">
            {panel((value) => (
              <VoltageTable buses={value.buses} />
            ))}
          </Tabs.Panel>
          {along && (
            <Tabs.Panel value="along">
              <AlongLine place={along} />
            </Tabs.Panel>
          )}
          {overTime && (
            <Tabs.Panel value="time">
              <OverTime place={overTime} row={row} />
            </Tabs.Panel>
          )}
          <Tabs.Panel value="working">
            {panel((value) =>
              value.working ? (
                <WorkingView working={value.working} />
              ) : (
                <p className={bench.muted}>Inside a line this method gives the nodal solution only.</p>
              ),
            )}
          </Tabs.Panel>
        </div>
      </Tabs>
    </article>
  );
}

function Missing({ row }: { row: FaultRow }) {
  const select = useProject((state) => state.select);
  return (
    <>
      <p className={bench.muted}>This fault cannot be computed:</p>
      <ul className={bench.help}>
        {row.problems.map((problem) => (
          <li key={problem.message}>
            {problem.element ? (
              <button type="button" className={bench.input} onClick={() => select([problem.element!])}>
                {problem.message}
              </button>
            ) : (
              problem.message
            )}
          </li>
        ))}
      </ul>
    </>
  );
}

export const kiloamperes = (amperes: number): string => formatNumber(amperes / 1000);
