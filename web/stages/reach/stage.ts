import dynamic from 'next/dynamic';
import type { Stage } from '../../desk/stage';
import { enterReach, setReach } from './state';

/** Reaches of distance protection by rule: table, plane of impedance, route. */
export const reachStage: Stage = {
  id: 'reach',
  title: 'Reach',
  group: 'Protect',
  Bench: dynamic(() => import('./ReachBench').then((module) => module.ReachBench)),
  // A click on a line looks at it from its first end; once more, from the other.
  pick: (store, element) => {
    if (element.kind !== 'line') return;
    const [first, second] = [`${element.id}:0`, `${element.id}:1`];
    const { selection } = store.getState();
    setReach({ end: selection.includes(element.id) ? second : first });
    store.getState().select([element.id]);
  },
  owns: ['setting.zone', 'package.'],
  enter: enterReach,
};
