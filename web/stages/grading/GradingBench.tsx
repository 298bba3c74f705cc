'use client';

import { useDeferredValue, useMemo, useState } from 'react';
import { ActionIcon, Button, SegmentedControl, Select } from '@mantine/core';
import { IconArrowsVertical, IconPlus, IconX } from '@tabler/icons-react';
import { freeName } from '@mesura/core/model/defaults';
import type { ElementId } from '@mesura/core/model/fields';
import { ofKind } from '@mesura/core/model/network';
import { newChart, type GradingChart } from '@mesura/core/model/protection';
import { quantityOfMode } from '@mesura/core/protection/curve';
import { deviceOf, timeCurrents, withFunction, type DeviceElement } from '@mesura/core/protection/device';
import { ownInput } from '@mesura/core/protection/family';
import { logExtent } from '../../plots/ticks';
import type { PlottedLimit } from '../../plots/timeCurrent';
import { newId } from '../../project/newId';
import { Chip } from '../../desk/Chip';
import { useDesk } from '../../desk/deskState';
import { discard, edit, setGrading, useGradingState, usualKv } from './state';
import { deviceStyles } from '../../theme/tokens';
import { useComputedColorScheme } from '@mantine/core';
import { useCore } from '../../workers/useCore';
import { useProject } from '../../project/ProjectContext';
import {
  chartCurves,
  flagsOf,
  judgePairs,
  LastAnswers,
  limitsOnChart,
  proposalsFor,
  type ChartCurve,
  type JudgedPair,
} from './curves';
import { ChartMenu } from './ChartMenu';
import { FunctionRow } from './FunctionRow';
import { LinesMenu } from './LinesMenu';
import { PairTable } from './PairTable';
import { ReadRow } from './ReadRow';
import { SupplyPaths } from './SupplyPaths';
import { TimeCurrentChart } from './TimeCurrentChart';
import { useChart } from './pick';
import bench from '../../card/bench.module.css';
import classes from './grading.module.css';

export function GradingBench() {
  const chart = useChart();
  const commit = useProject((state) => state.commit);
  const network = useProject((state) => state.network);
  const charts = useMemo(() => ofKind(network, 'gradingChart'), [network]);
  const create = (content: Partial<GradingChart> = {}) => {
    const buses = ofKind(network, 'bus');
    const id = newId();
    const name = freeName(charts, 'Chart ');
    const element = newChart(id, name, { referenceKv: buses[0]?.nominalKv ?? usualKv, ...content });
    commit([{ op: 'add', element }], `New chart ${element.name}`);
    setGrading({ chartId: id, pair: null });
  };
  if (!chart)
    return (
      <section aria-label="Grading">
        <h2 className={bench.title}>Grading</h2>
        <p className={bench.muted}>
          There is no time–current chart yet. Take one of these supply paths, or an empty chart.
        </p>
        <SupplyPaths create={create} />
        <Button size="xs" variant="default" leftSection={<IconPlus size={14} />} onClick={() => create()}>
          Empty chart
        </Button>
      </section>
    );
  return <Chart key={chart.id} chart={chart} charts={charts} create={create} />;
}

