'use client';

import { useMemo, useState } from 'react';
import { Button, Menu, Select } from '@mantine/core';
import { IconClipboardText, IconPlus, IconWand } from '@tabler/icons-react';
import { circuitDrawn } from '@mesura/core/lowVoltage/loadList';
import { installationOf } from '@mesura/core/lowVoltage/demand';
import { formatNumber } from '@mesura/core/fields/quantity';
import { duplicateFeeder } from '@mesura/core/drawing/feeder/duplicate';
import type { Change } from '@mesura/core/model/changes';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn, ofKind } from '@mesura/core/model/network';
import { ReportButtons } from '../../card/ReportButtons';
import { report, tell } from '../../desk/report';
import { newId } from '../../project/newId';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { CircuitCard } from './CircuitCard';
import { CircuitLabels } from './CircuitLabels';
import { FeedingPoint } from './FeedingPoint';
import { InstallationForm } from './InstallationForm';
import { PasteList } from './PasteList';
import { ProposalsView } from './ProposalsView';
import { Schedule } from './Schedule';
import { circuitFilters, setCircuits, useCircuitsState, type CircuitFilter } from './state';
import { useBoardRows, useCircuits } from './useCircuits';
import bench from '../../card/bench.module.css';
import { Done } from '../../workers/Done';

const filterTitles: Readonly<Record<CircuitFilter, string>> = {
  all: 'all circuits',
  short: 'something is short',
  doubtful: 'doubtful',
  unknown: 'not known',
};

