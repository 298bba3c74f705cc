'use client';

import { useMemo } from 'react';
import type { EarthRow, EarthTable } from '@mesura/core/earthReturn/study';
import type { ElementId } from '@mesura/core/model/fields';
import { useCore, type Answer } from '../../workers/useCore';
import { useEarthState } from './state';

/** Earth faults of all stations; nothing is computed while nobody looks. */
export function useEarth(wanted = true): Answer<EarthTable> {
  const kind = useEarthState((state) => state.kind);
  return useCore<EarthTable>(wanted ? `earth return ${kind}` : null, (service, ticket, onProgress) =>
    service.earth(kind, ticket, onProgress),
  );
}

/** Of each busbar the condition in which the rise is nearest to what is borne, or above it most. */
export const worstRows = (rows: readonly EarthRow[]): ReadonlyMap<ElementId, EarthRow> => {
  const worst = new Map<ElementId, EarthRow>();
  const size = ({ figures }: EarthRow) => (figures ? figures.riseV / figures.touch.metV : -1);
  for (const row of rows) {
    const before = worst.get(row.bus);
    if (!before || size(row) > size(before)) worst.set(row.bus, row);
  }
  return worst;
};

export const useWorst = (table: EarthTable | null) => useMemo(() => worstRows(table?.rows ?? []), [table]);
