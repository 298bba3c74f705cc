'use client';

import { useState } from 'react';
import { ActionIcon, Button, Checkbox } from '@mantine/core';
import { IconArrowLeft, IconArrowRight } from '@tabler/icons-react';
import type { GradingChart } from '@mesura/core/model/chart';
import type { ElementId } from '@mesura/core/model/fields';
import { Chip } from '../../desk/Chip';
import { useDesk } from '../../desk/deskState';
import { tell } from '../../desk/report';
import { Marks } from '../../plots/Marks';
import { plotOf } from '../../plots/gradingChart';
import type { Paper } from '../../plots/scene';
import { timeCurrentScene } from '../../plots/timeCurrent';
import { useProject } from '../../project/ProjectContext';
import { saveReport } from '../../project/reports';
import { openChart } from './state';
import { differing } from './StatesMenu';
import { useChartDrawn } from '../../charts/useChartDrawn';
import bench from '../../card/bench.module.css';
import classes from './grading.module.css';

/** All charts as small pictures, in an order of one's own; to be opened, and printed together. */
export function Gallery({ charts }: { charts: readonly GradingChart[] }) {
  const commit = useProject((state) => state.commit);
  const projectId = useDesk((state) => state.projectId);
  const [left, setLeft] = useState<ReadonlySet<ElementId>>(new Set());
  const chosen = charts.filter(({ id }) => !left.has(id));
  const move = (k: number, by: 1 | -1) => {
    const order = [...charts];
    [order[k], order[k + by]] = [order[k + by], order[k]];
    commit(
      order.flatMap((chart, rank) => (chart.rank === rank ? [] : [{ op: 'update', element: { ...chart, rank } }])),
      'Order of the charts',
    );
  };
  const print = () =>
    saveReport(projectId, { study: 'charts', format: 'pdf', charts: chosen.map(({ id }) => id) }).catch(
      (error: Error) => tell('The charts could not be printed', error.message),
    );
  return (
    <>
      <div className={bench.head}>
        <span className={bench.muted}>{charts.length === 1 ? 'One chart' : `${charts.length} charts`}</span>
        <span className={bench.spacer} />
        <Button size="compact-xs" variant="light" disabled={chosen.length === 0} onClick={() => void print()}>
          {chosen.length === charts.length ? 'Print all as PDF' : `Print ${chosen.length} as PDF`}
        </Button>
      </div>
      <ul className={classes.gallery} aria-label="Charts">
        {charts.map((chart, k) => (
          <li key={chart.id} className={classes.tile}>
            <Tile chart={chart} />
            <div className={bench.head}>
              <Checkbox
                size="xs"
                label="print"
                aria-label={`Print ${chart.name}`}
                checked={!left.has(chart.id)}
                onChange={(event) => {
                  const next = new Set(left);
                  if (event.currentTarget.checked) next.delete(chart.id);
                  else next.add(chart.id);
                  setLeft(next);
                }}
              />
              <span className={bench.spacer} />
              <ActionIcon
                variant="subtle"
                color="gray"
                size={20}
                disabled={k === 0}
                aria-label={`Move ${chart.name} forward`}
                onClick={() => move(k, -1)}
              >
                <IconArrowLeft size={13} />
              </ActionIcon>
              <ActionIcon
                variant="subtle"
                color="gray"
                size={20}
                disabled={k === charts.length - 1}
                aria-label={`Move ${chart.name} back`}
                onClick={() => move(k, 1)}
              >
                <IconArrowRight size={13} />
              </ActionIcon>
            </div>
          </li>
        ))}
      </ul>
    </>
  );
}

const paper: Paper = {
  width: 520,
  height: 340,
  margin: { top: 8, right: 10, bottom: 30, left: 54 },
  text: 13,
  letter: 0.6,
};

const nothingEdited = new Map();

function Tile({ chart }: { chart: GradingChart }) {
  const network = useProject((state) => state.network);
  const drawn = useChartDrawn(chart);
  const { basis, judged } = drawn;
  const failing = judged.filter(({ margin }) => margin.verdict === 'short' || margin.verdict === 'blind').length;
  const doubtful = judged.filter(({ margin }) => margin.verdict !== 'holds').length - failing;
  const last = chart.states[chart.states.length - 1];
  const changed = last ? differing(network, chart, last, nothingEdited).length : 0;
  const plot = basis ? plotOf(network, chart, { ...drawn, basis }) : null;
  // A small picture has no room for flags.
  const scene = plot && timeCurrentScene({ ...plot, flags: [], notes: [], caption: '' }, paper);
  return (
    <button type="button" className={bench.sort} aria-label={`Open ${chart.name}`} onClick={() => openChart(chart.id)}>
      <strong>{chart.name}</strong>
      <svg viewBox={`0 0 ${paper.width} ${paper.height}`} aria-hidden>
        {scene && (
          <>
            <Marks scene={scene.under} />
            <Marks scene={scene.over} />
          </>
        )}
      </svg>
      <span className={bench.head}>
        <span className={bench.muted}>
          {chart.relays.length} devices, {judged.length} pairs
        </span>
        {failing > 0 && <Chip state="fail">{failing} not met</Chip>}
        {doubtful > 0 && <Chip state="warn">{doubtful} to look at</Chip>}
        {judged.length > 0 && failing + doubtful === 0 && <Chip state="pass">OK</Chip>}
        {changed > 0 && (
          <Chip state="warn">
            {changed} changed since {last.name}
          </Chip>
        )}
      </span>
    </button>
  );
}
