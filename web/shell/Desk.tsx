'use client';

import dynamic from 'next/dynamic';
import { useEffect, useMemo } from 'react';
import { Group, Panel, Separator } from 'react-resizable-panels';
import { ReactFlowProvider } from '@xyflow/react';
import { useHotkeys } from '@mantine/hooks';
import type { Change } from '@mesura/core/model/changes';
import { removalOf } from '@mesura/core/model/changes';
import type { ElementId } from '@mesura/core/model/fields';
import { Diagram } from '../diagram/Diagram';
import type { StoredBatch } from '../server/changes';
import { useFaultOverlay } from '../features/faults/useFaults';
import { pickForChart, useGradingOverlay } from '../features/grading/pick';
import { NetworkBench } from '../features/network/NetworkBench';
import { ProjectProvider, useProject, useProjectStore } from '../project/ProjectContext';
import type { LoadedProject } from '../project/store';
import { CoreProvider } from '../workers/useCore';
import { BottomLine } from './BottomLine';
import { busPlace, goTo, useDesk, stages } from '../desk/deskState';
import { FindingsProvider } from '../desk/findings';
import { SavingNotice } from './SavingNotice';
import { StageBar } from './StageBar';
import { TopLine } from './TopLine';
import classes from './desk.module.css';

// Loaded when their stage is opened: the first view comes sooner.
const FaultsBench = dynamic(() => import('../features/faults/FaultsBench').then((module) => module.FaultsBench));
const GradingBench = dynamic(() => import('../features/grading/GradingBench').then((module) => module.GradingBench));
const SheetsBench = dynamic(() => import('../features/sheets/SheetsBench').then((module) => module.SheetsBench));
const Commands = dynamic(() => import('./Commands').then((module) => module.Commands), { ssr: false });

/** The desk of one project: top line, stage bar, drawing, bench, bottom line. */
export function Desk({ project, batches }: { project: LoadedProject; batches: readonly StoredBatch[] }) {
  return (
    <ProjectProvider project={project} batches={batches}>
      <CoreProvider>
        <ReactFlowProvider>
          <FindingsProvider>
            <Surface />
          </FindingsProvider>
        </ReactFlowProvider>
      </CoreProvider>
    </ProjectProvider>
  );
}

function Surface() {
  const store = useProjectStore();
  const id = useProject((state) => state.id);
  const stage = useDesk((state) => state.stage);
  const entered = useDesk((state) => state.projectId === id);
  useEffect(() => useDesk.getState().enter(id), [id]);

  const act = (work: () => unknown) => (event: KeyboardEvent) => {
    if (isTyping()) return;
    event.preventDefault();
    work();
  };
  // Not left to the hook: it would also keep keys from radio buttons and switches that just have the focus.
  const keys: [string, () => unknown][] = [
    ['mod+z', () => store.getState().undoOne()],
    ['mod+shift+z', () => store.getState().redoOne()],
    ['mod+y', () => store.getState().redoOne()],
    ['Delete', () => removeSelected(store)],
    ['Backspace', () => removeSelected(store)],
    ['mod+a', () => selectAll(store)],
    ['q', () => turnSelected(store)],
    ...stages.map(({ id: each }, k): [string, () => unknown] => [String(k + 1), () => goTo(each)]),
  ];
  useHotkeys(
    keys.map(([key, work]) => [key, act(work), { preventDefault: false }]),
    [],
  );

  return (
    <div className={classes.desk}>
      <TopLine />
      <StageBar />
      <SavingNotice />
      <Group orientation="horizontal" className={classes.middle} id="mesura-desk">
        <Panel id="drawing" defaultSize="43%" minSize="12%" collapsible collapsedSize="0%">
          {entered && <Drawing />}
        </Panel>
        <Separator className={classes.divider} aria-label="Divider between drawing and bench" />
        <Panel id="bench" minSize="20%" collapsible collapsedSize="0%">
          <main className={classes.bench} aria-label="Bench">
            {entered && stage === 'network' && <NetworkBench />}
            {entered && stage === 'faults' && <FaultsBench />}
            {entered && stage === 'grading' && <GradingBench />}
            {entered && stage === 'sheets' && <SheetsBench />}
          </main>
        </Panel>
      </Group>
      <BottomLine />
      <Commands />
    </div>
  );
}

function Drawing() {
  const store = useProjectStore();
  const stage = useDesk((state) => state.stage);
  const faults = useFaultOverlay(stage === 'faults' || stage === 'network');
  const grading = useGradingOverlay(stage === 'grading');
  const overlay = useMemo(() => (stage === 'grading' ? grading : faults), [stage, grading, faults]);
  const pick = (id: ElementId) => {
    const element = store.getState().network.elements.get(id);
    if (stage === 'faults' && element?.kind === 'bus') useDesk.getState().set({ faultPlace: busPlace(id) });
    if (stage === 'faults' && element?.kind === 'line') {
      const place = { at: 'line' as const, element: id, fraction: 0.5 };
      useDesk.getState().set({ linePlace: place, faultPlace: place });
    }
    if (stage === 'grading') pickForChart(store, id);
    if (stage === 'sheets' && element?.kind === 'relay') useDesk.getState().set({ sheetRelay: id });
  };
  return <Diagram overlay={overlay} editable={stage === 'network'} onPick={pick} />;
}

/** True while keys belong to a text field. */
function isTyping(): boolean {
  const at = document.activeElement;
  if (at instanceof HTMLInputElement) return !['radio', 'checkbox', 'button'].includes(at.type);
  return at instanceof HTMLTextAreaElement || at instanceof HTMLSelectElement;
}

function selectAll(store: ReturnType<typeof useProjectStore>): void {
  const { network, select } = store.getState();
  select([...network.elements.values()].filter((element) => 'x' in element).map((element) => element.id));
}

function removeSelected(store: ReturnType<typeof useProjectStore>): void {
  if (useDesk.getState().stage !== 'network') return;
  const { network, selection, commit } = store.getState();
  const changes = removalOf(network, selection);
  if (changes.length > 0) commit(changes, selection.length === 1 ? 'Delete' : `Delete ${selection.length} elements`);
}

function turnSelected(store: ReturnType<typeof useProjectStore>): void {
  if (useDesk.getState().stage !== 'network') return;
  const { network, selection, commit } = store.getState();
  const changes = selection.flatMap((id): Change[] => {
    const element = network.elements.get(id);
    if (!element || !('turn' in element) || element.kind === 'bus') return [];
    return [{ op: 'update', element: { ...element, turn: ((element.turn + 90) % 360) as 0 } }];
  });
  commit(changes, 'Turn');
}
