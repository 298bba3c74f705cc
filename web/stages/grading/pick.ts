'use client';

import { useMemo } from 'react';
import { useComputedColorScheme } from '@mantine/core';
import type { LineName } from '@mesura/core/limits/limit';
import { lookOf } from '@mesura/core/grading/chart/curves';
import { linesOf } from '@mesura/core/limits/limits';
import { nameOf, type ElementKind } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { find, ofKind, type Network } from '@mesura/core/model/network';
import type { GradingChart } from '@mesura/core/model/chart';
import { breakersOf, firstCtOf } from '@mesura/core/model/protection';
import { deviceOf, mainInput, type Device } from '@mesura/core/protection/device';
import { noOverlay, type Overlay } from '../../diagram/picture/overlay';
import { useGradingState } from './state';
import { deviceStyles } from '../../theme/tokens';
import { useProject, type useProjectStore } from '../../project/ProjectContext';

/** The charts of the project in their order. */
export const chartsOf = (network: Network): GradingChart[] =>
  [...ofKind(network, 'gradingChart')].sort((p, q) => p.rank - q.rank);

/** The chart shown: the one chosen, else the first of the project. */
export const chartOf = (network: Network, chosen: ElementId | null): GradingChart | undefined =>
  find(network, 'gradingChart', chosen) ?? chartsOf(network)[0];

export function useChart(): GradingChart | undefined {
  const chosen = useGradingState((state) => state.chartId);
  return useProject((state) => chartOf(state.network, chosen));
}

/** The device meant by a click on the drawing: itself, or the relay that measures at this CT or trips this breaker. */
export function deviceAt(network: Network, id: ElementId): Device | undefined {
  const relays = ofKind(network, 'relay');
  const relay = relays.find((each) => firstCtOf(each) === id) ?? relays.find((each) => breakersOf(each).includes(id));
  return deviceOf(network, id) ?? (relay && deviceOf(network, relay.id));
}

const usual: Partial<Record<ElementKind, readonly LineName[]>> = {
  transformer: ['withstand', 'inrush'],
  line: ['conductor'],
  asynchronousMotor: ['start'],
  synchronousMachine: ['decrement'],
};

/** The lines that an element is put on a chart with, as far as it has them. */
function usualLines(network: Network, id: ElementId): GradingChart['limits'] {
  const element = network.elements.get(id);
  if (!element) return [];
  const has = new Set(linesOf(network, element).map(({ line }) => line));
  return (usual[element.kind] ?? []).filter((line) => has.has(line)).map((line) => ({ element: id, line }));
}

/** Puts the clicked device on the chart, or the lines of a transformer, cable or motor; takes up what is there. */
export function pickForChart(store: ReturnType<typeof useProjectStore>, id: ElementId): void {
  const { network, commit, select } = store.getState();
  const device = deviceAt(network, id);
  const chart = chartOf(network, useGradingState.getState().chartId);
  if (!device) {
    const lines = chart
      ? usualLines(network, id).filter(
          ({ line }) => !chart.limits.some((each) => each.element === id && each.line === line),
        )
      : [];
    if (chart && lines.length > 0)
      commit(
        [{ op: 'update', element: { ...chart, limits: [...chart.limits, ...lines] } }],
        `${chart.name}: lines of ${nameOf(network.elements.get(id)!)}`,
      );
    return void select([id]);
  }
  if (chart && !chart.relays.includes(device.id))
    commit(
      [{ op: 'update', element: { ...chart, relays: [...chart.relays, device.id] } }],
      `${chart.name}: add ${device.name}`,
    );
  select([device.id]);
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
      const color = deviceStyles[lookOf(chart, id, k).colour][scheme];
      const device = deviceOf(network, id);
      const input = device && mainInput(device);
      marks.set(id, color);
      if (input) marks.set(input.through, color);
    });
    return { ...noOverlay, marks };
  }, [wanted, chart, network, scheme]);
}
