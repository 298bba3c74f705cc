'use client';

import { useRef, useState } from 'react';
import { Button, Checkbox, FileButton, Group, Modal, NumberInput, Select } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconFileUpload, IconPlugConnected, IconSend } from '@tabler/icons-react';
import { opened } from '@mesura/core/formats/open';
import type { SheetContent } from '@mesura/core/sheets/content';
import type { ComparedState, ReadValue } from '@mesura/core/sheets/readBack';
import {
  isEnough,
  matchedColumns,
  readColumns,
  readColumnTitles,
  readTable,
  tableValues,
  type ReadColumn,
  type ReadTable,
} from '@mesura/core/sheets/readTable';
import { Chip } from '../../desk/Chip';
import { readRegister, useRegister } from '../../desk/register';
import { api } from '../../project/api';
import { useProject } from '../../project/ProjectContext';
import { may, useHere, who } from '../../project/who';
import type { ListedSheet } from '../../server/sheets/seal';
import type { Asked } from './SignDialog';
import bench from '../../card/bench.module.css';

const kept = 'mesura.readColumns';

/** What heads of earlier files stood for; '' for a column that is not wanted. */
const remembered = (): Record<string, ReadColumn | ''> => {
  try {
    return JSON.parse(localStorage.getItem(kept) ?? '{}') as Record<string, ReadColumn | ''>;
  } catch {
    return {};
  }
};
const remember = (heads: readonly string[], columns: readonly (ReadColumn | null)[]): void => {
  try {
    const now = Object.fromEntries(heads.map((head, k) => [head.trim().toLowerCase(), columns[k] ?? '']));
    localStorage.setItem(kept, JSON.stringify({ ...remembered(), ...now }));
  } catch {
    // Without storage the columns are matched anew each time.
  }
};

const stateWords: Readonly<Record<ComparedState, string>> = {
  same: 'as issued',
  deviates: 'deviates',
  missing: 'not read',
  unknown: 'not on the sheet',
};

