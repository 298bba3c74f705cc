import dynamic from 'next/dynamic';
import type { Stage } from '../../desk/stage';

/** Every kind of element as a grid, edited in place and exchanged with spreadsheets. */
export const tablesStage: Stage = {
  id: 'tables',
  title: 'Tables',
  group: 'Build',
  Bench: dynamic(() => import('./TablesBench').then((module) => module.TablesBench)),
  owns: [],
};
