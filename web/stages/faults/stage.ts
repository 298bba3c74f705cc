import dynamic from 'next/dynamic';
import type { Stage } from '../../desk/stage';
import { busPlace, enterFaults, setFaults } from './state';
import { useFaultOverlay } from './useFaults';

/** Fault currents at every bus, and one fault looked into. */
export const faultsStage: Stage = {
  id: 'faults',
  title: 'Faults',
  group: 'Study',
  // Loaded when the stage is opened, as those of the later stages: the first view comes sooner.
  Bench: dynamic(() => import('./FaultsBench').then((module) => module.FaultsBench)),
  useOverlay: useFaultOverlay,
  pick: (_, element) => {
    if (element.kind === 'bus' && element.system === 'ac') setFaults({ place: busPlace(element.id) });
    if (element.kind === 'line') {
      const place = { at: 'line' as const, element: element.id, fraction: 0.5 };
      setFaults({ linePlace: place, place });
    }
  },
  owns: [],
  enter: enterFaults,
};
