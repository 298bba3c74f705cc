import dynamic from 'next/dynamic';
import type { Stage } from '../../desk/stage';
import { useCircuitOverlay } from './overlay';
import { enterCircuits, pickElement, setCircuits } from './state';

/** Low-voltage circuits: what they carry, how soon they are cut off, which cable and device do. */
export const circuitsStage: Stage = {
  id: 'circuits',
  title: 'Circuits',
  group: 'Study',
  Bench: dynamic(() => import('./CircuitsBench').then((module) => module.CircuitsBench)),
  useOverlay: useCircuitOverlay,
  pick: (store, element) => {
    store.getState().select([element.id]);
    pickElement(store.getState().network, element);
  },
  owns: ['circuits.'],
  // The drawing goes there as well.
  show: (id) => {
    setCircuits({ chosen: id, board: null, view: 'schedule', filter: 'all' });
    return false;
  },
  enter: enterCircuits,
};
