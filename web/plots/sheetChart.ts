/** The chart of a setting sheet, from its frozen content. */
import type { SheetContent } from '@mesura/core/sheets/content';
import type { Paper, Scene } from './scene';
import { logExtent } from './ticks';
import { timeCurrentScene } from './timeCurrent';

/** Points of print, over the width of the text. */
const paper: Paper = {
  width: 515,
  height: 300,
  margin: { top: 12, right: 10, bottom: 34, left: 44 },
  text: 7.5,
  letter: 0.56,
};

export function sheetScene(chart: SheetContent['chart'][number]): Scene {
  const currents = logExtent(
    chart.curves.flatMap((curve) => curve.points.map((p) => p.currentA)),
    { from: 10, to: 10000 },
  );
  const { under, over } = timeCurrentScene(
    {
      curves: chart.curves.map(({ label, points, own }, style) => ({
        of: label,
        label,
        style,
        dash: style,
        points,
        strong: own,
      })),
      flags: [],
      margin: null,
      extents: { currents, times: { from: 0.01, to: 100 } },
      caption: `primary current referred to ${chart.referenceKv} kV`,
    },
    paper,
  );
  return { paper, marks: [...under.marks, ...over.marks] };
}
