import dynamic from 'next/dynamic';
import type { Stage } from '../../desk/stage';
import { pickForChart, useGradingOverlay } from './pick';
import { enterGrading, openChart } from './state';

/** Time–current charts, and the margins of pairs. */
export const gradingStage: Stage = {
  id: 'grading',
  title: 'Grading',
  group: 'Protect',
  Bench: dynamic(() => import('./GradingBench').then((module) => module.GradingBench)),
  useOverlay: useGradingOverlay,
  pick: (store, element) =>
    element.kind === 'chartPicture' ? openChart(element.chart) : pickForChart(store, element.id),
  owns: ['grading.', 'setting.'],
  show: (id, kind) => {
    if (kind !== 'gradingChart') return false;
    openChart(id);
    return true;
  },
  enter: enterGrading,
};
