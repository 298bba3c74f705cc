'use client';

import { Button, Select } from '@mantine/core';
import type { ElementId } from '@mesura/core/model/fields';
import { ofKind } from '@mesura/core/model/network';
import type { ChartPicture } from '@mesura/core/model/sheet';
import { showStage } from '../../desk/deskState';
import { useProject } from '../../project/ProjectContext';
import bench from '../../card/bench.module.css';

/** Which chart stands at a place of the drawing. */
export function ChartPictureCard({ picture }: { picture: ChartPicture }) {
  const network = useProject((state) => state.network);
  const commit = useProject((state) => state.commit);
  return (
    <>
      <Select
        label="Chart"
        size="xs"
        w={300}
        allowDeselect={false}
        value={picture.chart}
        data={ofKind(network, 'gradingChart').map(({ id, name }) => ({ value: id, label: name }))}
        onChange={(chart) =>
          commit([{ op: 'update', element: { ...picture, chart: chart as ElementId } }], 'Other chart on the drawing')
        }
      />
      <Button size="compact-xs" mt={8} variant="light" onClick={() => showStage(picture.chart, 'gradingChart')}>
        Open in Grading
      </Button>
      <p className={bench.muted}>
        It shows the chart as it is stored now. Drag it to move it, its lower right corner to size it; a double click
        opens it.
      </p>
    </>
  );
}
