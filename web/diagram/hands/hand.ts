/** What tools do to the project, and how they are told what happens. */
import type { ElementId } from '@mesura/core/model/fields';
import { startAt } from '@mesura/core/drawing/feeder/chain';
import { duplicateFeeder } from '@mesura/core/drawing/feeder/duplicate';
import { isDrawn } from '@mesura/core/drawing/shape/shapes';
import type { Tool } from '@mesura/core/drawing/shape/tools';
import { newId } from '../../project/newId';
import type { ProjectStore } from '../../project/store';
import { useDrawing } from '../drawingState';
import { toldTool } from '../tools';
import type { Hand, ToolEvent } from '../tools/tool';
import { joinThem } from './joining';
import { pasteAt, placeSymbol } from './putting';
import { report, tell } from '../../desk/report';
import { choose } from './choosing';

function handOf(store: ProjectStore): Hand {
  const { network, selection, commit, select } = store.getState();
  const { cursor, view } = useDrawing.getState();
  return {
    network,
    selection,
    cursor: cursor ?? view?.centre() ?? { x: 0, y: 0 },
    place: (tool, at) => void placeSymbol(store, tool, at),
    stamp: (fragment, at, label) => pasteAt(store, fragment, at, label),
    join: (from, to) => joinThem(store, from, to),
    draw(changes, label, drawn) {
      if (!report(commit(changes, label))) return false;
      useDrawing.getState().set({ lastFeeder: drawn });
      select([drawn[drawn.length - 1]]);
      return true;
    },
  };
}

/** Tells the tool in hand what has happened; false when it is not for it, or none is held. */
export function happened(store: ProjectStore, event: ToolEvent): boolean {
  const { held, set } = useDrawing.getState();
  const next = toldTool(held, event, handOf(store));
  if (next) set(next);
  return next !== null;
}

/** Takes a tool up, or puts it away when it is held already; while a feeder is being drawn it becomes its next symbol. */
export function pickTool(store: ProjectStore, tool: Tool): void {
  const { held, set } = useDrawing.getState();
  if (held?.kind === 'feeder') return void happened(store, { on: 'key', key: tool.key, shift: false });
  const isHeld = held?.kind === 'place' && held.tool?.key === tool.key;
  set({ held: isHeld ? null : { kind: 'place', tool }, cursor: null });
}

/** Begins a feeder at what is selected: a bus, or the free terminal of a symbol. */
export function beginFeeder(store: ProjectStore, from?: ElementId, at?: number): void {
  const { network, selection } = store.getState();
  const id = from ?? selection[0];
  const start = id === undefined ? null : startAt(network, id, at);
  if (!start) return tell('A feeder needs a beginning', 'Select a bus, or a symbol with a free terminal.');
  useDrawing.getState().set({ held: { kind: 'feeder', start, steps: [], ids: [] } });
}

/** The same feeder once more: of the symbol selected, or the one drawn last. */
export function sameAgain(store: ProjectStore): void {
  const { network, selection, commit } = store.getState();
  const { lastFeeder } = useDrawing.getState();
  const chosen = selection.find((id) => {
    const element = network.elements.get(id);
    return element && isDrawn(element) && element.kind !== 'bus';
  });
  // What was drawn in one go is repeated in one go, whichever of its symbols is selected.
  const [first] = lastFeeder.filter((id) => network.elements.has(id));
  const id = chosen !== undefined && !lastFeeder.includes(chosen) ? chosen : first;
  const made = id && duplicateFeeder(network, id, newId);
  if (!made) return tell('Nothing to repeat', 'Select a symbol of a feeder that hangs on a busbar, or draw one first.');
  if (report(commit(made.changes, 'Same feeder again'))) {
    choose(store, made.ids);
    useDrawing.getState().set({ lastFeeder: made.ids });
  }
}
