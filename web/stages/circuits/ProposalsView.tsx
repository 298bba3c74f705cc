'use client';

import { useState } from 'react';
import { Button, Checkbox } from '@mantine/core';
import type { ProposedOption } from '@mesura/core/lowVoltage/propose';
import { cellText } from '@mesura/core/lowVoltage/cells';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn, settingsOf } from '@mesura/core/model/network';
import { Chip } from '../../desk/Chip';
import { report } from '../../desk/report';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { named, optionText, reasonsOf } from './OptionCards';
import { setCircuits, useCircuitsState } from './state';
import { useProposals, type ScheduleRow } from './useCircuits';
import bench from '../../card/bench.module.css';
import { Done } from '../../workers/Done';

interface Line {
  readonly schedule: ScheduleRow;
  readonly option: ProposedOption | null;
  readonly longestM: number | null | undefined;
  readonly changes: boolean;
}

/** What is proposed for a whole board, beside what there is; what is ticked is taken as one step. */
export function ProposalsView({ rows }: { rows: readonly ScheduleRow[] }) {
  const network = useProject((state) => state.network);
  const store = useProjectStore();
  const { free } = useCircuitsState();
  const { value, isCurrent, progress, failed } = useProposals();
  const [ticked, setTicked] = useState<ReadonlySet<ElementId> | null>(null);
  const byKey = new Map(value?.map((proposal) => [proposal.key, proposal]));
  const lines = rows.map((schedule): Line => {
    const proposal = byKey.get(schedule.row.key);
    const option = proposal?.options.at(0) ?? null;
    return { schedule, option, longestM: proposal?.longestM, changes: (option?.elements.length ?? 0) > 0 };
  });
  // At first those where something is short: what holds stays as its author chose it.
  const isTicked = ({ schedule: { row }, changes }: Line) =>
    changes && (ticked ? ticked.has(row.key) : row.verdict === 'short');
  const chosen = lines.filter(isTicked);
  const take = () => {
    const { network: now, commit } = store.getState();
    const elements = chosen.flatMap(({ option }) => option!.elements.filter(({ id }) => now.elements.has(id)));
    if (
      report(
        commit(
          elements.map((element) => ({ op: 'update' as const, element })),
          `Proposals for ${chosen.length} circuits of ${nameIn(now, rows[0].row.board)}`,
        ),
      )
    ) {
      setTicked(null);
      setCircuits({ view: 'schedule', asked: null });
    }
  };
  const locked = new Set(settingsOf(network).lockedDevices);
  return (
    <section aria-label="Proposals for the board">
      <div className={bench.head}>
        <Checkbox
          size="xs"
          label="choose sections"
          checked={free.section}
          onChange={(event) => setCircuits({ free: { ...free, section: event.currentTarget.checked } })}
        />
        <Checkbox
          size="xs"
          label="choose devices"
          checked={free.device}
          onChange={(event) => setCircuits({ free: { ...free, device: event.currentTarget.checked } })}
        />
        <Done of={progress} label="Trying sections and devices" />
        <span className={bench.spacer} />
        <Button size="compact-xs" variant="default" onClick={() => setCircuits({ view: 'schedule', asked: null })}>
          Leave as it is
        </Button>
        <Button size="compact-xs" disabled={chosen.length === 0 || !isCurrent} onClick={take}>
          Take {chosen.length}
        </Button>
      </div>
      {failed && <p className={bench.problem}>{failed}</p>}
      {!value ? (
        <p className={bench.muted} role="status">
          Trying sections and devices …
        </p>
      ) : (
        <div style={{ overflowX: 'auto' }}>
          <table className={`${bench.table} ${isCurrent ? '' : bench.stale}`} aria-label="Proposals">
            <thead>
              <tr>
                <th />
                <th>Circuit</th>
                <th>Now</th>
                <th>Proposed</th>
                <th>Why</th>
                <th className="number" title="With the cable and the device as they are now">
                  l max m
                </th>
              </tr>
            </thead>
            <tbody>
              {lines.map((line) => {
                const { schedule, option, longestM, changes } = line;
                const { row, parts } = schedule;
                const name = row.ends.map((id) => nameIn(network, id)).join(', ');
                const section = cellText(network, parts, 'section');
                return (
                  <tr key={row.key}>
                    <td>
                      <Checkbox
                        size="xs"
                        aria-label={`Take for ${name}`}
                        disabled={!changes}
                        checked={isTicked(line)}
                        onChange={(event) => {
                          const next = new Set(chosen.map(({ schedule: own }) => own.row.key));
                          if (event.currentTarget.checked) next.add(row.key);
                          else next.delete(row.key);
                          setTicked(next);
                        }}
                      />
                    </td>
                    <td className={bench.cut}>{name}</td>
                    <td className={bench.whole}>
                      {[section && `${section} mm²`, cellText(network, parts, 'device')].filter(Boolean).join(', ')}{' '}
                      {row.verdict === 'short' && <Chip state="fail">short</Chip>}
                    </td>
                    <td className={bench.whole}>
                      {option === null ? (
                        <Chip state="warn">none does</Chip>
                      ) : changes ? (
                        <strong>{optionText(option)}</strong>
                      ) : (
                        <span className={bench.muted}>as it is</span>
                      )}{' '}
                      {option && option.left.length > 0 && <Chip state="warn">{`left: ${named(option.left)}`}</Chip>}
                      {parts.device && locked.has(parts.device) && ' locked'}
                    </td>
                    <td style={{ minWidth: 220 }} className={bench.muted}>
                      {option ? reasonsOf(option).join(' ') : ''}
                    </td>
                    <td className="number figures">
                      {longestM === undefined ? '' : longestM === null ? 'none' : formatNumber(longestM, 4)}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}
