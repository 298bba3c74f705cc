'use client';

import { useMemo, useState } from 'react';
import { Button, Modal, Select, Textarea } from '@mantine/core';
import {
  listColumns,
  listColumnTitles,
  type ListPlan,
  matched,
  readList,
  type ListColumn,
} from '@mesura/core/lowVoltage/loadList';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn } from '@mesura/core/model/network';
import { report } from '../../desk/report';
import { newId } from '../../project/newId';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import { setCircuits } from './state';
import bench from '../../card/bench.module.css';

/** What the user matched before, by the heads of their lists. */
const memory = 'mesura.loadListColumns';
const remembered = (): Record<string, ListColumn | ''> => {
  try {
    return JSON.parse(localStorage.getItem(memory) ?? '{}') as Record<string, ListColumn | ''>;
  } catch {
    return {};
  }
};
/** A browser that forbids storage forgets it, and that is all. */
const remember = (heads: readonly string[], columns: readonly (ListColumn | null)[]): void => {
  try {
    const all = {
      ...remembered(),
      ...Object.fromEntries(heads.map((head, k) => [head.toLowerCase(), columns[k] ?? ''])),
    };
    localStorage.setItem(memory, JSON.stringify(Object.fromEntries(Object.entries(all).slice(-200))));
  } catch {
    // Kept for this list only.
  }
};

/** Rows shown of a list before it is taken. */
const shownRows = 6;

/** A load list from a spreadsheet: columns are matched, what cannot be read is named, the rest becomes circuits in one step. */
export function PasteList({ board, onClose }: { board: ElementId; onClose: () => void }) {
  const network = useProject((state) => state.network);
  const store = useProjectStore();
  const [text, setText] = useState('');
  const [stem] = useState(newId);
  const [own, setOwn] = useState<readonly (ListColumn | null)[] | null>(null);
  const list = useMemo(() => readList(text), [text]);
  const columns = useMemo(() => own ?? matched(list.heads, remembered()), [own, list]);
  // A long list takes a while to draw: the worker does, and the dialog goes on.
  const { value, isCurrent } = useCore<ListPlan>(
    list.rows.length > 0 ? `load list ${JSON.stringify([board, list, columns])}` : null,
    (service) => service.loadList(board, list, columns, stem),
  );
  const plan = list.rows.length > 0 ? value : null;
  const taken = plan?.keys.filter((key) => key !== null).length ?? 0;
  const take = () => {
    if (!plan) return;
    remember(list.heads, columns);
    if (report(store.getState().commit(plan.changes, `Load list of ${nameIn(network, board)}: ${taken} circuits`))) {
      setCircuits({ board, chosen: plan.keys.find((key) => key !== null) ?? null, view: 'schedule' });
      onClose();
    }
  };
  return (
    <Modal opened onClose={onClose} title={`Load list for ${nameIn(network, board)}`} size="xl">
      <Textarea
        size="xs"
        label="Copy the rows of the list, with their heads, and paste them here"
        autosize
        minRows={4}
        maxRows={9}
        data-autofocus
        value={text}
        onChange={(event) => {
          setText(event.currentTarget.value);
          setOwn(null);
        }}
        styles={{ input: { fontFamily: 'var(--mantine-font-family-monospace)', whiteSpace: 'pre' } }}
      />
      {list.rows.length > 0 && (
        <div style={{ overflowX: 'auto', marginTop: 8 }}>
          <table className={bench.table} aria-label="The list">
            <thead>
              <tr>
                {list.heads.map((head, k) => (
                  <th key={`${head} ${k}`}>
                    {head}
                    <Select
                      size="xs"
                      miw={150}
                      aria-label={`${head} is`}
                      clearable
                      placeholder="left out"
                      value={columns[k]}
                      data={listColumns.map((each) => ({
                        value: each,
                        label: listColumnTitles[each],
                        disabled: columns.includes(each) && columns[k] !== each,
                      }))}
                      onChange={(next) =>
                        setOwn(columns.map((each, j) => (j === k ? (next as ListColumn | null) : each)))
                      }
                    />
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {list.rows.slice(0, shownRows).map((row, k) => (
                // Rows of a text have no name of their own.
                <tr key={k}>
                  {row.map((cell, j) => (
                    <td key={j} className={columns[j] ? undefined : bench.muted}>
                      {cell}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
          {list.rows.length > shownRows && <p className={bench.muted}>and {list.rows.length - shownRows} more rows</p>}
        </div>
      )}
      {plan && plan.problems.length > 0 && (
        <ul className={bench.help} role="alert" aria-label="Not taken">
          {plan.problems.slice(0, 8).map(({ row, column, message }) => (
            <li key={`${row} ${column}`}>
              Row {row}
              {column && `, ${column}`}: {message}
            </li>
          ))}
          {plan.problems.length > 8 && <li>and {plan.problems.length - 8} more</li>}
        </ul>
      )}
      <div className={bench.head} style={{ marginTop: 10 }}>
        <span className={bench.muted}>
          Each row becomes breaker, cable and consumer; what the list does not say is marked as assumed.
        </span>
        <span className={bench.spacer} />
        <Button size="xs" variant="default" onClick={onClose}>
          Cancel
        </Button>
        <Button size="xs" disabled={taken === 0 || !isCurrent} onClick={take}>
          Draw {taken} circuits
        </Button>
      </div>
    </Modal>
  );
}
