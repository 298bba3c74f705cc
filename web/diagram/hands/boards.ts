/** Panels of a board. */
import { addPanel } from '@mesura/core/drawing/boards/board';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import type { PanelType } from '@mesura/core/model/sheet';
import { newId } from '../../project/newId';
import type { ProjectStore } from '../../project/store';
import { useDrawing } from '../drawingState';
import { report, tell } from '../../desk/report';
import { choose } from './choosing';

/** Adds a panel to the board of what is selected: a bus, a panel or something in one. */
export function addPanelHere(store: ProjectStore, type: PanelType): void {
  const { network, selection, commit } = store.getState();
  const bus = selection.map((id) => boardOf(network, id)).find((id) => id !== null);
  if (!bus) return tell('A panel needs a board', 'Select the busbar, or a panel of the board, that it goes on.');
  const added = addPanel(network, bus, type, newId);
  if (!added) return tell('This section has its coupler', 'Another goes on the section that it leads to.');
  if (report(commit(added.changes, `Add ${type} panel`))) {
    if (type !== 'coupler') useDrawing.getState().set({ lastPanel: type });
    choose(store, [type === 'coupler' ? added.bus : added.panel]);
  }
}

function boardOf(network: Network, id: ElementId): ElementId | null {
  const element = network.elements.get(id);
  if (element?.kind === 'bus') return id;
  if (element?.kind === 'panel') return element.bus;
  for (const each of network.elements.values()) if (each.kind === 'panel' && each.members.includes(id)) return each.bus;
  return null;
}
