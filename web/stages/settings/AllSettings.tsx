'use client';

import { useDeferredValue, useMemo, useState } from 'react';
import { ActionIcon, Button, Select, TextInput, Tooltip } from '@mantine/core';
import { IconLock, IconLockOpen } from '@tabler/icons-react';
import { plainNumber } from '@mesura/core/fields/quantity';
import type { ElementId } from '@mesura/core/model/fields';
import { settingsOf } from '@mesura/core/model/network';
import { stationsOf } from '@mesura/core/model/stations';
import { ruleNamed } from '@mesura/core/checks/rules';
import { withFunction } from '@mesura/core/protection/device';
import { familyOf } from '@mesura/core/protection/registry';
import { isSettable, snap } from '@mesura/core/protection/settings/range';
import { foundSettings, settingRows, type SettingRow } from '@mesura/core/proposals/list';
import { originTitles, originWords, overridden, type OriginState } from '@mesura/core/proposals/origin';
import { QuantityField } from '../../card/QuantityField';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { Chip } from '../../desk/Chip';
import { useChecks } from '../../desk/findings';
import { report } from '../../desk/report';
import { useProject } from '../../project/ProjectContext';
import { ChangeMany } from './ChangeMany';
import { setSettings, useSettingsState } from './state';
import { today } from '../../desk/today';
import bench from '../../card/bench.module.css';

const unmet: ReadonlySet<string> = new Set(['short', 'doubtful']);
const states: Readonly<Record<OriginState, 'pass' | 'warn' | undefined>> = {
  typed: undefined,
  assumed: 'warn',
  proposed: 'pass',
  overridden: 'warn',
};

const columns: SortColumn<SettingRow>[] = [
  { id: 'device', head: 'Device', text: true, value: ({ device }) => device.name },
  { id: 'code', head: 'Function', text: true, value: ({ code }) => code },
  { id: 'setting', head: 'Setting', text: true, value: ({ setting }) => setting.title },
  {
    id: 'value',
    head: 'Value',
    value: ({ setting }) => setting.value,
    cell: ({ setting }) => plainNumber(setting.value),
  },
  { id: 'unit', head: 'Unit', text: true, value: ({ setting }) => setting.unit },
  { id: 'primary', head: 'Primary A', digits: 4, value: ({ primaryA }) => primaryA },
  {
    id: 'origin',
    head: 'Origin',
    text: true,
    value: ({ state }) => originTitles[state],
    cell: ({ state, fn }) => (
      <>
        {states[state] ? <Chip state={states[state]}>{originTitles[state]}</Chip> : originTitles[state]}
        {!fn.enabled && <span className={bench.muted}> out of use</span>}
      </>
    ),
  },
];

/** Every setting of the project in one list; the one chosen is changed below it, with a reason where it was proposed. */
export function AllSettings() {
  const network = useProject((state) => state.network);
  const select = useProject((state) => state.select);
  const { filter, origin, station, check, row } = useSettingsState();
  const words = useDeferredValue(filter);
  const all = useMemo(() => settingRows(network), [network]);
  const stations = useMemo(() => {
    const ids = new Set(all.map(({ device }) => device.id));
    return stationsOf(network).filter(({ elements }) => [...ids].some((id) => elements.has(id)));
  }, [network, all]);
  const { value: checks } = useChecks();
  const open = useMemo(() => {
    const ids = new Set(all.map(({ device }) => device.id));
    return checks?.checks.filter(({ verdict, subject }) => unmet.has(verdict) && ids.has(subject)) ?? [];
  }, [checks, all]);
  const about = [...new Set(open.map(({ rule }) => rule))];
  const rows = useMemo(() => {
    const devices =
      check === null
        ? null
        : new Set(open.filter((each) => check === 'any' || each.rule === check).map(({ subject }) => subject));
    return foundSettings(network, all, { words, origin, station, devices });
  }, [network, all, words, origin, station, check, open]);
  const [many, setMany] = useState(false);
  const chosen = rows.find(({ key }) => key === row) ?? null;
  return (
    <>
      <div className={bench.head}>
        <TextInput
          size="xs"
          w={220}
          placeholder="BRA 51 pickup …"
          aria-label="Filter the settings"
          value={filter}
          onChange={(event) => setSettings({ filter: event.currentTarget.value })}
        />
        <Select
          size="xs"
          w={130}
          clearable
          placeholder="any origin"
          aria-label="Origin"
          value={origin}
          data={Object.entries(originTitles).map(([value, label]) => ({ value, label }))}
          onChange={(value) => setSettings({ origin: value as OriginState | null })}
        />
        <Select
          size="xs"
          w={120}
          clearable
          searchable
          placeholder="any station"
          aria-label="Station"
          value={station}
          data={stations.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(value) => setSettings({ station: value as ElementId | null })}
        />
        <Select
          size="xs"
          w={170}
          clearable
          placeholder="whatever checks say"
          aria-label="Check that does not hold"
          value={check}
          data={[
            { value: 'any', label: 'any does not hold' },
            ...about.map((id) => ({ value: id, label: ruleNamed(id)?.title ?? id })),
          ]}
          onChange={(value) => setSettings({ check: value })}
        />
        <span className={bench.muted} role="status">
          {rows.length} of {all.length}
        </span>
        <span className={bench.spacer} />
        <Button
          size="compact-xs"
          variant={many ? 'light' : 'default'}
          aria-expanded={many}
          onClick={() => setMany(!many)}
        >
          Change many
        </Button>
      </div>
      {many && <ChangeMany all={all} shown={rows} />}
      <div className={chosen ? bench.short : undefined}>
        <SortTable
          label="All settings"
          columns={columns}
          rows={rows}
          rowId={({ key }) => key}
          current
          chosen={row}
          onChoose={({ key, device }) => {
            setSettings({ row: key });
            select([device.id]);
          }}
        />
      </div>
      {chosen && <SettingCard key={chosen.key} row={chosen} />}
    </>
  );
}

