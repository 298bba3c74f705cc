'use client';

import type { DirectAnswer } from '@mesura/core/direct/study';
import { useCore, type Answer } from '../../workers/useCore';

/** Direct current in every condition; nothing is computed while nobody looks. */
export const useDirect = (wanted = true): Answer<DirectAnswer> =>
  useCore<DirectAnswer>(wanted ? 'direct current' : null, (service, ticket, onProgress) =>
    service.direct(ticket, onProgress),
  );
