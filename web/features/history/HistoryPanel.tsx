'use client';

import { useCallback, useEffect, useState } from 'react';
import { Button, Drawer, Group, Select, Text, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { changesBetween, type ElementDifference } from '@mesura/core/model/difference';
import type { Element } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { networkOf } from '@mesura/core/model/network';
import { useDesk } from '../../desk/deskState';
import { useGoToProblem } from '../../desk/findings';
import { report } from '../../desk/report';
import { api, ApiError } from '../../project/api';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { who } from '../../project/who';
import type { HistoryEntry, Version } from '../../server/versions';
import { Differences } from './Differences';
import classes from './history.module.css';

/** Who changed what and when; states of before to go back to; versions with names, and what differs between two. */
export function HistoryPanel() {
  const open = useDesk((state) => state.historyOpen);
  const set = useDesk((state) => state.set);
  return (
    <Drawer
      opened={open}
      onClose={() => set({ historyOpen: false })}
      position="right"
      size="lg"
      title="History"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      {open && <Contents />}
    </Drawer>
  );
}

function Contents() {
  const store = useProjectStore();
  const id = useProject((state) => state.id);
  const revision = useProject((state) => state.revision);
  const [entries, setEntries] = useState<HistoryEntry[] | null>(null);
  const [versions, setVersions] = useState<Version[]>([]);
  const [ended, setEnded] = useState(false);
  const [failed, setFailed] = useState<string | null>(null);
  const [pair, setPair] = useState<{ from: number; to: number } | null>(null);
  const load = useCallback(
    async (before: number | null) => {
      try {
        const answer = await api<{ entries: HistoryEntry[]; versions: Version[] }>(
          `/projects/${id}/history${before ? `?before=${before}` : ''}`,
        );
        setEntries((old) => (before && old ? [...old, ...answer.entries] : answer.entries));
        setVersions(answer.versions);
        setEnded(answer.entries.length < 100);
        setFailed(null);
      } catch (error) {
        setFailed(error instanceof ApiError ? error.message : String(error));
      }
    },
    [id],
  );
  useEffect(() => {
    // eslint-disable-next-line react-hooks/set-state-in-effect -- the answer of the server arrives later
    void load(null);
  }, [load, revision]);

  const restore = async (at: number, name: string) => {
    try {
      const { elements } = await api<{ elements: Element[] }>(`/projects/${id}/state?revision=${at}`);
      const { network, commit } = store.getState();
      const changes = changesBetween(network, networkOf(elements));
      if (changes.length === 0) return void notifications.show({ message: 'This is the state that is shown already.' });
      if (report(commit(changes, `Restore ${name}`))) useDesk.getState().set({ historyOpen: false });
    } catch (error) {
      setFailed(error instanceof ApiError ? error.message : String(error));
    }
  };
  const nameIt = async (at: number, name: string): Promise<string | null> => {
    try {
      const answer = await api<{ versions: Version[] }>(`/projects/${id}/versions`, {
        method: 'POST',
        json: { revision: at, name, author: who() },
      });
      setVersions(answer.versions);
      return null;
    } catch (error) {
      return error instanceof ApiError ? error.message : String(error);
    }
  };
  const namesOf = (at: number) => versions.filter((version) => version.revision === at).map(({ name }) => name);
  return (
    <>
      {failed && (
        <Text c="red" size="sm" role="alert">
          {failed}
        </Text>
      )}
      <NameNow revision={revision} onName={nameIt} />
      <Compare versions={versions} entries={entries ?? []} revision={revision} pair={pair} onPair={setPair} />
      <h3 className={classes.heading}>Changes</h3>
      <ol className={classes.list} aria-label="Changes, the latest first">
        {entries?.map((entry) => (
          <li key={entry.revision} className={classes.entry}>
            <span className={`figure ${classes.revision}`}>{entry.revision}</span>
            <span className={classes.what}>
              {entry.label}
              {namesOf(entry.revision).map((name) => (
                <b key={name} className={classes.version}>
                  {name}
                </b>
              ))}
              <span className={classes.who}>
                {entry.author}, {when(entry.madeAt)} · {entry.touched} element{entry.touched === 1 ? '' : 's'}
              </span>
            </span>
            <Button
              size="compact-xs"
              variant="subtle"
              aria-label={`What changed in revision ${entry.revision}`}
              onClick={() => setPair({ from: entry.revision - 1, to: entry.revision })}
            >
              What changed
            </Button>
            <Button
              size="compact-xs"
              variant="subtle"
              color="gray"
              aria-label={`Restore revision ${entry.revision}`}
              disabled={entry.revision === revision}
              onClick={() => void restore(entry.revision, `revision ${entry.revision}`)}
            >
              Restore
            </Button>
          </li>
        ))}
        <li className={classes.entry}>
          {entries && !ended ? (
            <Button size="compact-xs" variant="default" onClick={() => void load(entries[entries.length - 1].revision)}>
              Earlier changes
            </Button>
          ) : (
            <>
              <span className={`figure ${classes.revision}`}>1</span>
              <span className={classes.what}>as it was created or imported</span>
              <Button
                size="compact-xs"
                variant="subtle"
                color="gray"
                aria-label="Restore revision 1"
                disabled={revision === 1}
                onClick={() => void restore(1, 'revision 1')}
              >
                Restore
              </Button>
            </>
          )}
        </li>
      </ol>
    </>
  );
}

function NameNow({
  revision,
  onName,
}: {
  revision: number;
  onName: (at: number, name: string) => Promise<string | null>;
}) {
  const [name, setName] = useState('');
  const [wrong, setWrong] = useState<string | null>(null);
  const put = async () => {
    const refused = await onName(revision, name);
    setWrong(refused);
    if (!refused) setName('');
  };
  return (
    <Group align="flex-end" gap={8}>
      <TextInput
        label={`Name of the present state (revision ${revision})`}
        size="xs"
        style={{ flex: 1 }}
        value={name}
        error={wrong}
        maxLength={120}
        placeholder="such as: sent to the network operator"
        onChange={(event) => setName(event.currentTarget.value)}
        onKeyDown={(event) => event.key === 'Enter' && name.trim() && void put()}
      />
      <Button size="xs" variant="light" disabled={!name.trim()} onClick={() => void put()}>
        Name version
      </Button>
    </Group>
  );
}

interface CompareProps {
  versions: readonly Version[];
  entries: readonly HistoryEntry[];
  revision: number;
  pair: { from: number; to: number } | null;
  onPair: (pair: { from: number; to: number } | null) => void;
}

function Compare({ versions, entries, revision, pair, onPair }: CompareProps) {
  const id = useProject((state) => state.id);
  const go = useGoToProblem();
  const [found, setFound] = useState<{ key: string; list: ElementDifference[] } | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const key = pair ? `${pair.from}-${pair.to}` : '';
  useEffect(() => {
    if (!pair) return;
    let stale = false;
    api<{ differences: ElementDifference[] }>(`/projects/${id}/compare?from=${pair.from}&to=${pair.to}`).then(
      (answer) => !stale && (setFound({ key: `${pair.from}-${pair.to}`, list: answer.differences }), setFailed(null)),
      (error: Error) => !stale && setFailed(error.message),
    );
    return () => {
      stale = true;
    };
  }, [id, pair]);
  const named = new Map(versions.map((version) => [version.revision, version.name]));
  const revisions = [
    ...new Set([
      revision,
      1,
      ...versions.map((version) => version.revision),
      ...entries.map((entry) => entry.revision),
      ...(pair ? [pair.from, pair.to] : []),
    ]),
  ].sort((p, q) => q - p);
  const options = revisions.map((each) => ({
    value: String(each),
    label: each === revision ? `now (${each})` : named.has(each) ? `${named.get(each)} (${each})` : `revision ${each}`,
  }));
  const choose = (side: 'from' | 'to') => (value: string | null) => {
    if (value) onPair({ from: pair?.from ?? 1, to: pair?.to ?? revision, [side]: Number(value) });
  };
  return (
    <section aria-label="Compare" className={classes.compare}>
      <Group gap={8} align="flex-end">
        <Select
          label="Compare"
          size="xs"
          searchable
          data={options}
          value={pair ? String(pair.from) : null}
          placeholder="a state"
          onChange={choose('from')}
          w={210}
        />
        <Select
          label="with"
          size="xs"
          searchable
          data={options}
          value={pair ? String(pair.to) : null}
          placeholder="another"
          onChange={choose('to')}
          w={210}
        />
        {pair && (
          <Button size="xs" variant="subtle" color="gray" onClick={() => onPair(null)}>
            Close
          </Button>
        )}
      </Group>
      {failed && (
        <Text c="red" size="sm" role="alert">
          {failed}
        </Text>
      )}
      {pair && found?.key === key && (
        <Differences
          list={found.list}
          onGo={(element: ElementId) => go({ severity: 'warning', code: '', message: '', element })}
        />
      )}
    </section>
  );
}

const when = (iso: string): string => {
  const at = new Date(iso);
  const pad = (value: number) => String(value).padStart(2, '0');
  return `${at.getFullYear()}-${pad(at.getMonth() + 1)}-${pad(at.getDate())} ${pad(at.getHours())}:${pad(at.getMinutes())}`;
};
