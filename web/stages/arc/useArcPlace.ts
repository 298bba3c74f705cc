'use client';

import { usualArcPlace, type ArcPlaceData } from '@mesura/core/model/arc';
import type { Bus } from '@mesura/core/model/switching';
import { useProjectStore } from '../../project/ProjectContext';

/** Stores a part of what an arc at a busbar burns in; tells what is wrong with it, or null. Nothing is stored of what is usual. */
export function useArcPlace({ id }: Bus): (part: Partial<ArcPlaceData>, what: string) => string | null {
  const store = useProjectStore();
  return (part, what) => {
    const { network, commit } = store.getState();
    const bus = network.elements.get(id);
    if (bus?.kind !== 'bus') return 'the busbar is gone';
    const { arc: before, ...rest } = bus;
    const arc = { ...(before ?? usualArcPlace), ...part };
    const isUsual = JSON.stringify(arc) === JSON.stringify(usualArcPlace);
    const result = commit([{ op: 'update', element: isUsual ? rest : { ...bus, arc } }], `${bus.name}, arc: ${what}`);
    return result.ok ? null : result.problems[0].message;
  };
}
