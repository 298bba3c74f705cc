'use client';

import { useMemo, useState } from 'react';
import { Button, Select } from '@mantine/core';
import { formatNumber } from '@mesura/core/fields/quantity';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { withFunction } from '@mesura/core/protection/device';
import { inRelay, withReaches, type ReachRow } from '@mesura/core/reach/plan';
import type { Decided, Reaches, ZoneNumber } from '@mesura/core/reach/zones';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { Chip } from '../../desk/Chip';
import { useDesk } from '../../desk/deskState';
import { report } from '../../desk/report';
import { storeOver } from '../../desk/storeOver';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { setReach, useReachState } from './state';
import { keyOfRow } from './ways';
import bench from '../../card/bench.module.css';
import classes from '../settings/settings.module.css';

interface Line {
  readonly row: ReachRow;
  readonly zone: Reaches;
}

const keyOf = ({ row, zone }: Line): string => `${keyOfRow(row)} ${zone.zone}`;

/** What the relay of a row has stored for a zone, in secondary ohms; null without one. */
const storedOf = ({ row, zone }: Line): number | null =>
  row.relay?.fn?.zones.find(({ name, enabled }) => enabled && name === String(zone.zone))?.reachOhm ?? null;

const proposedOf = ({ row, zone }: Line): number | null =>
  row.relay?.fn && row.relay.secondary !== null && zone.reach
    ? inRelay(row.relay.fn, zone.reach.value, row.relay.secondary)
    : null;

const columns: SortColumn<Line>[] = [
  { id: 'station', head: 'Station', text: true, value: ({ row }) => row.stationName },
  { id: 'line', head: 'Line', text: true, value: ({ row }) => row.lineName, width: 110 },
  { id: 'zone', head: 'Zone', value: ({ zone }) => zone.zone, cell: ({ zone }) => zone.zone },
  { id: 'reach', head: 'Reach Ω', digits: 4, value: ({ zone }) => zone.reach?.value ?? null },
  { id: 'earth', head: 'earth Ω', digits: 4, value: ({ zone }) => zone.reachEarth?.value ?? null },
  { id: 'r', head: 'R Ω', digits: 3, value: ({ zone }) => zone.resistance?.value ?? null },
  { id: 'delay', head: 's', digits: 3, value: ({ zone }) => zone.delay?.value ?? null },
  { id: 'to', head: 'secondary Ω', digits: 4, value: proposedOf },
  { id: 'stored', head: 'stored', digits: 4, value: storedOf },
  { id: 'rule', head: 'Decided by', text: true, value: ({ zone }) => zone.reach?.by.rule.title ?? '', width: 210 },
];

/** Every zone of every line end, with the rule and the elements that decided it; taken whole, by relay or by zone. */
export function ReachTable({ rows, isCurrent }: { rows: readonly ReachRow[]; isCurrent: boolean }) {
  const store = useProjectStore();
  const select = useProject((state) => state.select);
  const revision = useProject((state) => state.revision);
  const projectId = useDesk((state) => state.projectId);
  const { station, zone } = useReachState();
  const [chosen, setChosen] = useState<string | null>(null);
  const lines = useMemo(
    () =>
      rows
        .filter((row) => station === null || row.station === station)
        .flatMap((row) =>
          row.zones
            .filter((each) => each.reach && (zone === null || each.zone === zone))
            .map((each) => ({ row, zone: each })),
        ),
    [rows, station, zone],
  );
  const line = lines.find((each) => keyOf(each) === chosen) ?? null;
  const taking = (list: readonly ReachRow[], only: ReadonlySet<ZoneNumber> | null) =>
    list.flatMap((row) => {
      const fn = row.relay && withReaches(row.relay, row, only);
      return fn ? [{ op: 'update' as const, element: withFunction(row.relay!.device.element, fn) }] : [];
    });
  const take = (list: readonly ReachRow[], only: ReadonlySet<ZoneNumber> | null, label: string): boolean =>
    report(store.getState().commit(taking(list, only), label));
  const shown = [...new Set(lines.map(({ row }) => row))];
  const settable = shown.filter(({ relay }) => relay?.fn && relay.secondary !== null);
  const takeAll = () =>
    storeOver(
      { projectId, revision },
      { of: 'the reaches', stored: 'The reaches are stored', notStored: 'The reaches are not stored' },
      () => take(settable, zone === null ? null : new Set([zone as ZoneNumber]), 'Reaches by the rulebook'),
    );
  const stations = [...new Map(rows.flatMap((row) => (row.station ? [[row.station, row.stationName] as const] : [])))];
  return (
    <>
      <div className={bench.head}>
        <Select
          size="xs"
          w={120}
          clearable
          placeholder="any station"
          aria-label="Station"
          value={station}
          data={stations.map(([value, label]) => ({ value, label }))}
          onChange={(value) => setReach({ station: value as ElementId | null })}
        />
        <Select
          size="xs"
          w={110}
          clearable
          placeholder="all zones"
          aria-label="Zone"
          value={zone === null ? null : String(zone)}
          data={[1, 2, 3, 4, 5].map((value) => ({ value: String(value), label: `zone ${value}` }))}
          onChange={(value) => setReach({ zone: value === null ? null : Number(value) })}
        />
        <span className={bench.muted} role="status">
          {shown.length} line ends, {settable.length} with distance protection
        </span>
        <span className={bench.spacer} />
        <Button size="compact-xs" disabled={settable.length === 0 || !isCurrent} onClick={() => void takeAll()}>
          Take all
        </Button>
      </div>
      <div className={line ? bench.short : undefined}>
        <SortTable
          label="Reaches"
          columns={columns}
          rows={lines}
          rowId={keyOf}
          current={isCurrent}
          chosen={chosen}
          onChoose={(each) => {
            setChosen(keyOf(each));
            setReach({ end: keyOfRow(each.row) });
            // What decided it is marked on the drawing.
            select([...(each.zone.reach?.elements ?? [])]);
          }}
        />
      </div>
      {line && (
        <ReachCard
          line={line}
          onTake={(only) =>
            take(
              [line.row],
              only ? new Set([line.zone.zone]) : null,
              `${line.row.relay!.device.name}: ${only ? `zone ${line.zone.zone}` : 'zones'} by the rulebook`,
            )
          }
        />
      )}
    </>
  );
}