/** What is in the relay, beside the sheet that is in force: from a file, or from the simulated relay. */
export function ReadBackView({ sheet, name, ask }: { sheet: ListedSheet; name: string; ask: (asked: Asked) => void }) {
  const projectId = useProject((state) => state.id);
  const reading = useRegister((state) => state.readings.find(({ subjectId }) => subjectId === sheet.relayId));
  const content = useRegister((state) => state.contents.get(sheet.id)) as SheetContent | undefined;
  const { ownDesk } = useHere();
  const [port, setPort] = useState<number | string>(1502);
  const [busy, setBusy] = useState(false);
  const [table, setTable] = useState<{ name: string; table: ReadTable } | null>(null);
  const [onlyOpen, setOnlyOpen] = useState(false);
  const reset = useRef<() => void>(null);
  const as = ownDesk ? who() : undefined;
  const act = async (path: string, json: object) => {
    setBusy(true);
    try {
      await api(`/projects/${projectId}/sheets/${sheet.id}/${path}`, { method: 'POST', json: { ...json, as } });
      await readRegister(projectId);
    } catch (error) {
      notifications.show({ color: 'red', title: 'Not compared', message: (error as Error).message, autoClose: 12_000 });
    }
    setBusy(false);
  };
  const compare = (source: string, values: readonly ReadValue[]) => act('readings', { source, whole: false, values });
  const take = async (file: File | null) => {
    reset.current?.();
    if (!file) return;
    const read = await opened(file.name, new Uint8Array(await file.arrayBuffer()));
    if (!read.ok) return refuse(read.message);
    const { text, sheets } = read.source;
    if (/^\s*</.test(text)) {
      // Loaded when it is needed: few relays hand over this kind of file.
      const { readScl, sclValues } = await import('@mesura/core/sheets/scl');
      const scl = readScl(text);
      if (!scl.ok) return refuse(scl.message);
      const device =
        scl.devices.find((each) => each.name === name) ?? (scl.devices.length === 1 ? scl.devices[0] : null);
      if (!device)
        return refuse(
          `No relay in the file is called "${name}"; there are ${scl.devices
            .map((each) => each.name)
            .slice(0, 8)
            .join(', ')}.`,
        );
      return content && compare(file.name, sclValues(device, content));
    }
    const found = sheets.map(({ rows }) => readTable(rows)).find((each) => each !== null);
    if (!found) return refuse('There is no table with heads in this file.');
    setTable({ name: file.name, table: found });
  };
  const accepted = new Map(reading?.accepted.map((each) => [each.key, each]));
  const open = reading?.deviations.filter((key) => !accepted.has(key)) ?? [];
  const rows = reading?.rows.filter(({ key }) => !onlyOpen || open.includes(key)) ?? [];
  const accept = (keys: readonly string[], title: string) =>
    ask({
      title: `Accept ${title}`,
      verb: 'Accept',
      help: 'The deviation stays to be read, with who accepted it and why. It is no finding any more.',
      words: { label: 'Why', must: true },
      run: async ({ text, as: signed }) => {
        try {
          await api(`/projects/${projectId}/readings/${reading!.id}`, {
            method: 'POST',
            json: { keys, reason: text, as: signed },
          });
        } catch (error) {
          refuse((error as Error).message);
        }
        await readRegister(projectId);
      },
    });
  return (
    <>
      {may('engineer') && (
        <Group gap={8} mb={8} align="flex-end">
          <FileButton
            onChange={(file) => void take(file)}
            accept=".csv,.txt,.xlsx,.xml,.scd,.cid,.icd,.iid"
            resetRef={reset}
          >
            {(props) => (
              <Button
                {...props}
                size="compact-sm"
                variant="default"
                leftSection={<IconFileUpload size={14} />}
                disabled={busy}
              >
                Compare a file
              </Button>
            )}
          </FileButton>
          <NumberInput
            size="xs"
            w={110}
            label="Simulated relay, port"
            value={port}
            onChange={setPort}
            min={1}
            max={65_535}
            allowDecimal={false}
            thousandSeparator=""
          />
          <Button
            size="compact-sm"
            variant="default"
            leftSection={<IconPlugConnected size={14} />}
            loading={busy}
            onClick={() => void act('relay', { do: 'read', port: Number(port) })}
          >
            Read and compare
          </Button>
          <Button
            size="compact-sm"
            leftSection={<IconSend size={14} />}
            loading={busy}
            onClick={() => void act('relay', { do: 'send', port: Number(port) })}
          >
            Send revision {sheet.number}
          </Button>
        </Group>
      )}
      {!reading ? (
        <p className={bench.muted}>
          Nothing has been read from this relay yet. A file has a row for each value, with a head over each column; the
          simulated relay is started with <code>npm run relay</code>.
        </p>
      ) : (
        <>
          <p className={bench.muted}>
            {reading.sent ? 'Sent and read back' : 'Read'} on {reading.at.slice(0, 16).replace('T', ' ')} by{' '}
            {reading.name} from {reading.source}, compared with revision {reading.number}.{' '}
            {reading.number < sheet.number && <Chip state="warn">revision {sheet.number} is issued since</Chip>}{' '}
            {open.length > 0 ? (
              <Chip state="fail">{open.length === 1 ? 'one deviation' : `${open.length} deviations`}</Chip>
            ) : (
              <Chip state="pass">{accepted.size > 0 ? 'deviations accepted' : 'as issued'}</Chip>
            )}
          </p>
          <Group gap={8} mb={4}>
            <Checkbox
              size="xs"
              label="open deviations only"
              checked={onlyOpen}
              onChange={(event) => setOnlyOpen(event.currentTarget.checked)}
            />
            {open.length > 1 && may('checker', 'approver') && (
              <Button size="compact-xs" variant="subtle" onClick={() => accept(open, `${open.length} deviations`)}>
                Accept all
              </Button>
            )}
          </Group>
          <table className={`${bench.table} figures`} aria-label="Compared values">
            <thead>
              <tr>
                <th>Value</th>
                <th className="number">issued</th>
                <th className="number">read</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => {
                const by = accepted.get(row.key);
                const isOpen = open.includes(row.key);
                return (
                  <tr key={row.key}>
                    <td>{row.title}</td>
                    <td className="number">{row.issued ?? '–'}</td>
                    <td className="number" style={isOpen ? { color: 'var(--m-fail)', fontWeight: 600 } : undefined}>
                      {row.read ?? '–'}
                    </td>
                    <td>
                      {by ? (
                        <span title={by.reason}>
                          <Chip state="warn">accepted by {by.name}</Chip>
                        </span>
                      ) : (
                        <Chip state={row.state === 'same' ? 'pass' : isOpen ? 'fail' : 'warn'}>
                          {stateWords[row.state]}
                        </Chip>
                      )}{' '}
                      {isOpen && may('checker', 'approver') && (
                        <Button size="compact-xs" variant="subtle" onClick={() => accept([row.key], row.title)}>
                          Accept
                        </Button>
                      )}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </>
      )}
      {table && (
        <ColumnsDialog
          {...table}
          onClose={() => setTable(null)}
          onTake={(values) => {
            setTable(null);
            void compare(table.name, values);
          }}
        />
      )}
    </>
  );
}

const refuse = (message: string) => {
  notifications.show({ color: 'red', title: 'Not compared', message, autoClose: 12_000 });
};

/** Which column is which: told by the heads, and remembered for the next file of this kind. */
function ColumnsDialog({
  name,
  table,
  onClose,
  onTake,
}: {
  name: string;
  table: ReadTable;
  onClose: () => void;
  onTake: (values: readonly ReadValue[]) => void;
}) {
  const [columns, setColumns] = useState(() => matchedColumns(table.heads, remembered()));
  const values = tableValues(table, columns);
  const set = (k: number, to: ReadColumn | null) =>
    setColumns(columns.map((column, j) => (j === k ? to : column === to ? null : column)));
  return (
    <Modal opened onClose={onClose} title={`Columns of ${name}`} size="xl">
      <div style={{ overflowX: 'auto' }}>
        <table className={`${bench.table} figures`} aria-label="Columns">
          <thead>
            <tr>
              {table.heads.map((head, k) => (
                <th key={k}>
                  {head || '–'}
                  <Select
                    size="xs"
                    w={130}
                    aria-label={`Column ${head || k + 1} is`}
                    placeholder="left out"
                    data={readColumns.map((value) => ({ value, label: readColumnTitles[value] }))}
                    value={columns[k]}
                    onChange={(value) => set(k, value as ReadColumn | null)}
                    clearable
                  />
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {table.rows.slice(0, 6).map((row, k) => (
              <tr key={k}>
                {table.heads.map((_, j) => (
                  <td key={j}>{row[j] ?? ''}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Group justify="space-between" mt="md">
        <span className={bench.muted}>
          {isEnough(columns)
            ? `${values.length} values in ${table.rows.length} rows`
            : 'Say which column holds the value, and which the setting.'}
        </span>
        <Button
          disabled={!isEnough(columns) || values.length === 0}
          onClick={() => {
            remember(table.heads, columns);
            onTake(values);
          }}
        >
          Compare
        </Button>
      </Group>
    </Modal>
  );
}
