'use client';

import { createContext, useContext, useMemo, type ReactNode } from 'react';
import { useReactFlow } from '@xyflow/react';
import type { ElementId } from '@mesura/core/model/fields';
import type { Problem } from '@mesura/core/model/problem';
import { useProjectStore } from '../project/ProjectContext';
import type { ChecksAnswer } from '../workers/coreService';
import { noAnswer, useCore, type Answer } from '../workers/useCore';
import { goTo, useDesk } from './deskState';
import { SheetsProvider, useSheetFindings } from './sheetFindings';
import { allStages, stageOwning } from './stage';

const Context = createContext<Answer<ChecksAnswer>>(noAnswer);

/** Checks and findings of the whole project, recomputed with every change. */
export function FindingsProvider({ children }: { children: ReactNode }) {
  const answer = useCore('checks', (service, ticket, onProgress) => service.checks(ticket, onProgress));
  return (
    <Context.Provider value={answer}>
      <SheetsProvider>{children}</SheetsProvider>
    </Context.Provider>
  );
}

const order = { error: 0, warning: 1, assumed: 2 };
/** Errors first; those of the same severity stay in their order. */
const bySeverity = (problems: Problem[]): Problem[] => problems.sort((p, q) => order[p.severity] - order[q.severity]);

export const useChecks = (): Answer<ChecksAnswer> => useContext(Context);

export function useFindings(): Answer<Problem[]> {
  const answer = useChecks();
  const ofSheets = useSheetFindings();
  return useMemo(() => {
    const value = answer.value?.findings ?? null;
    return { ...answer, value: value && ofSheets.length > 0 ? bySeverity([...value, ...ofSheets]) : value };
  }, [answer, ofSheets]);
}

/** Goes to the field that a value was typed into: its element selected where elements are edited, the cursor in it. */
export function useGoToField(): (element: ElementId, field: string) => void {
  const store = useProjectStore();
  return (element, field) => {
    goTo(allStages()[0].id);
    store.getState().select([element]);
    useDesk.getState().set({ focusField: field });
  };
}

/** Goes to a field of the project's settings, which stand where nothing is selected. */
export function useGoToSettings(): (field: string) => void {
  const store = useProjectStore();
  return (field) => {
    goTo(allStages()[0].id);
    store.getState().select([]);
    useDesk.getState().set({ focusField: field });
  };
}

/** Goes to the place of a finding: its stage, its element selected and in view. */
export function useGoToProblem(): (problem: Problem) => void {
  const store = useProjectStore();
  const flow = useReactFlow();
  return (problem) => {
    const owner = stageOwning(problem.code);
    goTo(owner.id);
    if (!problem.element) return;
    const element = store.getState().network.elements.get(problem.element);
    if (element && owner.show?.(element.id, element.kind)) return;
    if (element) owner.found?.(element);
    store.getState().select(problem.elements ?? [problem.element]);
    if (problem.field) useDesk.getState().set({ focusField: problem.field });
    if (!element || !('x' in element)) return;
    const page = element.page ?? null;
    const turns = useDesk.getState().page !== page;
    useDesk.getState().set({ page });
    const centre = () =>
      void flow.setCenter(element.x, element.y, { zoom: Math.max(flow.getZoom(), 0.9), duration: 0 });
    // A page that is turned to is first shown as a whole.
    if (turns) requestAnimationFrame(centre);
    else centre();
  };
}
