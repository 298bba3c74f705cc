'use client';

import { useMemo, useState } from 'react';
import { Button, Checkbox, Select } from '@mantine/core';
import { formatNumber, plainNumber } from '@mesura/core/fields/quantity';
import type { ElementId } from '@mesura/core/model/fields';
import { find } from '@mesura/core/model/network';
import { stationsOf } from '@mesura/core/model/stations';
import { devicesAt } from '@mesura/core/proposals/scope';
import { conditionOf } from '@mesura/core/model/state';
import { deviceOf } from '@mesura/core/protection/device';
import type { Demand } from '@mesura/core/proposals/demand';
import { accepted } from '@mesura/core/proposals/origin';
import { strategies, type Proposal, type ProposedValue, type Strategy } from '@mesura/core/proposals/proposal';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { Chip } from '../../desk/Chip';
import { goTo, useDesk } from '../../desk/deskState';
import { report } from '../../desk/report';
import { storeOver } from '../../desk/storeOver';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { useCore, useCoreService } from '../../workers/useCore';
import { deviceAt } from '../grading/pick';
import { edit } from '../grading/state';
import { scopes, setSettings, useSettingsState, type Asked, type Scope } from './state';
import { today } from '../../desk/today';
import bench from '../../card/bench.module.css';
import classes from './settings.module.css';
import { Done } from '../../workers/Done';

const strategyTitles: Readonly<Record<Strategy, string>> = {
  fastest: 'Clears fastest',
  widest: 'Widest margins',
  least: 'Least change',
};
const scopeTitles: Readonly<Record<Scope, string>> = {
  whole: 'Whole network',
  station: 'Station',
  selection: 'Selected devices',
  path: 'Path from the selected device',
};

const said = (value: number | boolean | string): string =>
  typeof value === 'boolean'
    ? value
      ? 'in use'
      : 'out of use'
    : typeof value === 'string'
      ? value
      : plainNumber(value);
/** Numbers by size; functions as a whole behind them. */
const sorted = (value: number | boolean | string): number | null => (typeof value === 'string' ? null : Number(value));
const keyOf = ({ device, functionId, field }: ProposedValue) => `${device} ${functionId} ${field}`;

/** Settings that the rulebook proposes, beside those that are stored; taken whole, by device, or one by one. */
export function ProposalView() {
  const network = useProject((state) => state.network);
  const selection = useProject((state) => state.selection);
  const service = useCoreService();
  const { scope, scopeStation, strategy, includeAssumed, asked } = useSettingsState();
  const stations = useMemo(() => stationsOf(network), [network]);
  const station = stations.find(({ id }) => id === scopeStation) ?? null;
  const chosen = [...new Set(selection.flatMap((id) => deviceAt(network, id)?.id ?? []))];
  const isMissing = scope === 'station' ? station === null : scope !== 'whole' && chosen.length === 0;
  const ask = async () => {
    const names = chosen.map((id) => deviceOf(network, id)!.name).join(', ');
    const of: Readonly<
      Record<Scope, () => Promise<Pick<Asked, 'devices' | 'title'>> | Pick<Asked, 'devices' | 'title'>>
    > = {
      whole: () => ({ devices: null, title: 'the whole network' }),
      station: () => ({ devices: devicesAt(network, station!.id), title: station!.name }),
      path: async () => ({
        devices: (await service?.pathFrom(chosen[0])) ?? chosen,
        title: `the path from ${names}`,
      }),
      selection: () => ({ devices: chosen, title: names }),
    };
    setSettings({ asked: { ...(await of[scope]()), strategy, includeAssumed } });
  };
  return (
    <>
      <div className={bench.head}>
        <Select
          size="xs"
          w={scope === 'station' ? 100 : 210}
          aria-label="Proposed for"
          allowDeselect={false}
          value={scope}
          data={scopes.map((value) => ({ value, label: scopeTitles[value] }))}
          onChange={(value) => setSettings({ scope: value as Scope })}
        />
        {scope === 'station' && (
          <Select
            size="xs"
            w={100}
            searchable
            aria-label="Station"
            placeholder="which?"
            value={station?.id ?? null}
            data={stations.map(({ id, name }) => ({ value: id, label: name }))}
            onChange={(id) => setSettings({ scopeStation: id as ElementId | null })}
          />
        )}
        <Select
          size="xs"
          w={140}
          aria-label="Strategy"
          allowDeselect={false}
          value={strategy}
          data={strategies.map((value) => ({ value, label: strategyTitles[value] }))}
          onChange={(value) => setSettings({ strategy: value as Strategy })}
        />
        <Checkbox
          size="xs"
          label="also from assumed data"
          checked={includeAssumed}
          onChange={(event) => setSettings({ includeAssumed: event.currentTarget.checked })}
        />
        <Button size="compact-xs" disabled={isMissing} onClick={() => void ask()}>
          Propose
        </Button>
      </div>
      {isMissing && (
        <p className={bench.muted}>
          {scope === 'station' ? 'Choose a station.' : 'Select a relay, fuse or breaker on the drawing.'}
        </p>
      )}
      {asked ? (
        <Proposed asked={asked} />
      ) : (
        <p className={bench.muted}>
          Pickups lie between what the rulebook asks at least and at most; times rise from the far end, each no further
          than the margins ask. Nothing is stored before you take it.
        </p>
      )}
    </>
  );
}