/** A board's circuits as a schedule; a row opens the circuit. */
export function CircuitsBench() {
  const network = useProject((state) => state.network);
  const selection = useProject((state) => state.selection);
  const store = useProjectStore();
  const { value, isCurrent, progress, failed } = useCircuits();
  const { view, board: wanted, chosen, filter } = useCircuitsState();
  const [pasting, setPasting] = useState(false);
  const boards = useMemo(
    () => ofKind(network, 'bus').filter(({ nominalKv, system }) => system === 'ac' && nominalKv <= 1),
    [network],
  );
  const known = value?.boards ?? [];
  const selected = boards.find(({ id }) => id === selection[0])?.id;
  // The board with most circuits, where nobody has chosen one.
  const most = known.reduce<(typeof known)[number] | null>((p, q) => (!p || q.circuits > p.circuits ? q : p), null);
  const ofChosen = value?.rows.find(({ key }) => key === chosen)?.board;
  const board =
    (wanted && network.elements.has(wanted) ? wanted : null) ??
    ofChosen ??
    selected ??
    most?.board ??
    boards[0]?.id ??
    null;
  const all = useBoardRows(network, value, board);
  const rows = filter === 'all' ? all : all.filter(({ row }) => row.verdict === filter);
  const figures = known.find((each) => each.board === board);
  const count = (verdict: string) => all.filter(({ row }) => row.verdict === verdict).length;
  const open = all.find(({ row }) => row.key === chosen) ?? null;

  const commit = (changes: readonly Change[], label: string) => report(store.getState().commit(changes, label));
  const add = (isMotor: boolean) => {
    const { network: now } = store.getState();
    const drawn = board && circuitDrawn(now, board, isMotor, newId);
    if (!drawn) return tell('No circuit is drawn', 'The board has no room for another circuit.');
    const changes = drawn.elements.map((element): Change => ({
      op: now.elements.has(element.id) ? 'update' : 'add',
      element,
    }));
    if (commit(changes, `New circuit of ${nameIn(now, board)}`)) setCircuits({ chosen: drawn.parts.device });
  };
  const duplicate = () => {
    const { network: now } = store.getState();
    const first = open?.row.switches[0] ?? open?.row.cables[0]?.element;
    const copy = first && duplicateFeeder(now, first, newId);
    if (!copy) return tell('No circuit is drawn', 'This circuit hangs on no busbar.');
    commit(copy.changes, `${nameIn(now, first)} once more`);
  };

  if (boards.length === 0)
    return (
      <section aria-label="Circuits">
        <div className={bench.head}>
          <h2 className={bench.title}>Circuits</h2>
        </div>
        <p className={bench.muted}>
          The network has no busbar of low voltage. Draw a transformer with its board, or begin with what is given at a
          main switch.
        </p>
        <FeedingPoint />
      </section>
    );
  return (
    <section aria-label="Circuits" style={{ display: 'flex', flexDirection: 'column', minHeight: '100%' }}>
      <div className={bench.head}>
        <h2 className={bench.title}>Circuits</h2>
        <Select
          size="xs"
          w={190}
          aria-label="Board"
          allowDeselect={false}
          searchable
          value={board}
          data={boards.map(({ id, name }) => {
            const circuits = known.find((each) => each.board === id)?.circuits ?? 0;
            return { value: id, label: circuits > 0 ? `${name} (${circuits})` : name };
          })}
          onChange={(next) => setCircuits({ board: next as ElementId, chosen: null, asked: null, view: 'schedule' })}
        />
        <Done of={progress} label="Judging circuits" />
        <span className={bench.spacer} />
        {board && <CircuitLabels board={board} />}
        <ReportButtons request={{ study: 'circuits', board }} label="Schedule" />
      </div>
      <div className={bench.head}>
        <span className={bench.muted} role="status" aria-label="Circuits, in short">
          {all.length} circuits{count('short') > 0 && `, ${count('short')} short`}
          {count('doubtful') > 0 && `, ${count('doubtful')} doubtful`}
          {count('unknown') > 0 && `, ${count('unknown')} not known`}
        </span>
        {figures && (
          <span
            className={bench.muted}
            aria-label="Load of the board"
            title="Design currents of L1, L2, L3, all circuits together"
          >
            L1 {formatNumber(figures.phasesA[0], 3)}, L2 {formatNumber(figures.phasesA[1], 3)}, L3{' '}
            {formatNumber(figures.phasesA[2], 3)} A
            {figures.unbalance > 0.001 && `, unbalance ${formatNumber(100 * figures.unbalance, 2)} %`}
          </span>
        )}
        <span className={bench.spacer} />
        <Select
          size="xs"
          w={150}
          aria-label="Which circuits"
          allowDeselect={false}
          value={filter}
          data={circuitFilters.map((each) => ({ value: each, label: filterTitles[each] }))}
          onChange={(next) => setCircuits({ filter: next as CircuitFilter })}
        />
      </div>
      <div className={bench.head}>
        <Menu withinPortal>
          <Menu.Target>
            <Button size="compact-xs" variant="default" leftSection={<IconPlus size={13} />}>
              Circuit
            </Button>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item onClick={() => add(false)}>for a load</Menu.Item>
            <Menu.Item onClick={() => add(true)}>for a motor</Menu.Item>
            <Menu.Item disabled={!open} onClick={duplicate}>
              like the chosen one
            </Menu.Item>
          </Menu.Dropdown>
        </Menu>
        <Button
          size="compact-xs"
          variant="default"
          leftSection={<IconClipboardText size={13} />}
          onClick={() => setPasting(true)}
        >
          Load list
        </Button>
        <Button
          size="compact-xs"
          variant={view === 'proposals' ? 'light' : 'default'}
          leftSection={<IconWand size={13} />}
          disabled={all.length === 0}
          onClick={() =>
            setCircuits(
              view === 'proposals'
                ? { view: 'schedule', asked: null }
                : { view: 'proposals', asked: all.map(({ row }) => row.key) },
            )
          }
        >
          Propose for the board
        </Button>
        <FeedingPoint />
      </div>
      {failed && <p className={bench.problem}>{failed}</p>}
      {!value ? (
        <p className={bench.muted} role="status">
          Judging circuits …
        </p>
      ) : view === 'proposals' ? (
        <ProposalsView rows={all} />
      ) : rows.length === 0 ? (
        <p className={bench.muted}>
          {all.length === 0
            ? 'This board supplies nothing yet: add a circuit, or paste a load list.'
            : 'None of this kind.'}
        </p>
      ) : (
        <Schedule rows={rows} isCurrent={isCurrent} isShort={open !== null} />
      )}
      {view === 'schedule' && open && <CircuitCard key={open.row.key} schedule={open} isCurrent={isCurrent} />}
      {view === 'schedule' && board && !open && (
        <InstallationForm board={board} installation={installationOf(network, board)} />
      )}
      {pasting && board && <PasteList board={board} onClose={() => setPasting(false)} />}
    </section>
  );
}
