import { directPart } from '@mesura/core/model/directPart';
import dynamic from 'next/dynamic';
import type { Stage } from '../../desk/stage';
import { enterTrials, putFault, useTrialsState } from './state';
import { useTrialOverlay } from './useTrial';

/** Faults played through everything, and the search for those that go wrong. */
export const trialsStage: Stage = {
  id: 'trials',
  title: 'Trials',
  group: 'Protect',
  Bench: dynamic(() => import('./TrialsBench').then((module) => module.TrialsBench)),
  useOverlay: useTrialOverlay,
  // A click puts the fault: at a busbar, in the middle of a line (once more: at its quarters), on the lower side of a switch or current transformer.
  pick: (store, element) => {
    store.getState().select([element.id]);
    // Trials are of alternating current.
    if (directPart(store.getState().network).ids.has(element.id)) return;
    if (element.kind === 'line') {
      const [before] = useTrialsState.getState().trial?.faults ?? [];
      const steps = [0.5, 0.9, 0.1];
      const at = before?.element === element.id ? steps.indexOf(before.fraction ?? -1) : -1;
      putFault({ element: element.id, terminal: null, fraction: steps[(at + 1) % steps.length] });
    } else if (element.kind === 'bus') putFault({ element: element.id, terminal: 0, fraction: null });
    else if (element.kind === 'switch' || element.kind === 'currentTransformer')
      putFault({ element: element.id, terminal: 1, fraction: null });
    else if (element.kind === 'transformer' || element.kind === 'asynchronousMotor' || element.kind === 'load')
      putFault({ element: element.id, terminal: 0, fraction: null });
  },
  owns: ['trial.'],
  show: (_, kind) => kind === 'trial',
  enter: enterTrials,
};
