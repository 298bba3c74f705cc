'use client';

import { memo, useMemo } from 'react';
import { ActionIcon, Button, SegmentedControl, Select, useComputedColorScheme } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { IconArrowsVertical, IconX } from '@tabler/icons-react';
import { lookOf, proposalsFor, type ChartCurve } from '@mesura/core/grading/chart/curves';
import { chartAt } from '@mesura/core/grading/chart/level';
import { modesOf, type ChartMode, type ChartPlot, type GradingChart } from '@mesura/core/model/chart';
import type { Change } from '@mesura/core/model/changes';
import type { ElementId } from '@mesura/core/model/fields';
import { ofKind } from '@mesura/core/model/network';
import { quantityOfMode } from '@mesura/core/protection/curve';
import { deviceOf, timeCurrents, withFunction, type DeviceElement } from '@mesura/core/protection/device';
import { ownInput } from '@mesura/core/protection/family';
import { Chip } from '../../desk/Chip';
import { useDesk } from '../../desk/deskState';
import { plotOf } from '../../plots/gradingChart';
import { useProject } from '../../project/ProjectContext';
import { deviceStyles } from '../../theme/tokens';
import { ChartMenu } from './ChartMenu';
import { FunctionRow } from './FunctionRow';
import { GuestsMenu } from './GuestsMenu';
import { LinesMenu } from './LinesMenu';
import { LookMenu } from './LookMenu';
import { ArcStrip } from '../arc/ArcStrip';
import { PairTable } from './PairTable';
import { caliperOf, ReadRow } from './ReadRow';
import { discard, edit, openChart, setGrading, useGradingState } from './state';
import { comparedWith, StateNotice, StatesMenu, type DrawnNow } from './StatesMenu';
import { TimeCurrentChart } from './TimeCurrentChart';
import { useChartDrawn } from '../../charts/useChartDrawn';
import { useStable } from './useStable';
import bench from '../../card/bench.module.css';
import classes from './grading.module.css';

const plotTitles: Readonly<Record<ChartPlot, string>> = { time: 'Time', energy: 'Let-through', cutOff: 'Cut-off' };
const modeTitles: Readonly<Record<ChartMode, string>> = {
  phase: 'Phase',
  earth: 'Earth',
  both: 'Both',
  negative: 'I2',
};

interface Props {
  chart: GradingChart;
  charts: readonly GradingChart[];
  create: (content?: Partial<GradingChart>) => void;
}

