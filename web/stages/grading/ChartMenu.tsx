'use client';

import { ActionIcon, Menu } from '@mantine/core';
import { IconDots } from '@tabler/icons-react';
import { csv } from '@mesura/core/formats/tables/csv';
import type { GradingChart } from '@mesura/core/model/protection';
import { freeName } from '@mesura/core/model/defaults';
import { ofKind } from '@mesura/core/model/network';
import { savePng } from '../../card/savePng';
import { saveText } from '../../card/saveText';
import type { Paper } from '../../plots/scene';
import { svgOf } from '../../plots/svg';
import type { Extent } from '../../plots/ticks';
import { timeCurrentScene, type PlottedLimit } from '../../plots/timeCurrent';
import { useProject } from '../../project/ProjectContext';
import { pointRows, type ChartCurve, type Flag, type JudgedPair } from './curves';
import { SupplyPaths } from './SupplyPaths';
import { marginOf, plotted } from './TimeCurrentChart';

/** What is on the screen just now. */
export interface Drawn {
  readonly curves: readonly ChartCurve[];
  readonly limits: readonly PlottedLimit[];
  readonly flags: readonly Flag[];
  readonly pair: JudgedPair | null;
  readonly extents: { readonly currents: Extent; readonly times: Extent };
}

/** A page in landscape, in points. */
const paper: Paper = {
  width: 780,
  height: 540,
  margin: { top: 36, right: 16, bottom: 84, left: 54 },
  text: 11,
  letter: 0.6,
};

/** The chart as it is printed: its name above, everything that is on the screen below. */
export function printed(chart: GradingChart, project: string, { curves, limits, flags, pair, extents }: Drawn): string {
  const { under, over } = timeCurrentScene(
    {
      curves: curves.map((curve) => plotted(curve, null)),
      limits,
      flags,
      notes: chart.notes,
      margin: pair && marginOf(pair),
      extents,
      caption: `primary current referred to ${chart.referenceKv} kV`,
    },
    paper,
  );
  const title = {
    kind: 'text' as const,
    at: { x: 54, y: 22 },
    size: 14,
    ink: 'ink' as const,
    bold: true,
    text: chart.name,
  };
  const of = {
    ...title,
    at: { x: paper.width - 16, y: 22 },
    size: 11,
    bold: false,
    anchor: 'end' as const,
    text: project,
  };
  return svgOf({ paper, marks: [title, of, ...under.marks, ...over.marks] });
}

export function ChartMenu({
  chart,
  create,
  update,
  drawn,
}: {
  chart: GradingChart;
  create: (content?: Partial<GradingChart>) => void;
  update: (chart: GradingChart, what: string) => void;
  drawn: Drawn;
}) {
  const commit = useProject((state) => state.commit);
  const network = useProject((state) => state.network);
  const project = useProject((state) => state.name);
  const picture = () => printed(chart, project, drawn);
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
        <Menu.Divider />
        <Menu.Item onClick={() => update({ ...chart, bands: !chart.bands }, chart.bands ? 'without bands' : 'bands')}>
          {chart.bands ? 'Hide bands' : 'Show bands'}
        </Menu.Item>
        <Menu.Divider />
        <Menu.Item onClick={() => saveText(`${chart.name}.svg`, picture(), 'image/svg+xml')}>Save as SVG</Menu.Item>
        <Menu.Item onClick={() => void savePng(`${chart.name}.png`, picture(), paper)}>Save as PNG</Menu.Item>
        <Menu.Item onClick={() => saveText(`${chart.name}.csv`, csv(pointRows(drawn.curves, drawn.limits)))}>
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
