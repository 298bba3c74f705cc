'use client';

import { ActionIcon, Button, CopyButton, SegmentedControl, Select, Tooltip } from '@mantine/core';
import { IconCheck, IconCopy, IconDownload } from '@tabler/icons-react';
import type { FlowFigures } from '@mesura/core/flow/figures';
import { csv, tabSeparated } from '@mesura/core/formats/tables/csv';
import { formatNumber } from '@mesura/core/fields/quantity';
import { settingsOf } from '@mesura/core/model/network';
import { cellsOf, SortTable } from '../../card/SortTable';
import { saveText } from '../../card/saveText';
import { Chip } from '../../desk/Chip';
import { useCondition } from '../../desk/condition';
import { useGoToProblem, useGoToSettings } from '../../desk/findings';
import { useProject } from '../../project/ProjectContext';
import { branchColumns, busColumns, loadColumns, sourceColumns, type Judged } from './columns';
import { OutageView } from './OutageView';
import { ScalePanel } from './ScalePanel';
import { StartView } from './StartView';
import { setLoad, useLoadState, type BranchFigure, type BusFigure, type LoadView } from './state';
import { allowedPercent } from './overlay';
import { useFlow } from './useLoad';
import bench from '../../card/bench.module.css';

/** Load flow in the condition of the desk, in tables and on the drawing; outages and starts on top of it. */
export function LoadBench() {
  const { view, branchFigure, busFigure } = useLoadState();
  const condition = useCondition();
  const flow = useFlow();
  const figures = flow.value?.figures;
  const goTo = useGoToProblem();
  const toSettings = useGoToSettings();
  return (
    <section aria-label="Load flow">
      <div className={bench.head} style={{ columnGap: 9 }}>
        <h2 className={bench.title}>Load flow</h2>
        <SegmentedControl
          size="xs"
          aria-label="View"
          value={view}
          onChange={(value) => setLoad({ view: value as LoadView })}
          data={[
            { value: 'branches', label: 'Branches' },
            { value: 'buses', label: 'Buses' },
            { value: 'sources', label: 'Sources and loads' },
            { value: 'outages', label: 'Outages' },
            { value: 'start', label: 'Motor start' },
          ]}
        />
        <span className={bench.spacer} />
        <Button size="compact-xs" variant="default" onClick={() => toSettings('loadLimits.lowPercent')}>
          Limits
        </Button>
        {figures && (view === 'branches' || view === 'buses' || view === 'sources') && (
          <Copies figures={figures} view={view} condition={condition.name} />
        )}
      </div>
      <ScalePanel />
      {flow.value?.problems.map((problem) => (
        <p key={`${problem.code} ${problem.message}`} className={bench.problem}>
          <Chip state={problem.severity === 'error' ? 'fail' : 'warn'}>
            {problem.severity === 'error' ? 'no solution' : 'note'}
          </Chip>{' '}
          {problem.message}{' '}
          {problem.element && (
            <button type="button" className={bench.input} onClick={() => goTo(problem)}>
              Go there
            </button>
          )}
        </p>
      ))}
      {flow.failed && <p className={bench.muted}>The calculation failed: {flow.failed}</p>}
      {view === 'outages' ? (
        <OutageView />
      ) : view === 'start' ? (
        <StartView />
      ) : (
        figures && <FlowTables figures={figures} view={view} current={flow.isCurrent} />
      )}
      <div className={bench.head} style={{ marginTop: 8 }}>
        <Select
          size="xs"
          w={150}
          label="At branches"
          allowDeselect={false}
          value={branchFigure}
          data={[
            { value: 'loading', label: 'loading' },
            { value: 'current', label: 'current' },
            { value: 'power', label: 'power' },
          ]}
          onChange={(value) => setLoad({ branchFigure: value as BranchFigure })}
        />
        <Select
          size="xs"
          w={150}
          label="At buses"
          allowDeselect={false}
          value={busFigure}
          data={[
            { value: 'percent', label: 'voltage in %' },
            { value: 'kv', label: 'voltage in kV' },
          ]}
          onChange={(value) => setLoad({ busFigure: value as BusFigure })}
        />
        {figures?.converged && view !== 'outages' && view !== 'start' && <BalanceNote figures={figures} />}
      </div>
    </section>
  );
}

