'use client';

import type { GradingChart } from '@mesura/core/model/chart';
import { Marks } from '../plots/Marks';
import { chartPaper, pictureOf } from '../plots/gradingChart';
import { useProject } from '../project/ProjectContext';
import { useChartDrawn } from './useChartDrawn';
import classes from './charts.module.css';

const { margin, ...letters } = chartPaper;

/** A chart as it is stored now, with its name, on a ground of its own. */
export function ChartPicture({ chart, width, height }: { chart: GradingChart; width: number; height: number }) {
  const network = useProject((state) => state.network);
  const drawn = useChartDrawn(chart);
  const { basis, judged, isCurrent } = drawn;
  const failing = judged.filter(({ margin: { verdict } }) => verdict === 'short' || verdict === 'blind').length;
  const paper = { ...letters, width, height, margin: { ...margin, left: 52, right: 10, bottom: 74 } };
  const told = failing === 0 ? '' : `${failing} of ${judged.length} margins not met`;
  const scene = basis && pictureOf(network, chart, told, { ...drawn, basis }, paper);
  return (
    <svg
      className={classes.picture}
      data-stale={!isCurrent || undefined}
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={[chart.name, told].filter(Boolean).join(', ')}
    >
      {scene && <Marks scene={scene} />}
    </svg>
  );
}
