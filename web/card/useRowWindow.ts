'use client';

import { useCallback, useEffect, useRef, useState, type RefObject } from 'react';
import { useVirtualizer } from '@tanstack/react-virtual';

const rowHeight = 29;
/** Shorter tables are drawn whole. */
const shortest = 120;

/** Of a long table in a scrolling pane, the rows in view: from, to, and the room above and below in pixels. */
export function useRowWindow(body: RefObject<HTMLElement | null>, count: number) {
  const isLong = count > shortest;
  const [scroller, setScroller] = useState<HTMLElement | null>(null);
  const [margin, setMargin] = useState(0);
  useEffect(() => {
    const pane = paneOf(body.current);

    setScroller(pane);
    if (pane && body.current)
      setMargin(body.current.getBoundingClientRect().top - pane.getBoundingClientRect().top + pane.scrollTop);
  }, [body, count]);
  // eslint-disable-next-line react-hooks/incompatible-library -- its functions are used in this component only
  const virtual = useVirtualizer({
    count: isLong ? count : 0,
    getScrollElement: () => scroller,
    estimateSize: () => rowHeight,
    overscan: 14,
    scrollMargin: margin,
    initialRect: { width: 600, height: 600 },
  });
  const latest = useRef(virtual);
  useEffect(() => {
    latest.current = virtual;
  });
  const reveal = useCallback(
    (row: number) => {
      if (isLong) latest.current.scrollToIndex(row, { align: 'auto' });
      else body.current?.children[row]?.scrollIntoView({ block: 'nearest' });
    },
    // A pane that has just been found may have to scroll at once.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [isLong, scroller, body],
  );
  if (!isLong) return { from: 0, to: count, above: 0, below: 0, reveal };
  const items = virtual.getVirtualItems();
  const from = items[0]?.index ?? 0;
  const to = (items[items.length - 1]?.index ?? Math.min(40, count) - 1) + 1;
  return { from, to, above: from * rowHeight, below: (count - to) * rowHeight, reveal };
}

/** The nearest ancestor that scrolls. */
function paneOf(element: HTMLElement | null): HTMLElement | null {
  for (let at = element?.parentElement ?? null; at; at = at.parentElement)
    if (/(auto|scroll)/.test(getComputedStyle(at).overflowY)) return at;
  return null;
}