/** One chart: its curves under the hand, what is read from it, its pairs and the settings of the device looked at. */
export function ChartView({ chart, charts, create }: Props) {
  const network = useProject((state) => state.network);
  const commit = useProject((state) => state.commit);
  const selection = useProject((state) => state.selection);
  const select = useProject((state) => state.select);
  const set = useDesk((state) => state.set);
  const { edited, pair, tall, asked, caliper, compared, guest } = useGradingState();

  const known = useMemo(
    () => new Map([...edited].filter(([id]) => deviceOf(network, id) ?? chart.guests.some((each) => each.id === id))),
    [edited, network, chart.guests],
  );
  const beside = useMemo(() => comparedWith(chart, compared), [chart, compared]);
  const drawn = useChartDrawn(chart, known, pair, beside);
  const { curves, judged, basis, pair: shownPair } = drawn;
  // A proposal tries many settings: it waits until the hand rests.
  const [settled] = useDebouncedValue(known, 250);
  const proposals = useMemo(
    () => (basis ? proposalsFor(network, chart, basis, settled) : []),
    [network, chart, basis, settled],
  );
  const of = (id: ElementId | null | undefined) => curves.find((curve) => curve.device.id === id);
  const active =
    of(guest) ??
    curves.find((curve) => selection.includes(curve.device.id)) ??
    of(shownPair?.margin.pair.upstream) ??
    null;

  const storedOf = (id: ElementId) => deviceOf(network, id);
  const tryOut = (element: DeviceElement) => {
    // The pair looked at stays, also when it is no longer the worst.
    if (pair === null && shownPair) setGrading({ pair: shownPair.key });
    const stored = of(element.id)?.stored.element ?? storedOf(element.id)?.element;
    if (stored) edit(element, stored);
  };
  // While a curve is dragged only what it changes is drawn again: the rest is given what stays the same.
  const update = useStable(
    (changed: GradingChart, what: string) =>
      void commit([{ op: 'update', element: changed }], `${chart.name}: ${what}`),
  );
  const make = useStable(create);
  const lookAt = useStable(() => (basis ? { ...drawn, basis } : null));
  const mine = [...chart.relays, ...chart.guests.map(({ id }) => id)].filter((id) => known.has(id));
  const store = () => {
    const devices = mine.filter((id) => storedOf(id));
    const guests = chart.guests.map((each) =>
      known.has(each.id) ? { ...each, functions: [...known.get(each.id)!.functions] } : each,
    );
    const changes: Change[] = devices.map((id) => ({ op: 'update', element: known.get(id)! }));
    if (devices.length < mine.length) changes.push({ op: 'update', element: { ...chart, guests } });
    const names = mine.map((id) => storedOf(id)?.name ?? chart.guests.find((each) => each.id === id)?.name);
    const result = commit(changes, `Settings of ${names.join(', ')}`);
    if (result.ok) mine.forEach((id) => discard(id));
  };
  const pick = (curve: ChartCurve) => {
    setGrading({ guest: curve.isGuest ? curve.device.id : null });
    if (!curve.isGuest) select([curve.device.id]);
  };
  const plot = basis ? plotOf(network, chart, { ...drawn, basis }, { active: active?.device.id, asked }) : null;
  const measured = asked === null ? null : caliperOf(curves, caliper, asked);
  return (
    <>
      <ChartHead chart={chart} charts={charts} tall={tall} create={make} update={update} drawn={lookAt} />
      <StateNotice chart={chart} edited={known} />
      <div className={`${classes.plot} ${drawn.isCurrent || mine.length > 0 ? '' : bench.stale}`}>
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
          plot={plot && (measured ? { ...plot, margin: measured } : plot)}
          extents={drawn.extents}
          chart={chart}
          tall={tall}
          active={active?.device.id ?? null}
          onEdit={tryOut}
          onPick={pick}
          onReadout={(readout) => set({ readout })}
        />
      </div>
      {chart.mode === 'negative' && curves.length > 0 && curves.every(({ points }) => points.length === 0) && (
        <p className={bench.muted}>
          No device here measures I2 by itself (46). The margins are those of what trips for unbalanced faults.
        </p>
      )}
      {chart.shows === 'time' && <ReadRow chart={chart} curves={curves} extents={drawn.extents} update={update} />}
      <ArcStrip chart={chart} edited={known} />
      <Marked curves={curves} />
      <PairTable
        chart={chart}
        judged={judged}
        proposals={proposals}
        shown={shownPair}
        onShow={(key) => setGrading({ pair: key })}
        update={update}
        tryOut={tryOut}
        edited={known}
        compared={compared}
      />
      <Devices chart={chart} active={active?.device.id ?? null} update={update} />
      {active && (
        <div role="group" aria-label={`Settings of ${active.device.name}`}>
          <h3 className={bench.subtitle} style={{ marginTop: 6 }}>
            {active.device.name}
            {active.isGuest && <span className={bench.kind}>guest</span>}
            {active.isEdited && <span className={bench.kind}>edited, not stored</span>}
          </h3>
          {functionsShown(chart, active).map((fn) => (
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
    </>
  );
}

interface HeadProps extends Props {
  tall: boolean;
  update: (chart: GradingChart, what: string) => void;
  /** What is drawn just now; null while nothing is. */
  drawn: () => DrawnNow | null;
}

/** Which chart, and all that can be chosen for it. */
const ChartHead = memo(function ChartHead({ chart, charts, tall, create, update, drawn }: HeadProps) {
  return (
    <>
      <div className={bench.head}>
        <Select
          aria-label="Chart"
          size="xs"
          w={210}
          allowDeselect={false}
          value={chart.id}
          data={charts.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(id) => openChart(id as ElementId)}
        />
        <ChartMenu chart={chart} charts={charts} create={create} update={update} drawn={drawn} />
        <LinesMenu chart={chart} update={update} />
        <LookMenu chart={chart} drawn={drawn} update={update} />
        <GuestsMenu chart={chart} update={update} />
        <StatesMenu chart={chart} drawn={drawn} update={update} />
      </div>
      <div className={bench.head}>
        <SegmentedControl
          size="xs"
          aria-label="Shows"
          value={chart.shows}
          onChange={(shows) => update({ ...chart, shows: shows as ChartPlot }, plotTitles[shows as ChartPlot])}
          data={Object.entries(plotTitles).map(([value, label]) => ({ value, label }))}
        />
        <span className={bench.spacer} />
        <SegmentedControl
          size="xs"
          aria-label="Kind of faults"
          value={chart.mode}
          onChange={(mode) => update({ ...chart, mode: mode as ChartMode }, `${modeTitles[mode as ChartMode]} faults`)}
          data={Object.entries(modeTitles).map(([value, label]) => ({ value, label }))}
        />
        <Referred chart={chart} update={update} />
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
    </>
  );
});

/** Functions of a device that a chart is about, each once. */
function functionsShown(chart: GradingChart, { device }: ChartCurve) {
  const quantities = new Set(modesOf(chart).map((mode) => quantityOfMode[mode]));
  const functions = timeCurrents(device).filter(({ quantity }) => quantities.has(quantity));
  return [...new Map(functions.map(({ fn }) => [fn.id, fn])).values()];
}

interface PartProps {
  chart: GradingChart;
  update: (chart: GradingChart, what: string) => void;
}

/** The voltage that currents are referred to, or the device in whose pickups they count. */
function Referred({ chart, update }: PartProps) {
  const network = useProject((state) => state.network);
  const levels = [...new Set([...ofKind(network, 'bus').map((bus) => bus.nominalKv), chart.referenceKv])].sort(
    (p, q) => q - p,
  );
  return (
    <Select
      aria-label="Referred to"
      size="xs"
      w={118}
      allowDeselect={false}
      value={chart.multiplesOf ?? String(chart.referenceKv)}
      comboboxProps={{ width: 220, position: 'bottom-end' }}
      data={[
        { group: 'Amperes', items: levels.map((kv) => ({ value: String(kv), label: `at ${kv} kV` })) },
        {
          group: 'Multiples of the pickup of',
          items: chart.relays.map((id) => ({ value: id, label: deviceOf(network, id)?.name ?? '?' })),
        },
      ]}
      onChange={(to) => {
        const device = chart.relays.find((id) => id === to);
        if (device) update({ ...chart, multiplesOf: device }, `in multiples of ${deviceOf(network, device)?.name}`);
        else update({ ...chartAt(chart, Number(to)), multiplesOf: null }, `at ${to} kV`);
      }}
    />
  );
}

/** What of the curves is only remembered of a standard, or typical. */
function Marked({ curves }: { curves: readonly ChartCurve[] }) {
  const marks = new Map<string, string[]>();
  for (const { label, remembered } of curves)
    for (const mark of remembered) marks.set(mark, [...(marks.get(mark) ?? []), label]);
  if (marks.size === 0) return null;
  return (
    <ul className={classes.marks} aria-label="Not confirmed">
      {[...marks].map(([mark, names]) => (
        <li key={mark}>
          <Chip state="warn">{mark.startsWith('typical') ? 'typical' : 'remembered'}</Chip> {names.join(', ')}: {mark}
        </li>
      ))}
    </ul>
  );
}

const Devices = memo(function Devices({ chart, active, update }: PartProps & { active: ElementId | null }) {
  const network = useProject((state) => state.network);
  const select = useProject((state) => state.select);
  const scheme = useComputedColorScheme('light');
  const nameAt = (id: ElementId) => deviceOf(network, id)?.name;
  const takeOff = (id: ElementId) =>
    update(
      {
        ...chart,
        relays: chart.relays.filter((other) => other !== id),
        pairs: chart.pairs.filter((p) => p.downstream !== id && p.upstream !== id),
        looks: chart.looks.filter(({ device }) => device !== id),
        multiplesOf: chart.multiplesOf === id ? null : chart.multiplesOf,
      },
      'take a device off',
    );
  return (
    <div className={classes.devices} role="list" aria-label="Devices on the chart">
      {chart.relays.map((id, k) => {
        const { colour, dash } = lookOf(chart, id, k);
        return (
          <span key={id} role="listitem" className={classes.device} data-active={active === id || undefined}>
            <button
              type="button"
              className={bench.sort}
              onClick={() => {
                setGrading({ guest: null });
                select([id]);
              }}
            >
              <svg width={22} height={8} aria-hidden>
                <path
                  d="M0 4H22"
                  stroke={deviceStyles[colour][scheme]}
                  strokeWidth={2.4}
                  strokeDasharray={deviceStyles[dash].dash}
                />
              </svg>{' '}
              {nameAt(id)}
            </button>
            <ActionIcon
              variant="subtle"
              color="gray"
              size={18}
              aria-label={`Take ${nameAt(id)} off the chart`}
              onClick={() => takeOff(id)}
            >
              <IconX size={11} />
            </ActionIcon>
          </span>
        );
      })}
      {chart.relays.length === 0 && (
        <span className={bench.muted}>Click a relay on the drawing to put it on this chart.</span>
      )}
    </div>
  );
});
