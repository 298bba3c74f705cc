'use client';

import { useDeferredValue, useEffect, useMemo, useRef } from 'react';
import { Button, SegmentedControl, Select, TextInput } from '@mantine/core';
import type { Check } from '@mesura/core/checks/check';
import { formatNumber } from '@mesura/core/fields/quantity';
import { useRowWindow } from '../../card/useRowWindow';
import { Chip } from '../../desk/Chip';
import { useChecks } from '../../desk/findings';
import { useVersion, useVersions } from '../../desk/versions';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import { CheckCard } from '../../card/CheckCard';
import { rowsFor, type CheckRow } from './rows';
import { setFindings, useFindingsState, type Shown } from './state';
import bench from '../../card/bench.module.css';
import { Done } from '../../workers/Done';

const tones = { holds: 'pass', short: 'fail', doubtful: 'warn', notApplicable: 'warn' } as const;

/** Verify: every tested statement over every condition, and what changed since a run that was kept. */
export function FindingsBench() {
  const network = useProject((state) => state.network);
  const { value, isCurrent, progress } = useChecks();
  const { shown, filter, check, kept: run, version } = useFindingsState();
  const earlier = useEarlier(version);
  const kept = version === null ? run : earlier.value;
  const checks = value?.checks;
  useEffect(() => {
    // The first run of a visit is what later ones are compared with, until another one is kept.
    if (checks && isCurrent && !useFindingsState.getState().kept) setFindings({ kept: checks });
  }, [checks, isCurrent]);
  const wanted = useDeferredValue(filter);
  const rows = useMemo(
    () => (checks ? rowsFor(checks, network, { shown, filter: wanted, kept }) : []),
    [checks, network, shown, wanted, kept],
  );
  const count = (verdict: Check['verdict']) => checks?.filter((each) => each.verdict === verdict).length ?? 0;
  const chosen = checks?.find(({ id }) => id === check) ?? null;
  return (
    <section aria-label="Checks">
      <div className={bench.head}>
        <h2 className={bench.title}>Checks</h2>
        {checks && (
          <span className={bench.muted} role="status" aria-label="Verdicts">
            {count('holds')} OK, {count('short')} not met, {count('doubtful')} warnings
            {value && ` · ${Math.round(value.milliseconds)} ms`}
          </span>
        )}
        <Done of={progress} w={100} label="Checking" />
        <span className={bench.spacer} />
        <Button
          size="compact-xs"
          variant="default"
          disabled={!checks || !isCurrent}
          title="Later runs are compared with this one"
          onClick={() => setFindings({ kept: checks ?? null })}
        >
          Keep this run
        </Button>
      </div>
      <div className={bench.head}>
        <SegmentedControl
          size="xs"
          aria-label="Which checks"
          value={shown}
          onChange={(which) => setFindings({ shown: which as Shown, check: null })}
          data={[
            { value: 'failed', label: 'Not met' },
            { value: 'all', label: 'All' },
            { value: 'changed', label: 'Changed' },
          ]}
        />
        {shown === 'changed' && <AgainstSelect version={version} />}
        <TextInput
          size="xs"
          w={220}
          placeholder="Filter"
          aria-label="Filter the checks"
          value={filter}
          onChange={(event) => setFindings({ filter: event.currentTarget.value })}
        />
      </div>
      <div className={isCurrent ? undefined : bench.stale}>
        <CheckTable rows={rows} chosen={check} changed={shown === 'changed'} />
      </div>
      {checks && rows.length === 0 && (
        <p className={bench.muted}>
          {filter
            ? 'No check has all of these words.'
            : shown === 'changed'
              ? kept
                ? 'Nothing got worse and nothing better since then.'
                : 'That version is being checked …'
              : 'All checks are OK.'}
        </p>
      )}
      {chosen && <CheckCard check={chosen} />}
    </section>
  );
}

/** Checks of a named version of the project. */
function useEarlier(revision: number | null) {
  const version = useVersion(revision);
  return useCore(version && `checks of ${version.key}`, async (service, ticket, onProgress) => {
    await service.holdVersion(version!.key, version!.elements);
    return service.checksOf(version!.key, ticket, onProgress);
  });
}

/** The run that was kept, and the named versions of the project. */
function AgainstSelect({ version }: { version: number | null }) {
  const versions = useVersions();
  return (
    <Select
      size="xs"
      w={190}
      allowDeselect={false}
      aria-label="Compared with"
      value={version === null ? 'kept' : String(version)}
      data={[
        { value: 'kept', label: 'the run that was kept' },
        ...versions.map(({ revision, name }) => ({ value: String(revision), label: name })),
      ]}
      onChange={(value) => setFindings({ version: value === 'kept' ? null : Number(value), check: null })}
    />
  );
}

function CheckTable({ rows, chosen, changed }: { rows: readonly CheckRow[]; chosen: string | null; changed: boolean }) {
  const body = useRef<HTMLTableSectionElement>(null);
  const { from, to, above, below } = useRowWindow(body, rows.length);
  const figure = (value: number | null, unit: string) =>
    value === null ? '–' : `${formatNumber(value, 4)}${unit ? `\u2009${unit}` : ''}`;
  return (
    <table className={`${bench.table} figures`} aria-label="Checks" aria-rowcount={rows.length}>
      <thead>
        <tr>
          <th>Verdict</th>
          <th>Subject</th>
          <th>Check</th>
          {changed && <th className="number">before</th>}
          <th className="number">value</th>
          <th className="number">required</th>
          <th className="number">margin</th>
          <th>Condition</th>
        </tr>
      </thead>
      <tbody ref={body}>
        {above > 0 && <tr style={{ height: above }} aria-hidden />}
        {rows.slice(from, to).map(({ check, subject, margin, verdict, condition, change, before }) => (
          <tr
            key={check.id}
            data-clickable
            data-active={check.id === chosen || undefined}
            tabIndex={0}
            onClick={() => setFindings({ check: check.id })}
            onKeyDown={(event) => event.key === 'Enter' && setFindings({ check: check.id })}
          >
            <td>
              <Chip state={tones[check.verdict]}>{changed && change ? `${change}: ${verdict}` : verdict}</Chip>
            </td>
            <td>{subject}</td>
            <td>{check.title}</td>
            {changed && <td className="number">{figure(before?.value ?? null, check.unit)}</td>}
            <td className="number">{figure(check.value, check.unit)}</td>
            <td className="number">{figure(check.bound, check.unit)}</td>
            <td className="number">{figure(margin, check.unit)}</td>
            <td>{condition}</td>
          </tr>
        ))}
        {below > 0 && <tr style={{ height: below }} aria-hidden />}
      </tbody>
    </table>
  );
}
