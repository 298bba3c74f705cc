'use client';

import dynamic from 'next/dynamic';
import { useEffect, useMemo } from 'react';
import { Group, Panel, Separator } from 'react-resizable-panels';
import { ReactFlowProvider } from '@xyflow/react';
import type { ElementId } from '@mesura/core/model/fields';
import { Diagram } from '../diagram/Diagram';
import { useFaultOverlay } from '../features/faults/useFaults';
import { pickForChart, useGradingOverlay } from '../features/grading/pick';
import { NetworkBench } from '../features/network/NetworkBench';
import { useLoaded } from '../project/useLoaded';
import { ProjectProvider, useProject, useProjectStore } from '../project/ProjectContext';
import { CoreProvider } from '../workers/useCore';
import { BottomLine } from './BottomLine';
import { KeysSheet } from './KeysSheet';
import { busPlace, useDesk } from '../desk/deskState';
import { matches } from '../desk/keys';
import { searchStore } from '../desk/search';
import { isInField, isTyping } from '../desk/typing';
import { deskActions } from './actions';
import { FindingsProvider } from '../desk/findings';
import { SavingNotice } from './SavingNotice';
import { StageBar } from './StageBar';
import { TopLine } from './TopLine';
import classes from './desk.module.css';

// Loaded when their stage is opened: the first view comes sooner.
const FaultsBench = dynamic(() => import('../features/faults/FaultsBench').then((module) => module.FaultsBench));
const GradingBench = dynamic(() => import('../features/grading/GradingBench').then((module) => module.GradingBench));
const SheetsBench = dynamic(() => import('../features/sheets/SheetsBench').then((module) => module.SheetsBench));
const HistoryPanel = dynamic(() => import('../features/history/HistoryPanel').then((module) => module.HistoryPanel), {
  ssr: false,
});
const Commands = dynamic(() => import('./Commands').then((module) => module.Commands), { ssr: false });

/** The desk of one project: top line, stage bar, drawing, bench, bottom line. */
export function Desk({ id, name }: { id: string; name: string }) {
  const loaded = useLoaded(id);
  if (!loaded) return <Opening name={name} text="Opening …" />;
  if ('problem' in loaded)
    return <Opening name={name} text={loaded.missing ? loaded.problem : `${loaded.problem} Trying again …`} />;
  return (
    <ProjectProvider project={loaded.project}>
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

function Opening({ name, text }: { name: string; text: string }) {
  return (
    <div className={classes.opening} role="status" aria-label="Opening">
      <strong>{name}</strong> {text}
    </div>
  );
}

function Surface() {
  const store = useProjectStore();
  const id = useProject((state) => state.id);
  const stage = useDesk((state) => state.stage);
  const entered = useDesk((state) => state.projectId === id);
  useEffect(() => useDesk.getState().enter(id), [id]);

  const actions = useMemo(() => deskActions(store), [store]);
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      // In a window over the desk, or in a text field, keys have their own meaning.
      const { keysOpen, historyOpen } = useDesk.getState();
      if (event.defaultPrevented || keysOpen || historyOpen) return;
      // Escape leaves a field, and the keys belong to the drawing again.
      if (event.key === 'Escape' && isInField() && !searchStore.getState().opened)
        return (document.activeElement as HTMLElement).blur();
      const onControl = document.activeElement?.closest(
        'button, a, [role="slider"], [role="row"], [role="menuitem"], [role="tab"], [role="separator"]',
      );
      const action = actions.find(({ keys }) => keys.some((each) => matches(event, each)));
      if (!action || (isTyping() && !action.inFields)) return;
      if (action.editing && useDesk.getState().stage !== 'network') return;
      // Enter and arrows stay with a button or a slider that has the focus.
      if (onControl && (event.key === 'Enter' || event.key.startsWith('Arrow')) && !event.altKey) return;
      event.preventDefault();
      action.run();
    };
    window.addEventListener('keydown', down);
    return () => window.removeEventListener('keydown', down);
  }, [actions]);

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
      <Commands actions={actions} />
      <KeysSheet actions={actions} />
      <HistoryPanel />
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
