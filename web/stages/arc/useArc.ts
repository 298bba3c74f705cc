'use client';

import type { ArcRow } from '@mesura/core/arc/study';
import { useCore, type Answer } from '../../workers/useCore';
import { useArcState } from './state';

/** All arcs; nothing is computed while nobody looks. */
export function useArc(wanted = true): Answer<readonly ArcRow[]> {
  const { compare } = useArcState();
  return useCore<readonly ArcRow[]>(wanted ? `arcs ${compare}` : null, (service, ticket, onProgress) =>
    service.arcs(compare, ticket, onProgress),
  );
}
