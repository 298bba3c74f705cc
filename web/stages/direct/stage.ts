import dynamic from 'next/dynamic';
import type { Stage } from '../../desk/stage';
import { useDirectOverlay } from './overlay';
import { enterDirect, setDirect } from './state';

/** Direct current: voltages in service, short-circuit currents, what clears them. */
export const directStage: Stage = {
  id: 'direct',
  title: 'D.c.',
  group: 'Study',
  Bench: dynamic(() => import('./DirectBench').then((module) => module.DirectBench)),
  useOverlay: useDirectOverlay,
  pick: (store, { id, kind }) => {
    store.getState().select([id]);
    if (kind === 'bus' || kind === 'directLoad' || kind === 'directMotor') setDirect({ chosen: id, condition: null });
  },
  owns: ['direct.'],
  enter: enterDirect,
};