/** Why a zone reaches as far as it does. */
function ReachCard({ line: { row, zone }, onTake }: { line: Line; onTake: (onlyZone: boolean) => void }) {
  const { relay } = row;
  const canTake = relay?.fn && relay.secondary !== null;
  const parts = [
    ['Reach', zone.reach, 'Ω'],
    ['Reach of earth loops', zone.reachEarth === zone.reach ? null : zone.reachEarth, 'Ω'],
    ['Resistance', zone.resistance, 'Ω'],
    ['Resistance of earth loops', zone.resistanceEarth === zone.resistance ? null : zone.resistanceEarth, 'Ω'],
    ['Delay', zone.delay, 's'],
  ] as const;
  return (
    <article className={bench.card} aria-label={`Zone ${zone.zone} of ${row.stationName}, ${row.lineName}`}>
      <div className={bench.cardBody}>
        <div className={bench.head}>
          <h3 className={bench.title}>
            {row.stationName}, {row.lineName} <span className={bench.kind}>Zone {zone.zone}</span>
          </h3>
          <span className={bench.spacer} />
          {canTake && (
            <>
              <Button size="compact-xs" variant="default" onClick={() => onTake(true)}>
                Take zone {zone.zone}
              </Button>
              <Button size="compact-xs" variant="light" onClick={() => onTake(false)}>
                Take all of {relay.device.name}
              </Button>
            </>
          )}
        </div>
        {!relay && <p className={bench.muted}>No relay measures at this end.</p>}
        {relay && !relay.fn && <p className={bench.muted}>{relay.device.name} has no distance protection.</p>}
        {relay?.fn && relay.secondary === null && (
          <p className={bench.muted}>
            <Chip state="warn">no voltage</Chip> {relay.device.name} measures at no voltage transformer: secondary ohms
            are not known.
          </p>
        )}
        {parts.map(
          ([title, decided, unit]) =>
            decided && <DecidedLine key={title} title={title} decided={decided} unit={unit} />,
        )}
      </div>
    </article>
  );
}

function DecidedLine({ title, decided, unit }: { title: string; decided: Decided; unit: string }) {
  const network = useProject((state) => state.network);
  const { value, by, elements, against } = decided;
  const named = (id: ElementId) => {
    const element = network.elements.get(id);
    return element ? nameOf(element) : id;
  };
  return (
    <p style={{ margin: '4px 0' }}>
      <strong>{title}</strong> {formatNumber(value, 4)} {unit}: {by.rule.title}{' '}
      <span className={bench.muted}>
        = {by.rule.formula}. {by.rule.reason}
      </span>
      {by.figures.map(({ name, value: figure, elements: of }) => (
        <span key={name} className={classes.figure}>
          {name} = {figure ? formatNumber(Math.hypot(figure.re, figure.im), 4) : '–'} {name === 'margin' ? 's' : 'Ω'}
          {of.length > 0 && `, ${of.map(named).join(' + ')}`}
        </span>
      ))}
      {against.map(({ rule, value: asked }) => (
        <span key={rule.id} className={classes.figure}>
          not met: {rule.title}, {rule.sense === 'atLeast' ? 'at least' : 'at most'} {formatNumber(asked, 4)} {unit}
        </span>
      ))}
      {elements.length === 0 && by.figures.length === 0 && <span className={bench.muted}> (a fixed value)</span>}
    </p>
  );
}