function Chart({
  chart,
  charts,
  create,
}: {
  chart: GradingChart;
  charts: readonly GradingChart[];
  create: (content?: Partial<GradingChart>) => void;
}) {
  const network = useProject((state) => state.network);
  const commit = useProject((state) => state.commit);
  const selection = useProject((state) => state.selection);
  const select = useProject((state) => state.select);
  const edited = useGradingState((state) => state.edited);
  const set = useDesk((state) => state.set);
  const pair = useGradingState((state) => state.pair);
  const scheme = useComputedColorScheme('light');
  // The question carries what it depends on, so that an answer for another make-up of the chart is never drawn.
  const key = `grading ${chart.id} ${chart.mode} ${chart.referenceKv} ${chart.relays.join()} ${chart.pairs.map((p) => p.downstream + p.upstream).join()} ${chart.limits.map((each) => `${each.element} ${each.line}`).join()}`;
  const basis = useCore(key, (service) => service.gradingBasis(chart.id));

  const known = useMemo(() => new Map([...edited].filter(([id]) => deviceOf(network, id))), [edited, network]);
  const [last] = useState(() => ({
    curves: new LastAnswers<ChartCurve | null>(),
    pairs: new LastAnswers<JudgedPair>(),
  }));
  const curves = useMemo(
    () => (basis.value ? chartCurves(network, chart, basis.value, known, last.curves) : []),
    [network, chart, basis.value, known, last],
  );
  const judged = useMemo(
    () => (basis.value ? judgePairs(network, chart, basis.value, known, last.pairs) : []),
    [network, chart, basis.value, known, last],
  );
  // A proposal tries many settings; while a curve is dragged it may come a little later than the curve itself.
  const settled = useDeferredValue(known);
  const proposals = useMemo(
    () => (basis.value ? proposalsFor(network, chart, basis.value, settled) : []),
    [network, chart, basis.value, settled],
  );
  const worst = judged.findIndex(({ margin }) => margin.verdict !== 'holds');
  const shownPair = judged[pair ?? Math.max(worst, 0)] ?? null;
  const limits = useMemo(() => (basis.value ? limitsOnChart(chart, basis.value) : []), [chart, basis.value]);
  const extents = useExtents(chart, curves, limits, basis.value);
  const { tall, asked } = useGradingState();
  const active =
    curves.find((curve) => selection.includes(curve.device.id)) ??
    curves.find((curve) => curve.device.id === shownPair?.margin.pair.upstream) ??
    null;
  const flags = useMemo(() => {
    const wanted = new Set([shownPair?.margin.pair.downstream, shownPair?.margin.pair.upstream]);
    return basis.value
      ? curves.filter((curve) => wanted.has(curve.device.id)).flatMap((curve) => flagsOf(curve, chart, basis.value!))
      : [];
  }, [curves, chart, basis.value, shownPair]);

  const storedOf = (id: ElementId) => deviceOf(network, id)!;
  const tryOut = (element: DeviceElement) => {
    // The pair looked at stays, also when it is no longer the worst.
    if (pair === null && shownPair) setGrading({ pair: judged.indexOf(shownPair) });
    edit(element, storedOf(element.id).element);
  };
  const update = (changed: GradingChart, what: string) =>
    void commit([{ op: 'update', element: changed }], `${chart.name}: ${what}`);
  const mine = chart.relays.filter((id) => known.has(id));
  const store = () => {
    const result = commit(
      mine.map((id) => ({ op: 'update', element: known.get(id)! })),
      `Settings of ${mine.map((id) => storedOf(id).name).join(', ')}`,
    );
    if (result.ok) mine.forEach((id) => discard(id));
  };
  return (
    <section aria-label="Grading">
      <div className={bench.head}>
        <Select
          aria-label="Chart"
          size="xs"
          w={230}
          allowDeselect={false}
          value={chart.id}
          data={charts.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(id) => setGrading({ chartId: id as ElementId, pair: null })}
        />
        <ChartMenu
          chart={chart}
          create={create}
          update={update}
          drawn={{ curves, limits, flags, pair: shownPair, extents }}
        />
        <LinesMenu chart={chart} extents={extents} update={update} />
        <span className={bench.spacer} />
        <SegmentedControl
          size="xs"
          aria-label="Kind of faults"
          value={chart.mode}
          onChange={(mode) => update({ ...chart, mode: mode as GradingChart['mode'] }, `${mode} faults`)}
          data={[
            { value: 'phase', label: 'Phase' },
            { value: 'earth', label: 'Earth' },
            { value: 'negative', label: 'I2' },
          ]}
        />
        <Select
          aria-label="Referred to"
          size="xs"
          w={104}
          allowDeselect={false}
          value={String(chart.referenceKv)}
          data={levels(network, chart).map((kv) => ({ value: String(kv), label: `at ${kv} kV` }))}
          onChange={(kv) => update({ ...chart, referenceKv: Number(kv) }, `at ${kv} kV`)}
        />
        <ActionIcon
          variant={tall ? 'light' : 'subtle'}
          color={tall ? undefined : 'gray'}
          aria-label="Full height"
          aria-pressed={tall}
          onClick={() => setGrading({ tall: !tall })}
        >
          <IconArrowsVertical size={16} />
        </ActionIcon>
      </div>
      <div className={`${classes.plot} ${basis.isCurrent || mine.length > 0 ? '' : bench.stale}`}>
        {mine.length > 0 && (
          <div className={classes.trial}>
            <Chip state="warn">edited, not stored</Chip>
            <Button size="compact-xs" onClick={store}>
              Store
            </Button>
            <Button size="compact-xs" variant="default" onClick={() => mine.forEach((id) => discard(id))}>
              Discard
            </Button>
          </div>
        )}
        <TimeCurrentChart
          curves={curves}
          flags={flags}
          pair={shownPair}
          extents={extents}
          referenceKv={chart.referenceKv}
          limits={limits}
          notes={chart.notes}
          asked={asked}
          tall={tall}
          active={active?.device.id ?? null}
          onEdit={tryOut}
          onPick={({ id }) => select([id])}
          onReadout={(readout) => set({ readout })}
        />
      </div>
      <ReadRow chart={chart} curves={curves} update={update} />
      <PairTable
        chart={chart}
        judged={judged}
        proposals={proposals}
        shown={shownPair}
        onShow={(index) => setGrading({ pair: index })}
        update={update}
        tryOut={tryOut}
        edited={known}
      />
      <div className={classes.devices} role="list" aria-label="Devices on the chart">
        {chart.relays.map((id, k) => (
          <span key={id} role="listitem" className={classes.device} data-active={active?.device.id === id || undefined}>
            <button type="button" className={bench.sort} onClick={() => select([id])}>
              <svg width={22} height={8} aria-hidden>
                <path
                  d="M0 4H22"
                  stroke={deviceStyles[k % deviceStyles.length][scheme]}
                  strokeWidth={2.4}
                  strokeDasharray={deviceStyles[k % deviceStyles.length].dash}
                />
              </svg>{' '}
              {storedOf(id)?.name}
            </button>
            <ActionIcon
              variant="subtle"
              color="gray"
              size={18}
              aria-label={`Take ${storedOf(id)?.name} off the chart`}
              onClick={() =>
                update(
                  {
                    ...chart,
                    relays: chart.relays.filter((other) => other !== id),
                    pairs: chart.pairs.filter((p) => p.downstream !== id && p.upstream !== id),
                  },
                  'take a device off',
                )
              }
            >
              <IconX size={11} />
            </ActionIcon>
          </span>
        ))}
        {chart.relays.length === 0 && (
          <span className={bench.muted}>Click a relay on the drawing to put it on this chart.</span>
        )}
      </div>
      {active && (
        <div role="group" aria-label={`Settings of ${active.device.name}`}>
          <h3 className={bench.subtitle} style={{ marginTop: 6 }}>
            {active.device.name}
            {active.isEdited && <span className={bench.kind}>edited, not stored</span>}
          </h3>
          {[
            ...new Map(
              timeCurrents(active.device)
                .filter(({ quantity }) => quantity === quantityOfMode[chart.mode])
                .map(({ fn }) => [fn.id, fn]),
            ).values(),
          ].map((fn) => (
            <FunctionRow
              key={fn.id}
              fn={fn}
              rating={active.device.inputs.find(({ id }) => id === (fn.input ?? ownInput))?.rating ?? null}
              onChange={(changed) => {
                tryOut(withFunction(active.device.element, changed));
                return null;
              }}
            />
          ))}
        </div>
      )}
    </section>
  );
}

