import dynamic from 'next/dynamic';
import { useArcState, enterArc, setArc } from './state';
import type { Stage } from '../../desk/stage';
import { useArcOverlay } from './overlay';

/** Arc energy at every place by the protection as it is set. */
export const arcStage: Stage = {
  id: 'arc',
  title: 'Arc',
  group: 'Study',
  Bench: dynamic(() => import('./ArcBench').then((module) => module.ArcBench)),
  useOverlay: useArcOverlay,
  pick: (store, { id, kind }) => {
    store.getState().select([id]);
    if (kind === 'bus') setArc({ chosen: id });
    else if (useArcState.getState().chosen !== null) setArc({ chosen: null });
  },
  owns: ['arc.'],
  enter: enterArc,
};
