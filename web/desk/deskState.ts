/** What the desk shows just now: stage, condition, page, what stands over the bench. Not part of the project; each stage keeps its own state. */
import { create } from 'zustand';
import { maximumSources } from '@mesura/core/model/condition';
import type { Element } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { allStages, stageNamed } from './stage';

interface DeskState {
  projectId: string;
  stage: string;
  /** The condition of the system that everything is shown in. */
  condition: ElementId;
  /** Page of the drawing; null: the first. */
  page: ElementId | null;
  /** Field of the selected element that the data form is to put the cursor into. */
  focusField: string | null;
  findingsOpen: boolean;
  /** Whether the list of changes stands over the bench. */
  historyOpen: boolean;
  keysOpen: boolean;
  /** Pointer on a chart or the drawing, as text for the bottom line. */
  readout: string;
  set(part: Partial<DeskState>): void;
  enter(projectId: string): void;
}

export const useDesk = create<DeskState>()((set, get) => ({
  projectId: '',
  stage: '',
  condition: maximumSources.id,
  page: null,
  focusField: null,
  findingsOpen: false,
  historyOpen: false,
  keysOpen: false,
  readout: '',
  set: (part) => set(part),
  enter: (projectId) => {
    if (get().projectId === projectId) return;
    for (const stage of allStages()) stage.enter?.(projectId);
    set({
      projectId,
      stage: stageNamed(new URLSearchParams(window.location.search).get('stage')).id,
      condition: maximumSources.id,
      page: null,
      findingsOpen: false,
      historyOpen: false,
      keysOpen: false,
    });
  },
}));

/** Changes the stage and puts it into the address, so that a reload stays there. */
export function goTo(stage: string): void {
  useDesk.getState().set({ stage, readout: '' });
  const url = new URL(window.location.href);
  url.searchParams.set('stage', stage);
  window.history.replaceState(window.history.state, '', url);
}

/** Goes to the stage that shows an element which is not on the drawing; false where none does. */
export function showStage(id: ElementId, kind: Element['kind']): boolean {
  const home = allStages().find(({ show }) => show?.(id, kind));
  if (home) goTo(home.id);
  return home !== undefined;
}
