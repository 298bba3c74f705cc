'use client';

import { useDeferredValue, useMemo, useState } from 'react';
import {
  chartCurves,
  judgePairs,
  LastAnswers,
  limitsOnChart,
  worstPair,
  type ChartCurve,
  type Compared,
  type Edited,
  type JudgedPair,
} from '@mesura/core/grading/chart/curves';
import type { ChartBasis } from '@mesura/core/grading/chart/basis';
import type { GradingChart } from '@mesura/core/model/chart';
import type { ElementId } from '@mesura/core/model/fields';
import { deviceOf } from '@mesura/core/protection/device';
import { extentsOf, type DrawnChart } from '../plots/gradingChart';
import { useProject } from '../project/ProjectContext';
import { useCore } from '../workers/useCore';

const nothingEdited: Edited = new Map();

interface Drawn extends Omit<DrawnChart, 'basis'> {
  readonly basis: ChartBasis | null;
  readonly judged: readonly JudgedPair[];
  /** False while currents of an older state of the model are drawn. */
  readonly isCurrent: boolean;
}

/** A chart with its curves, margins and range: of settings as stored, with trials on top. `pair`: key of the one looked at; null the worst. */
export function useChartDrawn(
  chart: GradingChart,
  edited: Edited = nothingEdited,
  pair: string | null = null,
  compared?: Compared,
): Drawn {
  const network = useProject((state) => state.network);
  // The question carries what it depends on, so that an answer for another make-up of the chart is never drawn.
  const { id, mode, referenceKv, relays, pairs, limits: lines, growthPercent, flags, shows } = chart;
  const key = JSON.stringify([
    'grading',
    ...[id, mode, referenceKv, relays, lines, growthPercent, flags, shows],
    pairs.map((each) => [each.downstream, each.upstream]),
  ]);
  const basis = useCore(key, (service) => service.gradingBasis(id));
  const [last] = useState(() => ({
    curves: new LastAnswers<ChartCurve | null>(),
    pairs: new LastAnswers<JudgedPair>(),
  }));
  const { value } = basis;
  const curves = useMemo(
    () => (value ? chartCurves(network, chart, value, edited, last.curves, compared) : []),
    [network, chart, value, edited, last, compared],
  );
  // The curve follows the hand; the margins follow the curve, and leave off what it has passed already.
  const judgedAt = useDeferredValue(edited);
  const judged = useMemo(
    () => (value ? judgePairs(network, chart, value, judgedAt, last.pairs) : []),
    [network, chart, value, judgedAt, last],
  );
  const limits = useMemo(() => (value ? limitsOnChart(chart, value) : []), [chart, value]);
  const stored = useStoredSettings(chart);
  const extents = useMemo(
    () =>
      value
        ? extentsOf(chart, curves, limits, value)
        : { currents: { from: 10, to: 10000 }, times: { from: 0.01, to: 100 } },
    // eslint-disable-next-line react-hooks/exhaustive-deps -- curves change with every pointer move; what the range follows does not
    [chart, limits, value, stored, compared],
  );
  const shown = judged.find(({ key: of }) => of === pair) ?? worstPair(judged);
  return { curves, judged, limits, extents, pair: shown, basis: value, isCurrent: basis.isCurrent };
}

/** Changes when a stored setting of the chart's devices does. */
function useStoredSettings({ relays }: GradingChart): string {
  const network = useProject((state) => state.network);
  return useMemo(
    () => relays.map((id: ElementId) => JSON.stringify(deviceOf(network, id)?.functions)).join(),
    [relays, network],
  );
}
