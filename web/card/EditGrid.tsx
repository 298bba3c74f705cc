'use client';

import { useEffect, useRef, useState, type ClipboardEvent, type KeyboardEvent, type ReactNode } from 'react';
import { useVirtualizer } from '@tanstack/react-virtual';
import bench from './bench.module.css';
import classes from './grid.module.css';

export interface EditColumn<R> {
  readonly id: string;
  readonly title: string;
  readonly unit?: string;
  /** Said on hover over the head. */
  readonly help?: string;
  /** Figures stand to the right. */
  readonly figure?: boolean;
  /** What stands in the cell, and on the clipboard. */
  text(row: R): string;
  /** In place of the text. */
  cell?(row: R): ReactNode;
  /** Values that are worked out: shown, not typed. */
  readonly fixed?: boolean;
}

/** A block of cells, by its first row and column. */
export interface Block {
  readonly row: number;
  readonly column: number;
  readonly rows: number;
  readonly columns: number;
}

interface Cell {
  readonly row: number;
  readonly column: number;
}

interface Props<R> {
  readonly title: string;
  readonly rows: readonly R[];
  readonly columns: readonly EditColumn<R>[];
  readonly rowId: (row: R) => string;
  /** Names a row for screen readers. */
  readonly rowName: (row: R) => string;
  /** Stores what was typed; a text is a refusal, and the cell stays open. */
  readonly onType: (row: R, column: EditColumn<R>, text: string) => string | null;
  readonly onPaste: (block: Block, text: string) => void;
  /** The cell that the cursor is on has changed. */
  readonly onAt?: (row: R) => void;
  readonly onMessage: (messages: readonly string[]) => void;
  /** Rows that are shown as chosen; the first is brought into view. */
  readonly chosen: readonly string[];
  readonly sorting?: { readonly id: string; readonly down: boolean } | null;
  readonly onSort?: (sorting: { id: string; down: boolean }) => void;
  /** Not of the model as it is now. */
  readonly stale?: boolean;
  readonly maxHeight?: string;
}

const rowHeight = 27;

