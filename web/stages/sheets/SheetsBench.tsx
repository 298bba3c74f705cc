'use client';

import { useMemo, useState } from 'react';
import { Alert, Button, Checkbox, Group, Select, TextInput } from '@mantine/core';
import { IconFolder, IconSignature, IconSettings } from '@tabler/icons-react';
import { arcLines } from '@mesura/core/arc/table';
import type { SubjectKind } from '@mesura/core/sheets/content';
import { subjectsOf } from '@mesura/core/sheets/subjects';
import { Chip } from '../../desk/Chip';
import { readRegister, useRegister } from '../../desk/register';
import { useMoved } from '../../desk/sheetFindings';
import { useProject } from '../../project/ProjectContext';
import { may } from '../../project/who';
import { useCore } from '../../workers/useCore';
import { fitsFilter, registerRows, rowState, type RegisterRow } from './rows';
import { SheetCard } from './SheetCard';
import { SignDialog, type Asked } from './SignDialog';
import { setSheets, showSheet, stateFilters, useSheetsState, type StateFilter } from './state';
import { TitleBlockDialog } from './TitleBlockDialog';
import { useSigning } from './useSigning';
import bench from '../../card/bench.module.css';
import { Percent } from '../../workers/Done';

const kindTitles: Readonly<Record<SubjectKind, string>> = {
  device: 'Devices',
  linePackage: 'Line packages',
  arcLabel: 'Arc labels',
};

const stateTitles: Readonly<Record<StateFilter, string>> = {
  all: 'in any state',
  draft: 'drafts',
  prepared: 'to be checked',
  checked: 'to be approved',
  rejected: 'rejected',
  issued: 'issued, up to date',
  moved: 'issued, and moved since',
  withdrawn: 'withdrawn',
};

