'use client';

import { useMemo } from 'react';
import { Button, SegmentedControl } from '@mantine/core';
import { IconPlus } from '@tabler/icons-react';
import { newChart, type GradingChart } from '@mesura/core/model/chart';
import { freeName } from '@mesura/core/model/defaults';
import { ofKind } from '@mesura/core/model/network';
import { newId } from '../../project/newId';
import { useProject } from '../../project/ProjectContext';
import { ChartView } from './ChartView';
import { Directions } from './Directions';
import { Gallery } from './Gallery';
import { NetworkPairs } from './NetworkPairs';
import { Protects } from './Protects';
import { chartsOf, useChart } from './pick';
import { openChart, setGrading, useGradingState, usualKv, type GradingView } from './state';
import { SupplyPaths } from './SupplyPaths';
import bench from '../../card/bench.module.css';

const titles: Readonly<Record<GradingView, string>> = {
  chart: 'Chart',
  gallery: 'All charts',
  pairs: 'All pairs',
  directions: 'Directions',
  protects: 'Protects',
};

export function GradingBench() {
  const chart = useChart();
  const commit = useProject((state) => state.commit);
  const network = useProject((state) => state.network);
  const view = useGradingState((state) => state.view);
  const charts = useMemo(() => chartsOf(network), [network]);
  const create = (content: Partial<GradingChart> = {}) => {
    const buses = ofKind(network, 'bus');
    const id = newId();
    const name = freeName(charts, 'Chart ');
    const rank = Math.max(0, ...charts.map((each) => each.rank)) + 1;
    const element = newChart(id, name, { referenceKv: buses[0]?.nominalKv ?? usualKv, ...content, rank });
    commit([{ op: 'add', element }], `New chart ${element.name}`);
    openChart(id);
  };
  return (
    <section aria-label="Grading">
      <SegmentedControl
        size="xs"
        mb={6}
        aria-label="View"
        value={view}
        onChange={(next) => setGrading({ view: next as GradingView })}
        data={Object.entries(titles).map(([value, label]) => ({ value, label }))}
      />
      {view === 'pairs' ? (
        <NetworkPairs />
      ) : view === 'directions' ? (
        <Directions />
      ) : view === 'protects' ? (
        <Protects />
      ) : !chart ? (
        <>
          <p className={bench.muted}>
            There is no time–current chart yet. Take one of these supply paths, or an empty chart.
          </p>
          <SupplyPaths create={create} />
          <Button size="xs" variant="default" leftSection={<IconPlus size={14} />} onClick={() => create()}>
            Empty chart
          </Button>
        </>
      ) : view === 'gallery' ? (
        <Gallery charts={charts} />
      ) : (
        <ChartView key={chart.id} chart={chart} charts={charts} create={create} />
      )}
    </section>
  );
}
