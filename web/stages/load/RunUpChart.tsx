'use client';

import { useElementSize } from '@mantine/hooks';
import type { RunUp } from '@mesura/core/flow/motor';
import { Marks } from '../../plots/Marks';
import type { Paper } from '../../plots/scene';
import { profileScene } from '../../plots/profile';
import { extentFromNought } from '../../plots/ticks';
import plots from '../../plots/plots.module.css';
import { PictureLine } from '../../card/PictureMenu';

const sheet = {
  height: 190,
  margin: { top: 10, right: 14, bottom: 42, left: 52 },
  text: 11,
} satisfies Partial<Paper>;

/** Speed over time while a motor runs up. */
export function RunUpChart({ course }: { course: RunUp['course'] }) {
  const { ref, width } = useElementSize();
  const paper: Paper = { ...sheet, width: Math.max(width, 320) };
  const points = course.map(({ slip, timeS }) => ({ x: timeS, y: 100 * (1 - slip) }));
  const times = points.map(({ x }) => x);
  const { scene } = profileScene(
    {
      lines: [{ label: 'speed', points }],
      x: { extent: extentFromNought(times, { from: 0, to: 1 }), label: String },
      y: { extent: { from: 0, to: 100 }, label: (value) => `${value} %` },
      caption: 's after the start',
    },
    paper,
  );
  return (
    <div ref={ref}>
      <svg
        className={plots.plot}
        height={paper.height}
        viewBox={`0 0 ${paper.width} ${paper.height}`}
        role="img"
        aria-label="Speed over time, percent of synchronous speed"
      >
        <Marks scene={scene} />
      </svg>
      <PictureLine name="Speed while a motor runs up" scene={scene} />
    </div>
  );
}
