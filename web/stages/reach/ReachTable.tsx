'use client';

import { useMemo, useState } from 'react';
import { Button, Select } from '@mantine/core';
import type { ElementId } from '@mesura/core/model/fields';
import { settingsOf } from '@mesura/core/model/network';
import { withFunction } from '@mesura/core/protection/device';
import { ohmUnits, perPrimaryOhm, type OhmUnit } from '@mesura/core/reach/units';
import { inRelay, withReaches, type ReachRow } from '@mesura/core/reach/plan';
import type { ZoneNumber } from '@mesura/core/reach/zones';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { useDesk } from '../../desk/deskState';
import { report } from '../../desk/report';
import { storeOver } from '../../desk/storeOver';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { ReachCard, unitSigns, type ReachLine } from './ReachCard';
import { setReach, useReachState } from './state';
import { keyOfRow } from './ways';
import bench from '../../card/bench.module.css';

const keyOf = ({ row, zone }: ReachLine): string => `${keyOfRow(row)} ${zone.zone}`;

/** What the relay of a row has stored for a zone, in secondary ohms; null without one. */
const storedOf = ({ row, zone }: ReachLine): number | null =>
  row.relay?.fn?.zones.find(({ name, enabled }) => enabled && name === String(zone.zone))?.reachOhm ?? null;

const proposedOf = ({ row, zone }: ReachLine): number | null =>
  row.relay?.fn && row.relay.secondary !== null && zone.reach
    ? inRelay(row.relay.fn, zone.reach.value, row.relay.secondary)
    : null;

const columnsIn = (unit: OhmUnit, baseMva: number): SortColumn<ReachLine>[] => {
  const sign = unitSigns[unit];
  const inUnit = ({ row }: ReachLine, primary: number | undefined): number | null => {
    const factor = perPrimaryOhm(unit, row, baseMva);
    return primary === undefined || factor === null ? null : primary * factor;
  };
  const stored = (line: ReachLine) => {
    const ohm = storedOf(line);
    return ohm === null || !line.row.relay?.secondary ? undefined : ohm / line.row.relay.secondary;
  };
  return [
    { id: 'station', head: 'Station', text: true, value: ({ row }) => row.stationName },
    { id: 'line', head: 'Line', text: true, value: ({ row }) => row.lineName, width: 110 },
    { id: 'zone', head: 'Zone', value: ({ zone }) => zone.zone, cell: ({ zone }) => zone.zone },
    { id: 'reach', head: `Reach ${sign}`, digits: 4, value: (line) => inUnit(line, line.zone.reach?.value) },
    { id: 'earth', head: 'earth', digits: 4, value: (line) => inUnit(line, line.zone.reachEarth?.value) },
    { id: 'r', head: 'R', digits: 3, value: (line) => inUnit(line, line.zone.resistance?.value) },
    { id: 'delay', head: 's', digits: 3, value: ({ zone }) => zone.delay?.value ?? null },
    {
      id: 'to',
      head: 'on steps',
      title: 'Reach on the steps of the relay, in secondary ohms',
      digits: 4,
      value: proposedOf,
    },
    {
      id: 'stored',
      head: 'stored',
      title: 'As the relay has it',
      digits: 4,
      value: (line) => inUnit(line, stored(line)),
    },
    { id: 'rule', head: 'Decided by', text: true, value: ({ zone }) => zone.reach?.by.rule.title ?? '', width: 190 },
  ];
};

/** Every zone of every line end, with the rule and the elements that decided it; taken whole, by relay or by zone. */
export function ReachTable({ rows, isCurrent }: { rows: readonly ReachRow[]; isCurrent: boolean }) {
  const store = useProjectStore();
  const select = useProject((state) => state.select);
  const revision = useProject((state) => state.revision);
  const projectId = useDesk((state) => state.projectId);
  const { station, zone, area, unit } = useReachState();
  const network = useProject((state) => state.network);
  const selection = useProject((state) => state.selection);
  const { baseMva } = settingsOf(network);
  const columns = useMemo(() => columnsIn(unit, baseMva), [unit, baseMva]);
  const picked = selection.filter((id) => network.elements.get(id)?.kind === 'line');
  const [chosen, setChosen] = useState<string | null>(null);
  const lines = useMemo(
    () =>
      rows
        .filter((row) => station === null || row.station === station)
        .filter((row) => area === null || row.circuit.lines.some((id) => area.includes(id)))
        .flatMap((row) =>
          row.zones
            .filter((each) => each.reach && (zone === null || each.zone === zone))
            .map((each) => ({ row, zone: each })),
        ),
    [rows, station, zone, area],
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
        <Select
          size="xs"
          w={110}
          aria-label="Unit of impedances"
          allowDeselect={false}
          value={unit}
          data={ohmUnits.map((value) => ({ value, label: unitSigns[value] }))}
          onChange={(value) => setReach({ unit: value as OhmUnit })}
        />
        {area !== null ? (
          <Button size="compact-xs" variant="light" onClick={() => setReach({ area: null })}>
            Whole network
          </Button>
        ) : (
          picked.length > 0 && (
            <Button size="compact-xs" variant="default" onClick={() => setReach({ area: picked })}>
              Only the {picked.length === 1 ? 'line' : `${picked.length} lines`} selected
            </Button>
          )
        )}
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
