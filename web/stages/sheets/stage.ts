import dynamic from 'next/dynamic';
import type { Stage } from '../../desk/stage';
import { showSheet } from './state';

/** Setting sheets: drafts, and those issued. */
export const sheetsStage: Stage = {
  id: 'sheets',
  title: 'Sheets',
  group: 'Deliver',
  Bench: dynamic(() => import('./SheetsBench').then((module) => module.SheetsBench)),
  pick: (_, element) => {
    if (element.kind === 'relay') showSheet(element.id);
  },
  owns: [],
  enter: () => showSheet(null),
};