export function SheetsBench() {
  const network = useProject((state) => state.network);
  const projectId = useProject((state) => state.id);
  const saved = useProject((state) => state.saving.status === 'saved');
  const register = useRegister();
  const moved = useMoved();
  const { kind, station, state, text, ticked, subject } = useSheetsState();
  const [asked, setAsked] = useState<Asked | null>(null);
  const [settingsOpen, setSettingsOpen] = useState(false);
  const arcs = useCore(kind === 'arcLabel' ? 'arcs for sheets' : null, (service, ticket, onProgress) =>
    service.arcs({ compare: false, maintenance: false }, ticket, onProgress),
  );
  const subjects = useMemo(
    () =>
      subjectsOf(network, arcs.value ? arcLines(network, arcs.value).filter(({ worst }) => worst !== null) : []).filter(
        (each) => each.kind === kind,
      ),
    [network, arcs.value, kind],
  );
  const rows = useMemo(() => registerRows(subjects, register, moved), [subjects, register, moved]);
  const shown = rows.filter((row) => fitsFilter(row, { station, state, text }));
  const chosen = rows.find(({ id }) => id === subject?.id) ?? shown[0];
  const picked = shown.filter(({ key }) => ticked.has(key));
  const signing = useSigning(picked, setAsked);
  const stations = [...new Set(rows.map((row) => row.station).filter(Boolean))].sort();
  const tick = (keys: readonly string[], on: boolean) => {
    const next = new Set(ticked);
    for (const key of keys)
      if (on) next.add(key);
      else next.delete(key);
    setSheets({ ticked: next });
  };
  return (
    <section aria-label="Setting sheets">
      <div className={bench.head}>
        <h2 className={bench.title}>Setting sheets</h2>
        <span className={bench.spacer} />
        <Button
          size="compact-sm"
          variant="default"
          leftSection={<IconSettings size={14} />}
          onClick={() => setSettingsOpen(true)}
        >
          Title block
        </Button>
      </div>
      <Group gap={8} mb={8}>
        <Select
          size="xs"
          w={122}
          aria-label="Sheets of"
          data={Object.entries(kindTitles).map(([value, label]) => ({ value, label }))}
          value={kind}
          onChange={(value) => setSheets({ kind: (value ?? 'device') as SubjectKind, ticked: new Set() })}
          allowDeselect={false}
        />
        <Select
          size="xs"
          w={128}
          aria-label="Station"
          placeholder="all stations"
          data={stations}
          value={station}
          onChange={(value) => setSheets({ station: value })}
          clearable
        />
        <Select
          size="xs"
          w={168}
          aria-label="State"
          data={stateFilters.map((value) => ({ value, label: stateTitles[value] }))}
          value={state}
          onChange={(value) => setSheets({ state: (value ?? 'all') as StateFilter })}
          allowDeselect={false}
        />
        <TextInput
          size="xs"
          w={110}
          aria-label="Name"
          placeholder="name"
          value={text}
          onChange={(event) => setSheets({ text: event.currentTarget.value })}
        />
      </Group>
      {register.failed && (
        <Alert color="red" mb={8}>
          The register cannot be shown: {register.failed}{' '}
          <Button size="compact-xs" variant="default" onClick={() => void readRegister(projectId)}>
            Try again
          </Button>
        </Alert>
      )}
      <div className={bench.short} style={{ maxHeight: '34vh' }}>
        <table className={`${bench.table} figures`} aria-label="Register">
          <thead>
            <tr>
              <th>
                <Checkbox
                  size="xs"
                  aria-label="All"
                  checked={shown.length > 0 && picked.length === shown.length}
                  indeterminate={picked.length > 0 && picked.length < shown.length}
                  onChange={(event) =>
                    tick(
                      shown.map(({ key }) => key),
                      event.currentTarget.checked,
                    )
                  }
                />
              </th>
              <th>{kind === 'device' ? 'Device' : kind === 'linePackage' ? 'Package' : 'Place'}</th>
              <th>Type</th>
              <th>Issued</th>
              <th>State</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((row) => (
              <Row
                key={row.key}
                row={row}
                isActive={row.key === chosen?.key}
                isTicked={ticked.has(row.key)}
                onTick={(on) => tick([row.key], on)}
              />
            ))}
          </tbody>
        </table>
        {shown.length === 0 && (
          <p className={bench.muted}>
            {kind === 'arcLabel' && !arcs.value ? (
              <>
                Arcs are being computed … <Percent of={arcs.progress} />
              </>
            ) : rows.length > 0 ? (
              'Nothing fits these filters.'
            ) : kind === 'device' ? (
              'There is no relay yet. Place one in the Network stage beside a current transformer.'
            ) : kind === 'linePackage' ? (
              'There is no line package yet. Make one in the Reach stage.'
            ) : (
              'Nothing feeds an arc anywhere.'
            )}
          </p>
        )}
      </div>
      {picked.length > 0 && (
        <Group gap={6} mt={8} role="toolbar" aria-label="With the ticked ones">
          <span className={bench.muted}>{picked.length} ticked:</span>
          {may('engineer') && (
            <Button
              size="compact-sm"
              disabled={!saved}
              onClick={signing.prepare}
              leftSection={<IconSignature size={14} />}
            >
              Prepare
            </Button>
          )}
          {signing.actions.map(({ verb, count, ask }) => (
            <Button key={verb} size="compact-sm" variant="default" onClick={ask}>
              {verb} {count}
            </Button>
          ))}
          {signing.folder && (
            <Button
              size="compact-sm"
              variant="default"
              leftSection={<IconFolder size={14} />}
              onClick={() => void signing.folder!()}
            >
              One PDF
            </Button>
          )}
        </Group>
      )}
      {chosen && <SheetCard key={chosen.key} row={chosen} ask={setAsked} />}
      {asked && <SignDialog asked={asked} onClose={() => setAsked(null)} />}
      {settingsOpen && <TitleBlockDialog onClose={() => setSettingsOpen(false)} />}
    </section>
  );
}

interface RowProps {
  row: RegisterRow;
  isActive: boolean;
  isTicked: boolean;
  onTick: (on: boolean) => void;
}

function Row({ row, isActive, isTicked, onTick }: RowProps) {
  const state = rowState(row);
  const { sheet, name, type } = row;
  const choose = () => showSheet({ kind: row.kind, id: row.id });
  return (
    <tr
      data-clickable
      data-active={isActive || undefined}
      tabIndex={0}
      onClick={choose}
      onKeyDown={(event) => {
        if (event.target !== event.currentTarget) return;
        if (event.key === 'Enter') choose();
        if (event.key === ' ') {
          event.preventDefault();
          onTick(!isTicked);
        }
      }}
    >
      <td onClick={(event) => event.stopPropagation()}>
        <Checkbox
          size="xs"
          aria-label={`Tick ${name}`}
          checked={isTicked}
          onChange={(event) => onTick(event.currentTarget.checked)}
        />
      </td>
      <td>{name}</td>
      <td className={bench.cut}>{type}</td>
      <td style={{ whiteSpace: 'nowrap' }}>{sheet ? `rev ${sheet.number}, ${sheet.issuedAt.slice(0, 10)}` : '–'}</td>
      <td>
        {state ? <Chip state={state.tone}>{state.text}</Chip> : '…'}{' '}
        {sheet && !sheet.sound && <Chip state="fail">seal does not fit</Chip>}
      </td>
    </tr>
  );
}