/** Figures with what they are held against. */
function useJudged(): Judged {
  const { limits: which } = useCondition();
  const limits = useProject((state) => settingsOf(state.network).loadLimits);
  const emergency = which === 'emergency';
  return { limits, emergency, allowed: allowedPercent(limits, emergency) };
}

function FlowTables({
  figures,
  view,
  current,
}: {
  figures: FlowFigures;
  view: 'buses' | 'branches' | 'sources';
  current: boolean;
}) {
  const judged = useJudged();
  const select = useProject((state) => state.select);
  const selected = useProject((state) => (state.selection.length === 1 ? state.selection[0] : null));
  if (!figures.converged) return <p className={bench.muted}>There is no solution to show.</p>;
  if (view === 'buses')
    return (
      <SortTable
        label="Bus voltages"
        columns={busColumns(judged)}
        rows={figures.buses}
        rowId={({ bus }) => bus}
        current={current}
        chosen={selected}
        onChoose={({ bus }) => select([bus])}
      />
    );
  if (view === 'branches')
    return (
      <SortTable
        label="Branch flows"
        columns={branchColumns(judged)}
        rows={figures.branches}
        rowId={({ element }) => element}
        current={current}
        chosen={selected}
        onChoose={({ element }) => select([element])}
      />
    );
  return (
    <>
      <SortTable
        label="Sources"
        columns={sourceColumns}
        rows={figures.sources}
        rowId={({ element, terminal }) => `${element}:${terminal}`}
        current={current}
        onChoose={({ element }) => select([element])}
      />
      <h3 className={bench.subtitle}>Loads</h3>
      <SortTable
        label="Loads"
        columns={loadColumns}
        rows={figures.loads}
        rowId={({ element, terminal }) => `${element}:${terminal}`}
        current={current}
        onChoose={({ element }) => select([element])}
      />
    </>
  );
}

function BalanceNote({ figures: { balance, taps } }: { figures: FlowFigures }) {
  const { sourceMw, sourceMvar, loadMw, loadMvar, lossMw, lossMvar } = balance;
  const pair = (mw: number, mvar: number) => `${formatNumber(mw)} MW, ${formatNumber(mvar)} Mvar`;
  const lossShare = sourceMw > 0 ? ` (${formatNumber((100 * lossMw) / sourceMw, 3)} %)` : '';
  return (
    <p className={bench.muted} style={{ margin: 0, alignSelf: 'end' }}>
      Sources {pair(sourceMw, sourceMvar)} · loads {pair(loadMw, loadMvar)} · losses {pair(lossMw, lossMvar)}
      {lossShare}
      {taps.length > 0 && (
        <>
          <br />
          Taps:{' '}
          {taps
            .map(({ name, position }) => `${name} ${position > 0 ? '+' : ''}${String(position).replace('-', '−')}`)
            .join(', ')}
        </>
      )}
    </p>
  );
}

function Copies({
  figures,
  view,
  condition,
}: {
  figures: FlowFigures;
  view: 'buses' | 'branches' | 'sources';
  condition: string;
}) {
  const judged = useJudged();
  const cells =
    view === 'buses'
      ? cellsOf(busColumns(judged), figures.buses)
      : view === 'branches'
        ? cellsOf(branchColumns(judged), figures.branches)
        : cellsOf(sourceColumns, figures.sources);
  return (
    <>
      <CopyButton value={tabSeparated(cells)}>
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
          onClick={() => saveText(`load flow ${view} ${condition}.csv`, csv(cells))}
        >
          <IconDownload size={14} />
        </ActionIcon>
      </Tooltip>
    </>
  );
}
