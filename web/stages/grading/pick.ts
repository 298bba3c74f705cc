'use client';

import { useMemo } from 'react';
import { useComputedColorScheme } from '@mantine/core';
import type { ElementId } from '@mesura/core/model/fields';
import { find, ofKind, type Network } from '@mesura/core/model/network';
import type { GradingChart, Relay } from '@mesura/core/model/protection';
import { noOverlay, type Overlay } from '../../diagram/overlay';
import { useGradingState } from './state';
import { deviceStyles } from '../../theme/tokens';
import { useProject, type useProjectStore } from '../../project/ProjectContext';

/** The chart shown: the one chosen, else the first of the project. */
export const chartOf = (network: Network, chosen: ElementId | null): GradingChart | undefined =>
  find(network, 'gradingChart', chosen) ?? ofKind(network, 'gradingChart')[0];

export function useChart(): GradingChart | undefined {
  const chosen = useGradingState((state) => state.chartId);
  return useProject((state) => chartOf(state.network, chosen));
}

/** The relay meant by a click on the drawing: itself, or the one that measures at this CT or trips this breaker. */
export function relayAt(network: Network, id: ElementId): Relay | undefined {
  const own = find(network, 'relay', id);
  return (
    own ??
    ofKind(network, 'relay').find((relay) => relay.ct === id) ??
    ofKind(network, 'relay').find((relay) => relay.trips.includes(id))
  );
}

/** Puts the clicked device on the chart, or takes it up when it is there. */
export function pickForChart(store: ReturnType<typeof useProjectStore>, id: ElementId): void {
  const { network, commit, select } = store.getState();
  const relay = relayAt(network, id);
  const chart = chartOf(network, useGradingState.getState().chartId);
  if (!relay) return;
  if (chart && !chart.relays.includes(relay.id))
    commit(
      [{ op: 'update', element: { ...chart, relays: [...chart.relays, relay.id] } }],
      `${chart.name}: add ${relay.name}`,
    );
  select([relay.id]);
}

/** Marks the devices of the chart on the drawing in the colours of their curves. */
export function useGradingOverlay(wanted: boolean): Overlay {
  const chart = useChart();
  const network = useProject((state) => state.network);
  const scheme = useComputedColorScheme('light');
  return useMemo(() => {
    if (!wanted || !chart) return noOverlay;
    const marks = new Map<ElementId, string>();
    chart.relays.forEach((id, k) => {
      const color = deviceStyles[k % deviceStyles.length][scheme];
      const relay = find(network, 'relay', id);
      marks.set(id, color);
      if (relay?.ct) marks.set(relay.ct, color);
    });
    return { ...noOverlay, marks };
  }, [wanted, chart, network, scheme]);
}
