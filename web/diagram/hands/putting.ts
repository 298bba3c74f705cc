/** What is put on the drawing and taken off it. Each is one step to undo. */
import { movedWith } from '@mesura/core/drawing/boards/together';
import { putFragment, takeFragment, type Fragment } from '@mesura/core/drawing/parts/fragment';
import { isDrawn, snapToGrid } from '@mesura/core/drawing/shape/shapes';
import { connectionsAt, insertInto, removalHealed } from '@mesura/core/drawing/wires/splice';
import { placedBy, type Tool } from '@mesura/core/drawing/shape/tools';
import type { Change } from '@mesura/core/model/changes';
import { kinds, nameOf, type ElementOf } from '@mesura/core/model/element';
import type { Point } from '@mesura/core/drawing/shape/terminals';
import type { ElementId } from '@mesura/core/model/fields';
import { useDesk } from '../../desk/deskState';
import { newId } from '../../project/newId';
import type { ProjectStore } from '../../project/store';
import { Scene } from '../picture/scene';
import { report, tell } from '../../desk/report';
import { choose } from './choosing';

const pageField = () => {
  const { page } = useDesk.getState();
  return page ? { page } : {};
};

/** Puts a new symbol down; on a connection it goes into it. */
export function placeSymbol(store: ProjectStore, tool: Tool | null, at: Point): ElementId | null {
  const { network, commit, select } = store.getState();
  const [x, y] = [snapToGrid(at.x), snapToGrid(at.y)];
  if (!tool) {
    const id = newId();
    const note: ElementOf<'textNote'> = { kind: 'textNote', id, x, y, text: 'Note', size: 'normal', ...pageField() };
    if (!report(commit([{ op: 'add', element: note }], 'Place note'))) return null;
    select([id]);
    return id;
  }
  const element = { ...placedBy(tool, network, newId(), x, y), ...pageField() };
  const hit = kinds[element.kind].terminals === 2 ? new Scene(network, useDesk.getState().page).runAt(at, 8) : null;
  const inserted = hit && insertInto(network, element, hit, newId);
  const changes: Change[] = inserted?.ok ? inserted.changes : [{ op: 'add', element }];
  const label = `${inserted?.ok ? 'Insert' : 'Place'} ${tool.title.toLowerCase()}`;
  if (!report(commit(changes, label))) return null;
  select([element.id]);
  return element.id;
}

/** A symbol that was dragged onto a connection goes into it when none of its terminals is taken. */
export function insertDropped(store: ProjectStore, id: ElementId): boolean {
  const { network, commit } = store.getState();
  const element = network.elements.get(id);
  if (!element || !isDrawn(element) || kinds[element.kind].terminals !== 2) return false;
  if ((connectionsAt(network).get(id) ?? []).length > 0) return false;
  // Runs as they are without the symbol: it stands on one now, which would otherwise lead around it.
  const without = new Map(network.elements);
  without.delete(id);
  const hit = new Scene({ elements: without }, element.page ?? null).runAt(element, 12);
  const inserted = hit && insertInto(network, element, hit, newId);
  if (!inserted) return false;
  if (!inserted.ok) {
    tell(`${element.name} does not fit there`, inserted.reason);
    return false;
  }
  return report(commit(inserted.changes, `Insert ${element.name}`));
}

export function pasteAt(store: ProjectStore, fragment: Fragment, at: Point, label: string): void {
  const { network, commit } = store.getState();
  const { page } = useDesk.getState();
  const { changes, ids } = putFragment(fragment, { network, newId, at, ...(page ? { page } : {}) });
  if (report(commit(changes, label))) choose(store, ids);
}

export const copied = (store: ProjectStore): string | null => {
  const { network, selection } = store.getState();
  const fragment = takeFragment(network, selection);
  return fragment && JSON.stringify(fragment);
};

export function removeSelected(store: ProjectStore): void {
  const { network, selection, commit } = store.getState();
  // A panel goes with what stands in it.
  const panels = selection.filter((id) => network.elements.get(id)?.kind === 'panel');
  const changes = removalHealed(network, [...new Set([...selection, ...movedWith(network, panels)])], newId);
  if (changes.length > 0)
    report(
      commit(
        changes,
        selection.length === 1
          ? `Delete ${nameOf(network.elements.get(selection[0])!)}`
          : `Delete ${selection.length} elements`,
      ),
    );
}
