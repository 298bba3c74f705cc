import dynamic from 'next/dynamic';
import type { Stage } from '../../desk/stage';
import { enterBatch, setBatch } from './state';

/** Studies run again at will, as lists and as scripts. */
export const batchStage: Stage = {
  id: 'batch',
  title: 'Batch',
  group: 'Deliver',
  Bench: dynamic(() => import('./BatchBench').then((module) => module.BatchBench)),
  owns: [],
  show: (id, kind) => {
    if (kind === 'batch') setBatch({ view: 'batches', batch: id });
    if (kind === 'script') setBatch({ view: 'scripts', script: id });
    return kind === 'batch' || kind === 'script';
  },
  enter: enterBatch,
};
