import dynamic from 'next/dynamic';
import { clicked } from '@mesura/core/model/conditionEdit';
import { conditionOf, isBuiltIn } from '@mesura/core/model/state';
import { useDesk } from '../../desk/deskState';
import type { Stage } from '../../desk/stage';
import { commitCondition } from './edit';
import { useConditionOverlay } from './overlay';

/** Named states of the system, changed by clicks on the drawing. */
export const conditionsStage: Stage = {
  id: 'conditions',
  title: 'Conditions',
  group: 'Build',
  Bench: dynamic(() => import('./ConditionsBench').then((module) => module.ConditionsBench)),
  useOverlay: useConditionOverlay,
  pick: (store, element) => {
    const { network } = store.getState();
    const condition = conditionOf(network, useDesk.getState().condition);
    if (!condition || isBuiltIn(condition.id)) return;
    const changed = clicked(condition, element);
    if (changed) commitCondition(store, changed, 'name' in element ? element.name : 'element');
  },
  owns: ['condition.'],
  show: (id, kind) => {
    if (kind !== 'condition') return false;
    useDesk.getState().set({ condition: id });
    return true;
  },
};