const useProposal = (asked: Asked, strategy = asked.strategy, wanted = true) =>
  useCore<Proposal>(
    wanted ? JSON.stringify(['proposal', asked.devices, strategy, asked.includeAssumed]) : null,
    (service, ticket, onProgress) =>
      service.proposed(
        { devices: asked.devices, strategy, includeAssumed: asked.includeAssumed },
        null,
        ticket,
        onProgress,
      ),
  );

function Proposed({ asked }: { asked: Asked }) {
  const store = useProjectStore();
  const network = useProject((state) => state.network);
  const select = useProject((state) => state.select);
  const revision = useProject((state) => state.revision);
  const projectId = useDesk((state) => state.projectId);
  const comparing = useSettingsState((state) => state.comparing);
  const { value: proposal, isCurrent, progress, failed } = useProposal(asked);
  const [row, setRow] = useState<string | null>(null);
  const changed = useMemo(() => proposal?.values.filter(({ from, to }) => from !== to) ?? [], [proposal]);
  const nameOf = (id: ElementId | null) => (id === null ? '' : (conditionOf(network, id)?.name ?? id));
  const take = (values: readonly ProposedValue[], label: string): boolean => {
    const devices = [...new Set(values.map(({ device }) => device))];
    const batch = devices.flatMap((id) => {
      const device = deviceOf(network, id);
      const own = values.filter((each) => each.device === id);
      return device ? [{ op: 'update' as const, element: accepted(device.element, own, proposal!.book, today()) }] : [];
    });
    return report(store.getState().commit(batch, label));
  };
  const takeAll = () =>
    storeOver(
      { projectId, revision },
      { of: 'the proposal', stored: 'The proposal is stored', notStored: 'The proposal is not stored' },
      () => take(changed, `Proposal for ${asked.title}`),
    );
  const onCharts = () => {
    for (const element of proposal!.elements) edit(element, deviceOf(network, element.id)!.element);
    goTo('grading');
  };
  const columns: SortColumn<ProposedValue>[] = [
    { id: 'device', head: 'Device', text: true, value: ({ deviceName }) => deviceName },
    { id: 'code', head: 'Function', text: true, value: ({ code }) => code },
    { id: 'setting', head: 'Setting', text: true, value: ({ title }) => title },
    {
      id: 'from',
      head: 'stored',
      value: ({ from }) => sorted(from),
      cell: ({ from, whole }) => (whole ? '–' : said(from)),
    },
    {
      id: 'to',
      head: 'proposed',
      value: ({ to }) => sorted(to),
      cell: ({ to, field, whole }) => (
        <strong title={said(to)}>{whole ? (field === 'function' ? 'added' : 'forward') : said(to)}</strong>
      ),
    },
    { id: 'unit', head: 'Unit', text: true, value: ({ unit }) => unit },
    { id: 'primary', head: 'Primary A', digits: 4, value: ({ primaryA }) => primaryA },
    {
      id: 'take',
      head: '',
      text: true,
      value: () => null,
      cell: (value) => (
        <Button
          size="compact-xs"
          variant="light"
          aria-label={`Take ${value.title} of ${value.deviceName}, ${value.code}`}
          onClick={(event) => {
            event.stopPropagation();
            take([value], `${value.deviceName}, ${value.code}: ${value.title.toLowerCase()} as proposed`);
          }}
        >
          Take
        </Button>
      ),
    },
    { id: 'rule', head: 'Rule', text: true, width: 210, value: ({ by }) => by.map(({ title }) => title).join('; ') },
  ];
  if (failed) return <p className={bench.problem}>{failed}</p>;
  if (!proposal)
    return (
      <p className={bench.muted} role="status">
        Proposing {progress === null ? '' : <Done of={progress} w={140} label="Proposing" />}
      </p>
    );
  const looked = changed.find((each) => keyOf(each) === row) ?? null;
  const { measures, conflicts, leftOut, ratios, remarks } = proposal;
  return (
    <>
      <div className={bench.head}>
        <span className={bench.muted} role="status" aria-label="What is proposed">
          {changed.length} values of {measures.devicesTouched} devices, {conflicts.length} conflicts,{' '}
          {measures.pairs - measures.pairsShort} of {measures.pairs} margins met ({proposal.book})
        </span>
        <Done of={progress} label="Proposing" />
      </div>
      <div className={bench.head}>
        <Button size="compact-xs" variant="subtle" onClick={() => setSettings({ comparing: !comparing })}>
          {comparing ? 'Hide strategies' : 'Compare strategies'}
        </Button>
        <Button size="compact-xs" variant="default" disabled={changed.length === 0} onClick={onCharts}>
          Show on the charts
        </Button>
        <Button size="compact-xs" disabled={changed.length === 0 || !isCurrent} onClick={() => void takeAll()}>
          Take all
        </Button>
      </div>
      {remarks.map((remark) => (
        <p key={remark} className={bench.problem}>
          <Chip state="warn">not counted</Chip> {remark}
        </p>
      ))}
      {comparing && <Compared asked={asked} />}
      {changed.length === 0 ? (
        <p className={bench.muted}>Everything is set as the rulebook asks.</p>
      ) : (
        <div className={looked || conflicts.length > 0 ? bench.short : undefined}>
          <SortTable
            label="Proposed settings"
            columns={columns}
            rows={changed}
            rowId={keyOf}
            current={isCurrent}
            chosen={row}
            onChoose={(value) => {
              setRow(keyOf(value));
              select([value.device]);
            }}
          />
        </div>
      )}
      {looked && (
        <article className={bench.card} aria-label={`Why ${looked.title} of ${looked.deviceName}`}>
          <div className={bench.cardBody}>
            <div className={bench.head}>
              <h3 className={bench.title}>
                {looked.deviceName}, {looked.code} <span className={bench.kind}>{looked.title}</span>
              </h3>
              <span className={bench.spacer} />
              <Button
                size="compact-xs"
                variant="light"
                onClick={() =>
                  take(
                    changed.filter(({ device }) => device === looked.device),
                    `${looked.deviceName} as proposed`,
                  )
                }
              >
                Take all of {looked.deviceName}
              </Button>
            </div>
            {looked.whole && (
              <p style={{ margin: '0 0 4px' }}>
                {said(looked.to)} <span className={bench.muted}>(now: {said(looked.from)})</span>
              </p>
            )}
            {looked.by.length === 0 && <p className={bench.muted}>The smallest that can be set.</p>}
            {looked.by.map((demand) => (
              <DemandLine key={demand.title} demand={demand} nameOf={nameOf} />
            ))}
            {looked.isTypical && (
              <p className={bench.muted}>
                <Chip state="warn">typical</Chip> The range of this device is not known: steps that are common were
                taken.
              </p>
            )}
          </div>
        </article>
      )}
      {conflicts.length > 0 && (
        <>
          <h3 className={bench.subtitle}>Conflicts</h3>
          <ul className={classes.list} aria-label="Conflicts">
            {conflicts.map((conflict) => (
              <li key={`${conflict.device} ${conflict.message}`}>
                <button type="button" className={classes.conflict} onClick={() => select([conflict.device])}>
                  <Chip state="fail">conflict</Chip> {conflict.message}
                  {conflict.given.condition && ` (${nameOf(conflict.given.condition)})`}
                </button>
                {conflict.ways.length > 0 && (
                  <span className={bench.muted}>
                    {' '}
                    Would hold with: {conflict.ways.map(({ words }) => words).join('; ')}.
                  </span>
                )}
              </li>
            ))}
          </ul>
        </>
      )}
      {ratios.length > 0 && (
        <>
          <h3 className={bench.subtitle}>Current transformers that are too small</h3>
          <ul className={classes.list} aria-label="Current transformers">
            {ratios.map(({ ct, ctName, deviceName, from, to, by }) => (
              <li key={ct}>
                {ctName} of {deviceName}: {from} A, {by.title.toLowerCase()} asks {formatNumber(by.value, 4)} A{' '}
                <Button
                  size="compact-xs"
                  variant="light"
                  onClick={() => {
                    const element = find(network, 'currentTransformer', ct)!;
                    report(
                      store
                        .getState()
                        .commit(
                          [{ op: 'update', element: { ...element, primaryA: to } }],
                          `${ctName}: ${to} A as proposed`,
                        ),
                    );
                  }}
                >
                  Take {to} A
                </Button>
              </li>
            ))}
          </ul>
        </>
      )}
      {leftOut.length > 0 && (
        <>
          <h3 className={bench.subtitle}>Left out</h3>
          <ul className={classes.list} aria-label="Left out">
            {leftOut.map(({ device, deviceName, reason }) => (
              <li key={device}>
                {deviceName}: {reason}
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}

/** A demand with its rule, its figures and where they come from. */
function DemandLine({ demand, nameOf }: { demand: Demand; nameOf: (id: ElementId | null) => string }) {
  const { rule, title, sense, value, unit, atA, figures, pair } = demand;
  const network = useProject((state) => state.network);
  return (
    <p style={{ margin: '4px 0' }}>
      <strong>{title}</strong>: {sense === 'atLeast' ? 'at least' : 'at most'} {formatNumber(value, 4)} {unit}
      {atA !== null && ` at ${formatNumber(atA, 4)} A`}
      {pair && `, over ${deviceOf(network, pair.downstream)?.name ?? '?'}`}
      {demand.condition && pair && `, ${nameOf(demand.condition)}`}
      {rule && (
        <span className={bench.muted}>
          {' '}
          = {rule.formula}. {rule.reason} {rule.clause && `${rule.clause}${rule.remembered ? ' (as remembered)' : ''}.`}
        </span>
      )}
      {figures.map((figure) => (
        <span key={figure.name} className={classes.figure}>
          {figure.name} = {formatNumber(figure.value!, 4)} {figure.unit}
          {figure.place && `, ${figure.place}`}
          {figure.condition && `, ${nameOf(figure.condition)}`}
        </span>
      ))}
    </p>
  );
}

interface Line {
  readonly strategy: Strategy;
  readonly proposal: Proposal | null;
}

const comparedColumns: SortColumn<Line>[] = [
  { id: 'strategy', head: 'Strategy', text: true, value: ({ strategy }) => strategyTitles[strategy] },
  {
    id: 'worst',
    head: 'worst margin beyond required s',
    digits: 3,
    value: ({ proposal }) => proposal?.measures.worstMarginS ?? null,
  },
  {
    id: 'slowest',
    head: 'slowest s',
    digits: 3,
    title: 'at the largest fault',
    value: ({ proposal }) => proposal?.measures.slowestS ?? null,
  },
  { id: 'short', head: 'margins not met', value: ({ proposal }) => proposal?.measures.pairsShort ?? null },
  { id: 'conflicts', head: 'conflicts', value: ({ proposal }) => proposal?.conflicts.length ?? null },
  { id: 'devices', head: 'devices touched', value: ({ proposal }) => proposal?.measures.devicesTouched ?? null },
  { id: 'values', head: 'values', value: ({ proposal }) => proposal?.measures.valuesChanged ?? null },
];

/** All strategies side by side; a click asks for one. */
function Compared({ asked }: { asked: Asked }) {
  const [fastest, widest, least] = [
    useProposal(asked, 'fastest'),
    useProposal(asked, 'widest'),
    useProposal(asked, 'least'),
  ];
  const lines: Line[] = [
    { strategy: 'fastest', proposal: fastest.value },
    { strategy: 'widest', proposal: widest.value },
    { strategy: 'least', proposal: least.value },
  ];
  return (
    <SortTable
      label="Strategies"
      columns={comparedColumns}
      rows={lines}
      rowId={({ strategy }) => strategy}
      current={lines.every(({ proposal }) => proposal !== null)}
      chosen={asked.strategy}
      onChoose={({ strategy }) => setSettings({ strategy, asked: { ...asked, strategy } })}
    />
  );
}
