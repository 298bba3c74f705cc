'use client';

import { useMemo } from 'react';
import type { Check } from '@mesura/core/checks/check';
import { shortName } from '@mesura/core/grading/chart/curves';
import { formatNumber } from '@mesura/core/fields/quantity';
import { alternating } from '@mesura/core/model/directPart';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { devicesOf } from '@mesura/core/protection/device';
import { Chip } from '../../desk/Chip';
import { useChecks } from '../../desk/findings';
import { useProject } from '../../project/ProjectContext';
import bench from '../../card/bench.module.css';

const columns = [
  { rule: 'settings.load', head: 'carries the load' },
  { rule: 'settings.overload', head: 'overload of' },
  { rule: 'settings.damage', head: 'short circuit in' },
  { rule: 'settings.sensitivity', head: 'sees the smallest fault' },
] as const;

/** What each device protects, and against what: load carried, overload, damage by a short circuit, the smallest fault at its far end. */
export function Protects() {
  const network = useProject((state) => state.network);
  const select = useProject((state) => state.select);
  const { value, isCurrent } = useChecks();
  const byDevice = useMemo(() => {
    const map = new Map<ElementId, Check[]>();
    for (const check of value?.checks ?? []) map.set(check.subject, [...(map.get(check.subject) ?? []), check]);
    return map;
  }, [value]);
  if (!value) return <p className={bench.muted}>Checks are running …</p>;
  const whatOf = (check: Check): string => {
    const other = check.elements?.find((id) => id !== check.subject);
    const element = other && network.elements.get(other);
    return element ? nameOf(element) : '';
  };
  const devices = devicesOf(alternating(network)).filter(({ id }) =>
    columns.some(({ rule }) => byDevice.get(id)?.some((check) => check.rule === rule)),
  );
  return (
    <table className={`${bench.table} ${isCurrent ? '' : bench.stale}`} aria-label="What each device protects">
      <thead>
        <tr>
          <th>Device</th>
          {columns.map(({ rule, head }) => (
            <th key={rule}>{head}</th>
          ))}
        </tr>
      </thead>
      <tbody>
        {devices.map((device) => (
          <tr key={device.id} data-clickable tabIndex={0} onClick={() => select([device.id])}>
            <td>{shortName(device)}</td>
            {columns.map(({ rule }) => {
              const checks = (byDevice.get(device.id) ?? []).filter((check) => check.rule === rule);
              return (
                <td key={rule}>
                  {checks.length === 0 && <span className={bench.muted}>–</span>}
                  {checks.map((check) => (
                    <div key={check.id} title={check.message}>
                      <Told check={check} what={whatOf(check)} />
                    </div>
                  ))}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Told({ check, what }: { check: Check; what: string }) {
  const { rule, verdict, value } = check;
  if (verdict === 'notApplicable') return <span className={bench.muted}>{what ? `not of ${what}` : 'no'}</span>;
  const factor =
    (rule === 'settings.load' || rule === 'settings.sensitivity') && value !== null
      ? `${formatNumber(value, 3)} ×`
      : '';
  const faults = rule === 'settings.sensitivity' ? /, (\w+) faults/.exec(check.title)?.[1] : undefined;
  return (
    <>
      <Chip state={verdict === 'holds' ? 'pass' : verdict === 'short' ? 'fail' : 'warn'}>
        {[faults, factor].filter(Boolean).join(' ') || (verdict === 'holds' ? 'yes' : 'no')}
      </Chip>{' '}
      {what}
    </>
  );
}
