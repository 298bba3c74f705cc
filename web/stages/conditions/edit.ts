/** Changes of conditions, each one undoable step. */
import { maximumSources, type Condition } from '@mesura/core/model/condition';
import { FreeNames } from '@mesura/core/drawing/parts/fragment';
import { conditionsOf } from '@mesura/core/model/state';
import { useDesk } from '../../desk/deskState';
import { newId } from '../../project/newId';
import type { ProjectStore } from '../../project/store';

/** Stores a changed condition; the message where it is refused. */
export function commitCondition(store: ProjectStore, condition: Condition, what: string): string | null {
  const result = store.getState().commit([{ op: 'update', element: condition }], `${condition.name}: ${what}`);
  return result.ok ? null : result.problems[0].message;
}

/** A new condition like this one, under the next free name, and chosen. */
export function duplicate(store: ProjectStore, condition: Condition): void {
  const { network, commit } = store.getState();
  const names = new FreeNames(conditionsOf(network));
  const copy = { ...condition, id: newId(), name: names.next(condition.name) };
  if (commit([{ op: 'add', element: copy }], `New condition ${copy.name}`).ok)
    useDesk.getState().set({ condition: copy.id });
}

export function remove(store: ProjectStore, condition: Condition): void {
  const result = store.getState().commit([{ op: 'remove', id: condition.id }], `Delete condition ${condition.name}`);
  if (result.ok) useDesk.getState().set({ condition: maximumSources.id });
}
