'use client';

import { useMemo } from 'react';
import { useComputedColorScheme } from '@mantine/core';
import type { ElementId } from '@mesura/core/model/fields';
import { settingsOf } from '@mesura/core/model/network';
import { useCondition } from '../../desk/condition';
import { noOverlay, type Overlay } from '../../diagram/picture/overlay';
import { useProject } from '../../project/ProjectContext';
import { dark, light } from '../../theme/tokens';
import { useCore } from '../../workers/useCore';
import { overlayOf } from './overlay';
import { useLoadState } from './state';

/** The load flow in the condition of the desk, with the loads as scaled. */
export function useFlow(wanted = true, out: ElementId | null = null) {
  const { id } = useCondition();
  const scaled = useLoadState((state) => state.scaled);
  return useCore(wanted ? `flow ${JSON.stringify([id, scaled, out])}` : null, (service) =>
    service.flow(id, scaled, out),
  );
}

/** Voltages at buses; loading, current or power at branches, sources and loads, with the direction of the active power. */
export function useLoadOverlay(shown: boolean): Overlay {
  const { branchFigure, busFigure, view, outage } = useLoadState();
  // The outage that is looked into is drawn, and judged by the emergency limits.
  const out = view === 'outages' ? outage : null;
  const flow = useFlow(shown, out);
  const { limits: which } = useCondition();
  const limits = useProject((state) => settingsOf(state.network).loadLimits);
  const scheme = useComputedColorScheme('light');
  const figures = flow.value?.figures;
  return useMemo(() => {
    if (!shown || !figures?.converged) return noOverlay;
    const tokens = scheme === 'light' ? light : dark;
    return overlayOf(
      figures,
      limits,
      out !== null || which === 'emergency',
      { branchFigure, busFigure },
      tokens,
      flow.isCurrent,
    );
  }, [shown, figures, limits, out, which, branchFigure, busFigure, scheme, flow.isCurrent]);
}
