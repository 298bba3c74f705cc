import type { Stage } from '../../desk/stage';
import { useFaultOverlay } from '../faults/useFaults';
import { NetworkBench } from './NetworkBench';

/** The network is drawn and its data typed. */
export const networkStage: Stage = {
  id: 'network',
  title: 'Network',
  group: 'Build',
  Bench: NetworkBench,
  useOverlay: useFaultOverlay,
  editsDrawing: true,
  owns: [],
};
