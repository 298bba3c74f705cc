'use client';

import { useState } from 'react';
import { Select, TextInput } from '@mantine/core';
import { elementsByKind } from '@mesura/core/model/network';
import { kinds, nameOf, type Element, type ElementKind } from '@mesura/core/model/element';
import { EditGrid, type Block, type EditColumn } from '../../card/EditGrid';
import { report } from '../../desk/report';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import {
  columnsOf,
  pasted,
  shownRows,
  textOf,
  typed,
  unlisted,
  type GridColumn,
  type Sorting,
} from '@mesura/core/fields/cells';
import bench from '../../card/bench.module.css';
import grid from '../../card/grid.module.css';

const none: readonly Element[] = [];

/** All elements of a kind, a row each; cells are edited in place, copied and pasted in blocks, each paste one step to undo. */
export function TablesBench() {
  const network = useProject((state) => state.network);
  const [wanted, setKind] = useState<ElementKind | null>(null);
  const [filter, setFilter] = useState('');
  const [sorting, setSorting] = useState<Sorting | null>(null);
  const [messages, setMessages] = useState<readonly string[]>([]);
  const lists = elementsByKind(network);
  const selection = useProject((state) => state.selection);
  const selectedKind = selection.length > 0 ? network.elements.get(selection[0])?.kind : undefined;
  const present = [...lists.keys()].filter((kind) => !unlisted.includes(kind));
  const kind = wanted ?? (selectedKind && present.includes(selectedKind) ? selectedKind : (present[0] ?? 'bus'));
  const columns = columnsOf(kind);
  const elements = lists.get(kind) ?? none;
  const rows = shownRows(elements, columns, filter, sorting);
  return (
    <section aria-label="Tables" className={grid.bench}>
      <div className={bench.head}>
        <h2 className={bench.title}>Tables</h2>
        <Select
          size="xs"
          w={210}
          allowDeselect={false}
          searchable
          aria-label="Kind of element"
          value={kind}
          data={present.map((each) => ({
            value: each,
            label: `${kinds[each].title} (${lists.get(each)?.length ?? 0})`,
          }))}
          onChange={(value) => {
            setKind(value as ElementKind);
            setSorting(null);
            setMessages([]);
          }}
        />
        <TextInput
          size="xs"
          w={180}
          placeholder="Filter"
          aria-label="Filter the table"
          value={filter}
          onChange={(event) => setFilter(event.currentTarget.value)}
        />
        <span className={bench.muted}>
          {rows.length} of {elements.length}
        </span>
      </div>
      <Grid
        key={kind}
        title={kinds[kind].title}
        rows={rows}
        columns={columns}
        sorting={sorting}
        onSort={setSorting}
        onMessages={setMessages}
      />
      {messages.length > 0 && (
        <ul className={bench.help} role="alert" aria-label="Not taken">
          {messages.slice(0, 8).map((message) => (
            <li key={message}>{message}</li>
          ))}
          {messages.length > 8 && <li>and {messages.length - 8} more</li>}
        </ul>
      )}
      <p className={bench.muted} style={{ margin: '6px 0 0' }}>
        Enter or typing edits a cell, Shift with the arrows selects a block, Ctrl C and Ctrl V exchange it with a
        spreadsheet, Ctrl D fills it down. A paste is one step to undo.
      </p>
    </section>
  );
}

function Grid({
  title,
  rows,
  columns,
  sorting,
  onSort,
  onMessages,
}: {
  title: string;
  rows: readonly Element[];
  columns: readonly GridColumn[];
  sorting: Sorting | null;
  onSort: (sorting: Sorting) => void;
  onMessages: (messages: readonly string[]) => void;
}) {
  const store = useProjectStore();
  const selection = useProject((state) => state.selection);
  const shown = columns.map((column): EditColumn<Element> => ({
    id: column.id,
    title: column.title,
    unit: column.unit,
    figure: /uantity/.test(column.field.type),
    text: (element) => textOf(element, column),
  }));
  const store1 = (element: Element, { id }: EditColumn<Element>, text: string): string | null => {
    const column = columns.find((each) => each.id === id)!;
    const read = typed(element, column, text);
    if (!read.ok) return read.message;
    if (read.element === element) return null;
    const { commit } = store.getState();
    const label = `${nameOf(element)}: ${column.title.toLowerCase()}`;
    const result = commit([{ op: 'update', element: read.element }], label);
    return result.ok ? null : result.problems[0].message;
  };
  const paste = (block: Block, text: string) => {
    const { network, commit } = store.getState();
    const { changes, problems, beyond } = pasted(network, rows, columns, block, text);
    if (changes.length > 0) report(commit([...changes], `${title}: paste into ${changes.length}`));
    const name = (id: Element['id']) => {
      const element = network.elements.get(id);
      return element ? nameOf(element) : id;
    };
    onMessages([
      ...problems.map(({ element, column, message }) =>
        column ? `${name(element)}, ${column.toLowerCase()}: ${message}` : message,
      ),
      ...(beyond > 0 ? [`${beyond} cells lie beyond the end of the table and were left out.`] : []),
    ]);
  };
  return (
    <EditGrid
      title={title}
      rows={rows}
      columns={shown}
      rowId={({ id }) => id}
      rowName={nameOf}
      onType={store1}
      onPaste={paste}
      onAt={({ id }) => store.getState().select([id])}
      onMessage={onMessages}
      chosen={selection}
      sorting={sorting}
      onSort={onSort}
    />
  );
}
