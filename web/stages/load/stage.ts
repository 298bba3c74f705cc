import dynamic from 'next/dynamic';
import type { Stage } from '../../desk/stage';
import { enterLoad, setLoad } from './state';
import { useLoadOverlay } from './useLoad';

/** Load flow, single outages, motors that start. */
export const loadStage: Stage = {
  id: 'load',
  title: 'Load',
  group: 'Study',
  Bench: dynamic(() => import('./LoadBench').then((module) => module.LoadBench)),
  useOverlay: useLoadOverlay,
  pick: (_, element) => {
    if (element.kind === 'asynchronousMotor') setLoad({ motor: element.id });
  },
  owns: ['load.'],
  enter: enterLoad,
};
