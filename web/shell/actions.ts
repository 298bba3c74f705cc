import { drawingActions } from '../diagram/hands/actions';
import { arrangePage } from '../diagram/hands/arrangePage';
import { addPage } from '../diagram/around/PageTabs';
import { knownExporters } from '@mesura/core/formats/known';
import type { Action } from '../desk/actions';
import { chooseFile, drawOut, sendOut } from '../desk/exchange';
import { goTo, useDesk } from '../desk/deskState';
import { stages } from '../stages';
import { openSearch } from '../desk/search';
import { toData } from '../desk/typing';
import type { ProjectStore } from '../project/store';

/** A project file with its notes comes from the server, everything else from the model on the desk. */
export const exportAs = (store: ProjectStore, exporter: string): void =>
  exporter === 'project' ? window.location.assign(`/api/projects/${store.getState().id}/file`) : sendOut(exporter);

/** Whatever can be done on the desk. */
export function deskActions(store: ProjectStore): Action[] {
  const { set } = useDesk.getState();
  return [
    ...drawingActions(store),
    {
      id: 'arrange',
      title: 'Arrange the page automatically; what is pinned stays',
      keys: [],
      group: 'Drawing',
      editing: true,
      run: () => void arrangePage(store),
    },
    { id: 'page', title: 'Add page', keys: [], group: 'Drawing', editing: true, run: () => addPage(store) },
    ...stages.map(({ id, title }, k): Action => ({
      id: `stage-${id}`,
      title: `Go to ${title}`,
      // Digits lead to the first nine; the others are found by name.
      keys: k < 9 ? [String(k + 1)] : [],
      group: 'Desk',
      run: () => goTo(id),
    })),
    ...stages.flatMap((stage) => stage.actions?.(store) ?? []),
    {
      id: 'data',
      title: 'To the data of what is selected',
      keys: ['F2'],
      group: 'Desk',
      run: toData,
    },
    { id: 'undo', title: 'Undo', keys: ['mod+z'], group: 'Desk', run: () => store.getState().undoOne() },
    { id: 'redo', title: 'Redo', keys: ['mod+y', 'mod+shift+z'], group: 'Desk', run: () => store.getState().redoOne() },
    {
      id: 'commands',
      title: 'Find or do',
      keys: ['mod+k'],
      group: 'Desk',
      inFields: true,
      run: openSearch,
    },
    {
      id: 'findings',
      title: 'Findings: open or close',
      keys: [],
      group: 'Desk',
      run: () => set({ findingsOpen: !useDesk.getState().findingsOpen }),
    },
    {
      id: 'history',
      title: 'History: changes, versions',
      keys: [],
      group: 'Desk',
      run: () => set({ historyOpen: true }),
    },
    { id: 'keys', title: 'List of keys', keys: ['?'], group: 'Desk', run: () => set({ keysOpen: true }) },
    { id: 'import', title: 'Import a file into this project', keys: [], group: 'Desk', run: chooseFile },
    ...(['svg', 'png', 'pdf', 'dxf'] as const).map((form): Action => ({
      id: `drawing-${form}`,
      title: `Export: this page of the drawing (${form.toUpperCase()})`,
      keys: [],
      group: 'Desk',
      run: () => drawOut(form),
    })),
    ...knownExporters.map(({ id, title, extension }): Action => ({
      id: `export-${id}`,
      title: `Export: ${title.toLowerCase()} (${extension.toUpperCase()})`,
      keys: [],
      group: 'Desk',
      run: () => exportAs(store, id),
    })),
  ];
}
