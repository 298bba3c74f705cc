'use client';

import { useEffect, useRef, useState, type ClipboardEvent, type KeyboardEvent } from 'react';
import { Select, TextInput } from '@mantine/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { elementsByKind } from '@mesura/core/model/network';
import { kinds, nameOf, type Element, type ElementKind } from '@mesura/core/model/element';
import { report } from '../../desk/report';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import {
  asText,
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
import classes from './tables.module.css';

interface Cell {
  readonly row: number;
  readonly column: number;
}

const rowHeight = 27;
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
    <section aria-label="Tables" className={classes.bench}>
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
        spreadsheet. A paste is one step to undo.
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
  const frame = useRef<HTMLDivElement>(null);
  const [at, setAt] = useState<Cell>({ row: 0, column: 0 });
  const [anchor, setAnchor] = useState<Cell>({ row: 0, column: 0 });
  const [draft, setDraft] = useState<string | null>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- its functions are used in this component only
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => frame.current,
    estimateSize: () => rowHeight,
    overscan: 12,
    initialRect: { width: 600, height: 560 },
  });
  const chosen = new Set(selection);
  const first = selection[0];
  useEffect(() => {
    const row = rows.findIndex(({ id }) => id === first);
    if (row >= 0) virtual.scrollToIndex(row, { align: 'auto' });
    // Only what is selected elsewhere brings a row into view.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [first]);
  const low = { row: Math.min(at.row, anchor.row), column: Math.min(at.column, anchor.column) };
  const high = { row: Math.max(at.row, anchor.row), column: Math.max(at.column, anchor.column) };
  const inBlock = (row: number, column: number) =>
    row >= low.row && row <= high.row && column >= low.column && column <= high.column;

  const go = (to: Cell, extend = false) => {
    const cell = {
      row: Math.min(Math.max(to.row, 0), Math.max(rows.length - 1, 0)),
      column: Math.min(Math.max(to.column, 0), columns.length - 1),
    };
    setAt(cell);
    if (!extend) setAnchor(cell);
    setDraft(null);
    const element = rows[cell.row];
    if (element) store.getState().select([element.id]);
    virtual.scrollToIndex(cell.row, { align: 'auto' });
    requestAnimationFrame(() => cellNode(cell)?.scrollIntoView({ block: 'nearest', inline: 'nearest' }));
  };
  const cellNode = ({ row, column }: Cell) =>
    frame.current?.querySelector<HTMLElement>(`[data-cell="${row} ${column}"]`);
  const say = (element: Element, column: GridColumn, message: string) =>
    `${nameOf(element)}, ${column.title.toLowerCase()}: ${message}`;
  /** Stores what was typed; the cell stays open when it is refused. */
  const store1 = (): boolean => {
    if (draft === null) return true;
    const [element, column] = [rows[at.row], columns[at.column]];
    const read = typed(element, column, draft);
    if (!read.ok) {
      onMessages([say(element, column, read.message)]);
      return false;
    }
    onMessages([]);
    setDraft(null);
    if (read.element === element) return true;
    const { commit } = store.getState();
    return report(
      commit([{ op: 'update', element: read.element }], `${nameOf(element)}: ${column.title.toLowerCase()}`),
    );
  };
  const paste = (text: string) => {
    const { network, commit } = store.getState();
    const size = { rows: high.row - low.row + 1, columns: high.column - low.column + 1 };
    const { changes, problems, beyond } = pasted(network, rows, columns, { ...low, ...size }, text);
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
  const onKeyDown = (event: KeyboardEvent) => {
    const { key, shiftKey } = event;
    const isMod = event.ctrlKey || event.metaKey;
    if (draft !== null) {
      if (key === 'Escape') setDraft(null);
      else if (key === 'Enter' || key === 'Tab') {
        if (store1())
          go(key === 'Tab' ? { ...at, column: at.column + (shiftKey ? -1 : 1) } : { ...at, row: at.row + 1 });
      } else return;
      event.preventDefault();
      event.stopPropagation();
      frame.current?.focus();
      return;
    }
    const step: Readonly<Record<string, Cell>> = {
      ArrowUp: { row: at.row - 1, column: at.column },
      ArrowDown: { row: at.row + 1, column: at.column },
      ArrowLeft: { row: at.row, column: at.column - 1 },
      ArrowRight: { row: at.row, column: at.column + 1 },
      PageUp: { row: at.row - 15, column: at.column },
      PageDown: { row: at.row + 15, column: at.column },
      Home: { row: at.row, column: 0 },
      End: { row: at.row, column: columns.length - 1 },
    };
    if (step[key] && !isMod) go(step[key], shiftKey);
    else if ((key === 'Enter' || key === 'F2') && rows[at.row]) setDraft(textOf(rows[at.row], columns[at.column]));
    else if (key.length === 1 && !isMod && !event.altKey && rows[at.row]) setDraft(key);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const onCopy = (event: ClipboardEvent) => {
    if (draft !== null) return;
    const text = asText(rows.slice(low.row, high.row + 1), columns.slice(low.column, high.column + 1));
    event.clipboardData.setData('text/plain', text);
    event.preventDefault();
  };
  const onPaste = (event: ClipboardEvent) => {
    if (draft !== null) return;
    paste(event.clipboardData.getData('text/plain'));
    event.preventDefault();
  };
  const items = virtual.getVirtualItems();
  const above = items[0]?.start ?? 0;
  const below = virtual.getTotalSize() - (items[items.length - 1]?.end ?? 0);
  return (
    <div
      ref={frame}
      className={classes.frame}
      role="grid"
      aria-label={title}
      aria-rowcount={rows.length + 1}
      aria-colcount={columns.length}
      tabIndex={0}
      onKeyDown={onKeyDown}
      onCopy={onCopy}
      onCut={onCopy}
      onPaste={onPaste}
    >
      <table className={classes.grid}>
        <thead>
          <tr role="row">
            {columns.map(({ id, title: head, unit }) => (
              <th
                key={id}
                role="columnheader"
                aria-sort={sorting?.id === id ? (sorting.down ? 'descending' : 'ascending') : undefined}
              >
                <button
                  type="button"
                  tabIndex={-1}
                  className={bench.sort}
                  onClick={() => onSort({ id, down: sorting?.id === id && !sorting.down })}
                >
                  {head}
                  {unit && <span className={bench.muted}> {unit}</span>}
                  {sorting?.id === id && (sorting.down ? ' ↓' : ' ↑')}
                </button>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {above > 0 && <tr aria-hidden style={{ height: above }} />}
          {items.map(({ index }) => {
            const element = rows[index];
            return (
              <tr
                key={element.id}
                role="row"
                aria-rowindex={index + 2}
                data-active={chosen.has(element.id) || undefined}
                style={{ height: rowHeight }}
              >
                {columns.map((column, k) => {
                  const isAt = at.row === index && at.column === k;
                  const text = textOf(element, column);
                  return (
                    <td
                      key={column.id}
                      role="gridcell"
                      data-cell={`${index} ${k}`}
                      data-at={isAt || undefined}
                      data-block={inBlock(index, k) || undefined}
                      className={/uantity/.test(column.field.type) ? classes.figure : undefined}
                      onMouseDown={(event) => {
                        if (isAt && draft !== null) return;
                        if (draft !== null && !store1()) return event.preventDefault();
                        go({ row: index, column: k }, event.shiftKey);
                      }}
                      onDoubleClick={() => setDraft(text)}
                    >
                      {isAt && draft !== null ? (
                        <input
                          className={classes.input}
                          aria-label={`${column.title} of ${nameOf(element)}`}
                          autoFocus
                          value={draft}
                          onChange={(event) => setDraft(event.currentTarget.value)}
                          onBlur={() => void store1()}
                        />
                      ) : (
                        text
                      )}
                    </td>
                  );
                })}
              </tr>
            );
          })}
          {below > 0 && <tr aria-hidden style={{ height: below }} />}
        </tbody>
      </table>
    </div>
  );
}
