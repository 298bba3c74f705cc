'use client';

import { useState, type PointerEvent, type ReactNode, type RefObject } from 'react';
import type { Box } from '@mesura/core/drawing/shape/shapes';
import classes from '../diagram.module.css';

type Place = { clientX: number; clientY: number };

/** Choosing with a box: Shift and drag on the drawing. */
export function useMarquee(
  frame: RefObject<HTMLDivElement | null>,
  positionOf: (event: Place) => { x: number; y: number },
  onBox: (box: Box) => void,
): { begin: (event: PointerEvent) => void; box: ReactNode } {
  const [shown, setShown] = useState<Box | null>(null);
  const begin = (event: PointerEvent) => {
    if (!event.shiftKey || event.button !== 0) return;
    const target = event.target as HTMLElement;
    if (!target.closest('.react-flow__pane')) return;
    event.stopPropagation();
    event.preventDefault();
    // A field that is being typed into is left, and stores, as with any other click.
    (document.activeElement as HTMLElement | null)?.blur();
    const origin = frame.current!.getBoundingClientRect();
    const from = { clientX: event.clientX, clientY: event.clientY };
    const between = (to: Place): Box => ({
      x: Math.min(from.clientX, to.clientX) - origin.left,
      y: Math.min(from.clientY, to.clientY) - origin.top,
      width: Math.abs(from.clientX - to.clientX),
      height: Math.abs(from.clientY - to.clientY),
    });
    const move = (to: globalThis.PointerEvent) => setShown(between(to));
    const end = (to: globalThis.PointerEvent) => {
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', end);
      setShown(null);
      const [p, q] = [positionOf(from), positionOf(to)];
      const box = {
        x: Math.min(p.x, q.x),
        y: Math.min(p.y, q.y),
        width: Math.abs(p.x - q.x),
        height: Math.abs(p.y - q.y),
      };
      if (box.width <= 3 && box.height <= 3) return;
      // The click that ends the drag would choose what lies under it, or nothing.
      const swallow = (click: Event) => click.stopPropagation();
      window.addEventListener('click', swallow, { capture: true, once: true });
      setTimeout(() => window.removeEventListener('click', swallow, { capture: true }));
      onBox(box);
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', end);
  };
  return {
    begin,
    box: shown && (
      <div
        className={classes.marquee}
        style={{ left: shown.x, top: shown.y, width: shown.width, height: shown.height }}
      />
    ),
  };
}
