'use client';

import type { ArcTable } from '@mesura/core/arc/table';
import { useCore, type Answer } from '../../workers/useCore';
import { useArcState } from './state';

/** All arcs; nothing is computed while nobody looks. */
export function useArc(wanted = true): Answer<ArcTable> {
  const { compare, maintenance } = useArcState();
  return useCore<ArcTable>(wanted ? `arcs ${compare} ${maintenance}` : null, (service, ticket, onProgress) =>
    service.arcs({ compare, maintenance }, ticket, onProgress),
  );
}
