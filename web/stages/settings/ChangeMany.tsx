'use client';

import { useMemo, useState } from 'react';
import { Button, SegmentedControl, Textarea, TextInput } from '@mantine/core';
import { parseQuantity, plainNumber } from '@mesura/core/fields/quantity';
import { changedAll, pasted, withBulk, type Bulk } from '@mesura/core/proposals/bulk';
import type { SettingRow } from '@mesura/core/proposals/list';
import { report } from '../../desk/report';
import { useProject } from '../../project/ProjectContext';
import { today } from '../../desk/today';
import bench from '../../card/bench.module.css';
import classes from './settings.module.css';

const modes = { factor: 'Times a factor', value: 'To a value', paste: 'Paste lines' } as const;
type Mode = keyof typeof modes;
const nothing: Bulk = { changes: [], problems: [] };
/** So many are shown; all are stored. */
const mostShown = 30;

/** Changes the settings that are listed, or those of pasted lines: what would come of it is seen first. */
export function ChangeMany({ all, shown }: { all: readonly SettingRow[]; shown: readonly SettingRow[] }) {
  const commit = useProject((state) => state.commit);
  const [mode, setMode] = useState<Mode>('factor');
  const [amount, setAmount] = useState('');
  const [lines, setLines] = useState('');
  const [reason, setReason] = useState('');
  const read = parseQuantity(amount, '');
  const { changes, problems } = useMemo((): Bulk => {
    if (mode === 'paste') return pasted(all, lines);
    const number = parseQuantity(amount, '');
    return number.ok && number.value > 0 ? changedAll(shown, mode, number.value) : nothing;
  }, [mode, all, shown, lines, amount]);
  const needsReason = changes.some(({ row }) => row.origin !== null) && reason.trim() === '';
  const store = () => {
    const batch = withBulk(changes, reason.trim(), today()).map((element) => ({ op: 'update' as const, element }));
    if (report(commit(batch, `${changes.length} settings changed`)))
      [setAmount, setLines, setReason].forEach((clear) => clear(''));
  };
  return (
    <section className={bench.card} aria-label="Change many">
      <div className={bench.cardBody}>
        <div className={bench.head}>
          <SegmentedControl
            size="xs"
            aria-label="How"
            value={mode}
            onChange={(next) => setMode(next as Mode)}
            data={Object.entries(modes).map(([value, label]) => ({ value, label }))}
          />
          {mode !== 'paste' && (
            <TextInput
              size="xs"
              w={90}
              aria-label={mode === 'factor' ? 'Factor' : 'Value'}
              value={amount}
              error={amount !== '' && !(read.ok && read.value > 0)}
              onChange={(event) => setAmount(event.currentTarget.value)}
            />
          )}
          <TextInput
            size="xs"
            w={220}
            aria-label="Reason for all"
            placeholder="reason"
            value={reason}
            onChange={(event) => setReason(event.currentTarget.value)}
          />
          <Button size="compact-xs" disabled={changes.length === 0 || needsReason} onClick={store}>
            {changes.length === 1 ? 'Store 1 value' : `Store ${changes.length} values`}
          </Button>
        </div>
        {mode === 'paste' && (
          <Textarea
            size="xs"
            aria-label="Lines"
            autosize
            minRows={3}
            maxRows={8}
            placeholder="BRA Q21 relay ⇥ 51 ⇥ Time multiplier ⇥ 0.09"
            value={lines}
            onChange={(event) => setLines(event.currentTarget.value)}
          />
        )}
        <p className={bench.muted} style={{ margin: '4px 0' }} role="status" aria-label="What would change">
          {mode === 'paste'
            ? 'Device, function, setting and value, with tabs or semicolons between them.'
            : `Of the ${shown.length} settings that the list shows, each on the steps of its device.`}{' '}
          {changes.length > 0 && `${changes.length} would change.`}{' '}
          {needsReason && 'Some were proposed: give a reason.'}
        </p>
        {problems.length > 0 && (
          <ul className={classes.list} aria-label="Not taken">
            {problems.slice(0, 8).map(({ line, message }) => (
              <li key={`${line} ${message}`} className={bench.problem}>
                {mode === 'paste' && `Line ${line}: `}
                {message}
              </li>
            ))}
            {problems.length > 8 && <li className={bench.muted}>and {problems.length - 8} more</li>}
          </ul>
        )}
        {changes.length > 0 && (
          <table className={`${bench.table} figures`} aria-label="Preview">
            <tbody>
              {changes.slice(0, mostShown).map(({ row, to }) => (
                <tr key={row.key}>
                  <td>
                    {row.device.name}, {row.code}
                  </td>
                  <td>{row.setting.title}</td>
                  <td className="number">{plainNumber(row.setting.value)}</td>
                  <td className="number">
                    <strong>{plainNumber(to)}</strong> {row.setting.unit}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {changes.length > mostShown && <p className={bench.muted}>and {changes.length - mostShown} more</p>}
      </div>
    </section>
  );
}