/** A grid that is edited like a spreadsheet: cells in place, blocks copied, pasted and filled down, by keys alone; draws only the rows in view. */
export function EditGrid<R>(props: Props<R>) {
  const { title, rows, columns, rowId, rowName, onType, onPaste, onAt, onMessage, sorting, onSort } = props;
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
  const chosen = new Set(props.chosen);
  const first = props.chosen[0];
  useEffect(() => {
    const row = rows.findIndex((each) => rowId(each) === first);
    if (row >= 0) virtual.scrollToIndex(row, { align: 'auto' });
    // Only what is chosen elsewhere brings a row into view.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [first]);
  const low = { row: Math.min(at.row, anchor.row), column: Math.min(at.column, anchor.column) };
  const high = { row: Math.max(at.row, anchor.row), column: Math.max(at.column, anchor.column) };
  const inBlock = (row: number, column: number) =>
    row >= low.row && row <= high.row && column >= low.column && column <= high.column;
  const block: Block = { ...low, rows: high.row - low.row + 1, columns: high.column - low.column + 1 };

  const go = (to: Cell, extend = false) => {
    const cell = {
      row: Math.min(Math.max(to.row, 0), Math.max(rows.length - 1, 0)),
      column: Math.min(Math.max(to.column, 0), columns.length - 1),
    };
    setAt(cell);
    if (!extend) setAnchor(cell);
    setDraft(null);
    const row = rows[cell.row];
    if (row) onAt?.(row);
    virtual.scrollToIndex(cell.row, { align: 'auto' });
    requestAnimationFrame(() => cellNode(cell)?.scrollIntoView({ block: 'nearest', inline: 'nearest' }));
  };
  const cellNode = ({ row, column }: Cell) =>
    frame.current?.querySelector<HTMLElement>(`[data-cell="${row} ${column}"]`);
  /** Stores what was typed; the cell stays open when it is refused. */
  const store = (): boolean => {
    if (draft === null) return true;
    const [row, column] = [rows[at.row], columns[at.column]];
    const refusal = onType(row, column, draft);
    onMessage(refusal ? [`${rowName(row)}, ${column.title.toLowerCase()}: ${refusal}`] : []);
    if (refusal) return false;
    setDraft(null);
    return true;
  };
  const edit = (text: string) => {
    if (rows[at.row] && !columns[at.column].fixed) setDraft(text);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const { key, shiftKey } = event;
    const isMod = event.ctrlKey || event.metaKey;
    if (draft !== null) {
      if (key === 'Escape') setDraft(null);
      else if (key === 'Enter' || key === 'Tab') {
        if (store())
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
    else if ((key === 'Enter' || key === 'F2') && rows[at.row]) edit(columns[at.column].text(rows[at.row]));
    else if (isMod && key.toLowerCase() === 'd' && block.rows > 1) {
      // The first row of the block, over all others of it.
      const line = columns.slice(low.column, high.column + 1).map((column) => column.text(rows[low.row]));
      onPaste(block, Array.from({ length: block.rows }, () => line.join('\t')).join('\n'));
    } else if (key.length === 1 && !isMod && !event.altKey && rows[at.row]) edit(key);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const onCopy = (event: ClipboardEvent) => {
    if (draft !== null) return;
    const shown = columns.slice(low.column, high.column + 1);
    const lines = rows.slice(low.row, high.row + 1).map((row) => shown.map((column) => column.text(row)).join('\t'));
    event.clipboardData.setData('text/plain', lines.join('\n'));
    event.preventDefault();
  };
  const onPasted = (event: ClipboardEvent) => {
    if (draft !== null) return;
    onPaste(block, event.clipboardData.getData('text/plain'));
    event.preventDefault();
  };
  const items = virtual.getVirtualItems();
  const above = items[0]?.start ?? 0;
  const below = virtual.getTotalSize() - (items[items.length - 1]?.end ?? 0);
  return (
    <div
      ref={frame}
      className={`${classes.frame} ${props.stale ? bench.stale : ''}`}
      style={props.maxHeight ? { maxHeight: props.maxHeight, flex: '0 1 auto' } : undefined}
      role="grid"
      aria-label={title}
      aria-busy={props.stale}
      aria-rowcount={rows.length + 1}
      aria-colcount={columns.length}
      tabIndex={0}
      onKeyDown={onKeyDown}
      onCopy={onCopy}
      onCut={onCopy}
      onPaste={onPasted}
    >
      <table className={classes.grid}>
        <thead>
          <tr role="row">
            {columns.map(({ id, title: head, unit, help }) => {
              const shown = (
                <>
                  {head}
                  {unit && <span className={bench.muted}> {unit}</span>}
                </>
              );
              return (
                <th
                  key={id}
                  role="columnheader"
                  title={help}
                  aria-sort={sorting?.id === id ? (sorting.down ? 'descending' : 'ascending') : undefined}
                >
                  {onSort ? (
                    <button
                      type="button"
                      tabIndex={-1}
                      className={bench.sort}
                      onClick={() => onSort({ id, down: sorting?.id === id && !sorting.down })}
                    >
                      {shown}
                      {sorting?.id === id && (sorting.down ? ' ↓' : ' ↑')}
                    </button>
                  ) : (
                    shown
                  )}
                </th>
              );
            })}
          </tr>
        </thead>
        <tbody>
          {above > 0 && <tr aria-hidden style={{ height: above }} />}
          {items.map(({ index }) => {
            const row = rows[index];
            const id = rowId(row);
            return (
              <tr
                key={id}
                role="row"
                aria-rowindex={index + 2}
                data-active={chosen.has(id) || undefined}
                style={{ height: rowHeight }}
              >
                {columns.map((column, k) => {
                  const isAt = at.row === index && at.column === k;
                  return (
                    <td
                      key={column.id}
                      role="gridcell"
                      data-cell={`${index} ${k}`}
                      data-at={isAt || undefined}
                      data-block={inBlock(index, k) || undefined}
                      data-fixed={column.fixed || undefined}
                      className={column.figure ? classes.figure : undefined}
                      onMouseDown={(event) => {
                        if (isAt && draft !== null) return;
                        if (draft !== null && !store()) return event.preventDefault();
                        go({ row: index, column: k }, event.shiftKey);
                      }}
                      onDoubleClick={() => edit(column.text(row))}
                    >
                      {isAt && draft !== null ? (
                        <input
                          className={classes.input}
                          aria-label={`${column.title} of ${rowName(row)}`}
                          autoFocus
                          value={draft}
                          onChange={(event) => setDraft(event.currentTarget.value)}
                          onBlur={() => void store()}
                        />
                      ) : (
                        (column.cell?.(row) ?? column.text(row))
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
