'use client';

import { ActionIcon, Menu } from '@mantine/core';
import { IconDots } from '@tabler/icons-react';
import { csv } from '@mesura/core/formats/tables/csv';
import type { GradingChart } from '@mesura/core/model/chart';
import { freeName } from '@mesura/core/model/defaults';
import { ofKind } from '@mesura/core/model/network';
import { saveDxf } from '../../card/saveDxf';
import { savePng } from '../../card/savePng';
import { saveText } from '../../card/saveText';
import { useDesk } from '../../desk/deskState';
import { tell } from '../../desk/report';
import { chartPaper, pictureOf, type DrawnChart } from '../../plots/gradingChart';
import { svgOf } from '../../plots/svg';
import { pointRows } from '@mesura/core/grading/chart/readings';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { saveReport } from '../../project/reports';
import { putOnDrawing } from './putOnDrawing';
import { SupplyPaths } from './SupplyPaths';

/** Everything else that can be done with a chart: copies, files, print. */
export function ChartMenu({
  chart,
  charts,
  create,
  update,
  drawn,
}: {
  chart: GradingChart;
  charts: readonly GradingChart[];
  create: (content?: Partial<GradingChart>) => void;
  update: (chart: GradingChart, what: string) => void;
  /** Null while nothing is drawn yet. */
  drawn: () => DrawnChart | null;
}) {
  const commit = useProject((state) => state.commit);
  const network = useProject((state) => state.network);
  const project = useProject((state) => state.name);
  const store = useProjectStore();
  const projectId = useDesk((state) => state.projectId);
  const picture = () => {
    const now = drawn();
    return now ? svgOf(pictureOf(network, chart, project, now)) : '';
  };
  const print = (ids: readonly string[], drawing = false) =>
    saveReport(projectId, { study: 'charts', format: 'pdf', charts: ids, drawing }).catch((error: Error) =>
      tell('The charts could not be printed', error.message),
    );
  const duplicate = () => {
    const { kind: _kind, id: _id, name, ...content } = chart;
    create({ ...content, name: freeName(ofKind(network, 'gradingChart'), `${name.slice(0, 70)} `) });
  };
  return (
    <Menu width={320}>
      <Menu.Target>
        <ActionIcon variant="subtle" color="gray" aria-label="More for this chart">
          <IconDots size={16} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={() => create()}>New chart</Menu.Item>
        <Menu.Item onClick={duplicate}>Duplicate</Menu.Item>
        <Menu.Item
          onClick={() => {
            const name = window.prompt('Name of the chart', chart.name)?.trim();
            if (name) update({ ...chart, name: name.slice(0, 80) }, 'rename');
          }}
        >
          Rename
        </Menu.Item>
        <Menu.Item onClick={() => putOnDrawing(store, chart)}>Put on the drawing beside what it covers</Menu.Item>
        <Menu.Divider />
        <Menu.Item onClick={() => void print([chart.id])}>Print as PDF</Menu.Item>
        <Menu.Item onClick={() => void print([chart.id], true)}>Print with its part of the one-line</Menu.Item>
        {charts.length > 1 && (
          <Menu.Item onClick={() => void print(charts.map(({ id }) => id))}>Print all charts as PDF</Menu.Item>
        )}
        <Menu.Item onClick={() => saveText(`${chart.name}.svg`, picture(), 'image/svg+xml')}>Save as SVG</Menu.Item>
        <Menu.Item onClick={() => void savePng(`${chart.name}.png`, picture(), chartPaper)}>Save as PNG</Menu.Item>
        <Menu.Item
          onClick={() => {
            const now = drawn();
            if (now) void saveDxf(chart.name, pictureOf(network, chart, project, now));
          }}
        >
          Save as DXF
        </Menu.Item>
        <Menu.Item
          onClick={() => {
            const now = drawn();
            if (now) saveText(`${chart.name}.csv`, csv(pointRows(now.curves, now.limits)));
          }}
        >
          Save points as CSV
        </Menu.Item>
        <Menu.Divider />
        <Menu.Label>New chart of a supply path</Menu.Label>
        <SupplyPaths create={create} />
        <Menu.Divider />
        <Menu.Item color="red" onClick={() => commit([{ op: 'remove', id: chart.id }], `Delete chart ${chart.name}`)}>
          Delete
        </Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}
