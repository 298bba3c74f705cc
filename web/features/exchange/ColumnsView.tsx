'use client';

import { useMemo, useState } from 'react';
import { Button, Group, Select } from '@mantine/core';
import { guessed, guessedKind, listKinds, targetsOf, type ColumnMap } from '@mesura/core/formats/columns/columns';
import type { PlaceableKind } from '@mesura/core/model/defaults';
import { kinds } from '@mesura/core/model/element';
import type { ListAsked } from '../../workers/coreService';
import classes from './exchange.module.css';

const key = (kind: PlaceableKind): string => `mesura.columns.${kind}`;

/** What was said of columns before, by head in small letters; "" where one was left. */
function remembered(kind: PlaceableKind): Record<string, string> {
  try {
    const read: unknown = JSON.parse(localStorage.getItem(key(kind)) ?? '{}');
    return typeof read === 'object' && read !== null ? (read as Record<string, string>) : {};
  } catch {
    return {};
  }
}

function remember(kind: PlaceableKind, heads: readonly string[], columns: ColumnMap['columns']): void {
  try {
    const said = Object.fromEntries(heads.map((head, k) => [head.toLowerCase(), columns[k] ?? '']));
    localStorage.setItem(key(kind), JSON.stringify({ ...remembered(kind), ...said }));
  } catch {
    // Storage is full or forbidden: asked again the next time.
  }
}

/** A list that says of itself nothing: which kind of element its rows are, and what stands in which column. Remembered by the heads. */
export function ColumnsView({
  lists,
  take,
  close,
}: {
  lists: readonly ListAsked[];
  take: (map: ColumnMap) => void;
  close: () => void;
}) {
  const [sheet, setSheet] = useState(0);
  const list = lists[sheet];
  const [chosen, setKind] = useState<PlaceableKind | null>(null);
  const kind = chosen ?? guessedKind(list.heads, list.name);
  const first = useMemo(() => guessed(kind, list.heads, remembered(kind)), [kind, list]);
  const [changed, setChanged] = useState<{ of: typeof first; columns: readonly (string | null)[] } | null>(null);
  const columns = changed?.of === first ? changed.columns : first;
  const targets = targetsOf(kind).map(({ id, title, unit }) => ({
    value: id,
    label: unit ? `${title} in ${unit}` : title,
  }));
  const put = (k: number, id: string | null) =>
    // A field is in one column.
    setChanged({ of: first, columns: columns.map((each, j) => (j === k ? id : each === id ? null : each)) });
  const hasName = columns.includes('name');
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        remember(kind, list.heads, columns);
        take({ sheet, kind, columns });
      }}
    >
      <p className={classes.format}>A list. What are its rows, and what stands in its columns?</p>
      <Group gap="sm" mb="sm">
        {lists.length > 1 && (
          <Select
            size="xs"
            label="Sheet"
            allowDeselect={false}
            value={String(sheet)}
            data={lists.map(({ name }, k) => ({ value: String(k), label: name || `Table ${k + 1}` }))}
            onChange={(next) => setSheet(Number(next))}
          />
        )}
        <Select
          size="xs"
          label="Each row is one"
          searchable
          allowDeselect={false}
          value={kind}
          data={listKinds.map((each) => ({ value: each as string, label: kinds[each].title }))}
          onChange={(next) => setKind(next as PlaceableKind)}
        />
      </Group>
      <table className={classes.found} aria-label="Columns">
        <thead>
          <tr>
            <th>Column</th>
            <th>Begins with</th>
            <th>Holds</th>
          </tr>
        </thead>
        <tbody>
          {list.heads.map((head, k) => (
            <tr key={k}>
              <td>{head || `Column ${k + 1}`}</td>
              <td className="figure">
                {list.sample
                  .map((row) => row[k] ?? '')
                  .filter(Boolean)
                  .join(' · ')
                  .slice(0, 60)}
              </td>
              <td>
                <Select
                  size="xs"
                  searchable
                  clearable
                  aria-label={`${head || `Column ${k + 1}`} holds`}
                  placeholder="left out"
                  value={columns[k]}
                  data={targets}
                  onChange={(id) => put(k, id)}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {!hasName && (
        <p role="alert" className={classes.refused}>
          Say which column holds the name.
        </p>
      )}
      <Group justify="flex-end" mt="md">
        <Button variant="default" onClick={close}>
          Cancel
        </Button>
        <Button type="submit" disabled={!hasName}>
          Show what {list.rows === 1 ? 'the row brings' : `the ${list.rows} rows bring`}
        </Button>
      </Group>
    </form>
  );
}
