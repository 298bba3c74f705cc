'use client';

import { useShallow } from 'zustand/react/shallow';
import { maximumSources, type Condition } from '@mesura/core/model/condition';
import { conditionOf, conditionsOf } from '@mesura/core/model/state';
import { useProject } from '../project/ProjectContext';
import { useDesk } from './deskState';

/** The condition that the whole desk shows; maximum sources where the one chosen is gone. */
export function useCondition(): Condition {
  const chosen = useDesk((state) => state.condition);
  return useProject((state) => conditionOf(state.network, chosen) ?? maximumSources);
}

/** All conditions of the project, the two that always exist first. */
export const useConditions = (): readonly Condition[] => useProject(useShallow((state) => conditionsOf(state.network)));