/** Levels of the network, and the chart's own when it is none of them. */
const levels = (network: Parameters<typeof ofKind>[0], chart: GradingChart): number[] =>
  [...new Set([...ofKind(network, 'bus').map((bus) => bus.nominalKv), chart.referenceKv])].sort((p, q) => q - p);

/** The range of the chart follows stored settings and fault currents, not a curve under the pointer, so that it stands still while one drags. */
function useExtents(
  chart: GradingChart,
  curves: readonly ChartCurve[],
  limits: readonly PlottedLimit[],
  basis: unknown,
) {
  const signature = curves
    .map((curve) => `${curve.device.id}${curve.factor}${JSON.stringify(curve.stored.functions)}`)
    .join();
  return useMemo(
    () => {
      const currents = curves.flatMap((curve) => {
        const points = curve.isEdited ? curve.ghost : curve.points;
        return points.length > 0 ? [points[0].currentA * 0.8, points[points.length - 1].currentA] : [];
      });
      for (const { points } of limits) currents.push(...points.map(({ currentA }) => currentA));
      const { range } = chart;
      if (range) return { currents: { from: range.fromA, to: range.toA }, times: { from: range.fromS, to: range.toS } };
      return { currents: logExtent(currents, { from: 10, to: 10000 }), times: { from: 0.01, to: 100 } };
    },
    // eslint-disable-next-line react-hooks/exhaustive-deps -- curves change with every pointer move; their signature does not
    [chart.mode, chart.referenceKv, chart.range, limits, signature, basis],
  );
}
