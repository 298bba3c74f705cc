'use client';

import dynamic from 'next/dynamic';
import { useEffect, useMemo, useState } from 'react';
import { Group, Panel, Separator } from 'react-resizable-panels';
import { ReactFlowProvider } from '@xyflow/react';
import type { ElementId } from '@mesura/core/model/fields';
import { Diagram } from '../diagram/Diagram';
import { noOverlay, type Overlay } from '../diagram/picture/overlay';
import { stages } from '../stages';
import { useLoaded } from '../project/useLoaded';
import { useHere, type Here } from '../project/who';
import { ProjectProvider, useProject, useProjectStore } from '../project/ProjectContext';
import { CoreProvider } from '../workers/useCore';
import { BottomLine } from './BottomLine';
import { KeysSheet } from './KeysSheet';
import { useCondition } from '../desk/condition';
import { useDesk } from '../desk/deskState';
import { stageNamed } from '../desk/stage';
import { matches } from '../desk/keys';
import { bringIn, useExchange } from '../desk/exchange';
import { searchStore } from '../desk/search';
import { isInField, isTyping } from '../desk/typing';
import { deskActions } from './actions';
import { FindingsProvider } from '../desk/findings';
import { News } from '../desk/News';
import { SavingNotice } from './SavingNotice';
import { StageBar } from './StageBar';
import { TopLine } from './TopLine';
import classes from './desk.module.css';

const HistoryPanel = dynamic(() => import('../features/history/HistoryPanel').then((module) => module.HistoryPanel), {
  ssr: false,
});
const Exchange = dynamic(() => import('../features/exchange/Exchange').then((module) => module.Exchange), {
  ssr: false,
});
const Commands = dynamic(() => import('./Commands').then((module) => module.Commands), { ssr: false });

/** The desk of one project: top line, stage bar, drawing, bench, bottom line. */
export function Desk({ id, name, here }: { id: string; name: string; here: Here }) {
  // Before anything asks who works here.
  useState(() => useHere.setState(here));
  const loaded = useLoaded(id);
  if (!loaded) return <Opening name={name} text="Opening …" />;
  if ('problem' in loaded)
    return <Opening name={name} text={loaded.missing ? loaded.problem : `${loaded.problem} Trying again …`} />;
  return (
    <ProjectProvider project={loaded.project}>
      <CoreProvider>
        <ReactFlowProvider>
          <FindingsProvider>
            <News />
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
  const { Bench } = stageNamed(useDesk((state) => state.stage));
  const entered = useDesk((state) => state.projectId === id);
  useEffect(() => useDesk.getState().enter(id), [id]);

  const actions = useMemo(() => deskActions(store), [store]);
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      // In a window over the desk, or in a text field, keys have their own meaning.
      const { keysOpen, historyOpen } = useDesk.getState();
      if (event.defaultPrevented || keysOpen || historyOpen || useExchange.getState().incoming) return;
      // Escape leaves a field, and the keys belong to the drawing again.
      if (event.key === 'Escape' && isInField() && !searchStore.getState().opened)
        return (document.activeElement as HTMLElement).blur();
      const onControl = document.activeElement?.closest(
        'button, a, [role="slider"], [role="row"], [role="menuitem"], [role="tab"], [role="separator"]',
      );
      const action = actions.find(({ keys }) => keys.some((each) => matches(event, each)));
      if (!action || (isTyping() && !action.inFields)) return;
      if (action.editing && !stageNamed(useDesk.getState().stage).editsDrawing) return;
      // Enter and arrows stay with a button or a slider that has the focus.
      if (onControl && (event.key === 'Enter' || event.key.startsWith('Arrow')) && !event.altKey) return;
      event.preventDefault();
      action.run();
    };
    window.addEventListener('keydown', down);
    return () => window.removeEventListener('keydown', down);
  }, [actions]);

  return (
    <div
      className={classes.desk}
      onDragOver={(event) => event.dataTransfer.types.includes('Files') && event.preventDefault()}
      onDrop={(event) => {
        const [file] = event.dataTransfer.files;
        if (!file) return;
        event.preventDefault();
        void bringIn(file);
      }}
    >
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
            {entered && <Bench />}
          </main>
        </Panel>
      </Group>
      <BottomLine />
      <Commands actions={actions} />
      <KeysSheet actions={actions} />
      <HistoryPanel />
      <Exchange />
    </div>
  );
}

/** Every stage is asked in every frame, so that the hooks keep their order; only the one shown answers. */
function useStageOverlay(shown: string): Overlay {
  let overlay: Overlay | null = null;
  for (const { id, useOverlay } of stages) {
    // eslint-disable-next-line react-hooks/rules-of-hooks -- the stages are a constant list
    const own = useOverlay?.(id === shown) ?? null;
    if (id === shown) overlay = own;
  }
  return overlay ?? noOverlay;
}

function Drawing() {
  const store = useProjectStore();
  const stage = stageNamed(useDesk((state) => state.stage));
  const overlay = useStageOverlay(stage.id);
  const pick = (id: ElementId) => {
    const element = store.getState().network.elements.get(id);
    if (element) stage.pick?.(store, element);
  };
  // Where the network itself is drawn it stands as drawn; elsewhere as the condition has it.
  const condition = useCondition();
  return (
    <Diagram
      overlay={overlay}
      editable={stage.editsDrawing === true}
      condition={stage.editsDrawing ? null : condition}
      onPick={pick}
    />
  );
}
