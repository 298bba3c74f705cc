import dynamic from 'next/dynamic';
import { libraryKinds, type LibraryKind } from '@mesura/core/model/library';
import type { Stage } from '../../desk/stage';
import { setEquipment } from './state';

/** The library of types, and what fits at the place that is selected. */
export const equipmentStage: Stage = {
  id: 'equipment',
  title: 'Equipment',
  group: 'Build',
  Bench: dynamic(() => import('./EquipmentBench').then((module) => module.EquipmentBench)),
  pick: (_, element) => {
    const kind = libraryKinds.find((each) => each === element.kind);
    if (kind) setEquipment({ kind, entry: null });
  },
  owns: [],
  show: (id, kind) => {
    if (kind !== 'libraryEntry') return false;
    setEquipment({ entry: id });
    return true;
  },
  enter: () => setEquipment({ kind: null, entry: null, filter: '', fitting: false }),
};

export type { LibraryKind };
