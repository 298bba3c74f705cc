import dynamic from 'next/dynamic';
import type { Stage } from '../../desk/stage';
import { useEarthOverlay } from './overlay';
import { enterEarth, lookInto, setEarth } from './state';

/** Current that returns through earth: shares of grids, shield wires and towers, potentials. */
export const earthReturnStage: Stage = {
  id: 'earthReturn',
  title: 'Earth return',
  group: 'Study',
  Bench: dynamic(() => import('./EarthBench').then((module) => module.EarthBench)),
  useOverlay: useEarthOverlay,
  pick: (store, { id, kind }) => {
    store.getState().select([id]);
    if (kind === 'bus') lookInto({ at: 'bus', bus: id });
    if (kind === 'line') setEarth({ view: 'lines', line: id });
  },
  owns: ['earthReturn.'],
  show: (id, kind) => {
    if (kind !== 'earthStudy') return false;
    setEarth({ view: 'studies', study: id });
    return true;
  },
  enter: enterEarth,
};