/** One value: where it came from, and another one in its place. */
function SettingCard({ row: { device, fn, code, setting, origin } }: { row: SettingRow }) {
  const network = useProject((store) => store.network);
  const commit = useProject((store) => store.commit);
  const [reason, setReason] = useState('');
  const settings = settingsOf(network);
  const isLocked = settings.lockedDevices.includes(device.id);
  const range = setting.range;
  const store = (value: number): string | null => {
    if (range && !isSettable(range, value)) return `not settable; nearest ${snap(range, value)}`;
    if (setting.sizes && !setting.sizes.includes(value)) return 'not made in this size';
    if (origin && reason.trim() === '') return 'Set against a proposal: give the reason first.';
    const changed =
      reason.trim() === '' && !origin
        ? withFunction(device.element, familyOf(fn).withSetting(fn, setting.field, value))
        : overridden(device.element, fn.id, setting.field, value, reason.trim(), today());
    const done = report(
      commit([{ op: 'update', element: changed }], `${device.name}, ${code}: ${setting.title.toLowerCase()} ${value}`),
    );
    if (done) setReason('');
    return done ? null : 'not stored';
  };
  const lock = () =>
    commit(
      [
        {
          op: 'update',
          element: {
            ...settings,
            lockedDevices: isLocked
              ? settings.lockedDevices.filter((id) => id !== device.id)
              : [...settings.lockedDevices, device.id],
          },
        },
      ],
      `${device.name} ${isLocked ? 'no longer locked' : 'locked'}`,
    );
  return (
    <article className={bench.card} aria-label={`Setting ${device.name} ${code} ${setting.title}`}>
      <div className={bench.cardBody}>
        <div className={bench.head}>
          <h3 className={bench.title}>
            {device.name}, {code} <span className={bench.kind}>{setting.title}</span>
          </h3>
          <span className={bench.spacer} />
          <Tooltip label={isLocked ? 'Proposals may change this device again' : 'Proposals leave this device as it is'}>
            <ActionIcon
              variant={isLocked ? 'light' : 'subtle'}
              color={isLocked ? undefined : 'gray'}
              aria-label={isLocked ? `Unlock ${device.name}` : `Lock ${device.name}`}
              onClick={lock}
            >
              {isLocked ? <IconLock size={15} /> : <IconLockOpen size={15} />}
            </ActionIcon>
          </Tooltip>
        </div>
        <div className={bench.head}>
          <QuantityField
            compact
            label={setting.title}
            unit={setting.unit}
            value={setting.value}
            onCommit={(value) => (value === null ? 'a value is needed' : store(value))}
          />
          <TextInput
            size="xs"
            w={320}
            aria-label="Reason"
            placeholder={origin ? 'reason, before another value' : 'reason, if there is one'}
            value={reason}
            onChange={(event) => setReason(event.currentTarget.value)}
          />
          {range && (
            <span className={bench.muted}>
              {range.min} to {range.max}, step {range.step}
            </span>
          )}
        </div>
        {origin && (
          <p className={bench.muted} style={{ margin: '4px 0 0' }}>
            {originWords(origin).replace(/^./, (letter) => letter.toUpperCase())}.
          </p>
        )}
      </div>
    </article>
  );
}
