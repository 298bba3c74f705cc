'use client';

import type { ArcTable } from '@mesura/core/arc/table';
import { useCore, type Answer } from '../../workers/useCore';
import { useArcState } from './state';

/** All arcs; nothing is computed while nobody looks. */
export function useArc(wanted = true): Answer<ArcTable> {
  const { compare } = useArcState();
  return useCore<ArcTable>(wanted ? `arcs ${compare}` : null, (service, ticket, onProgress) =>
    service.arcs(compare, ticket, onProgress),
  );
}
