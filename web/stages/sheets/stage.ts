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
  found: ({ kind, id }) => {
    if (kind === 'relay' || kind === 'switch') showSheet({ kind: 'device', id });
    if (kind === 'linePackage') showSheet({ kind: 'linePackage', id });
    if (kind === 'bus') showSheet({ kind: 'arcLabel', id });
  },
  enter: () => showSheet(null),
};
