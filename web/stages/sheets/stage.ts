import dynamic from 'next/dynamic';
import type { Stage } from '../../desk/stage';
import { showSheet } from './state';

/** Setting sheets: what is drafted, who has signed what, what is issued, and what stands in the relays. */
export const sheetsStage: Stage = {
  id: 'sheets',
  title: 'Sheets',
  group: 'Deliver',
  Bench: dynamic(() => import('./SheetsBench').then((module) => module.SheetsBench)),
  pick: (_, element) => {
    if (element.kind === 'relay' || (element.kind === 'switch' && element.functions.length > 0))
      showSheet({ kind: 'device', id: element.id });
  },
  owns: ['sheet.', 'readBack.'],
  show: (id, kind) => {
    if (kind !== 'relay' && kind !== 'switch') return false;
    showSheet({ kind: 'device', id });
    return true;
  },
  enter: () => showSheet(null),
};
