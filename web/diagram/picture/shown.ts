/** From the state of the desk to what the canvas shows. */
import { BoxIndex } from '@mesura/core/drawing/shape/boxIndex';
import { boxOf, isDrawn, type Box, type Placed } from '@mesura/core/drawing/shape/shapes';
import { nameOf, type Element } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import type { Problem } from '@mesura/core/model/problem';
import type { Topology } from '@mesura/core/model/topology';
import type { Overlay } from './overlay';
import type { Marks, Port } from './figures';
import { Scene } from './scene';

/** Makes each scene from the one before. */
export class SceneKeeper {
  private last: Scene | null = null;

  of(network: Network, page: ElementId | null): Scene {
    if (this.last?.network !== network || this.last.page !== page) this.last = new Scene(network, page, this.last);
    return this.last;
  }
}

/** A finding about more elements than these is not marked at each: it would cover the drawing. */
const mostMarked = 12;

/** The gravest finding about each element. */
export function worstOf(problems: readonly Problem[]): Marks['findings'] {
  const order = { error: 2, warning: 1, assumed: 0 };
  const worst = new Map<ElementId, Problem['severity']>();
  for (const { element: one, elements, severity } of problems)
    for (const element of (elements?.length ?? 0) > mostMarked ? [] : (elements ?? (one ? [one] : [])))
      if (order[severity] >= order[worst.get(element) ?? 'assumed']) worst.set(element, severity);
  return worst;
}

/** From this share of the symbols on, a page is a heap and not a drawing. */
const heapShare = 0.2;
const heapLeast = 5;

/** Whether so many symbols lie on each other that the page wants to be arranged. */
export function isHeaped(placed: readonly Placed[]): boolean {
  const index = new BoxIndex<Placed>();
  const symbols = placed.filter((element) => isDrawn(element) && element.kind !== 'relay' && element.kind !== 'bus');
  const enough = Math.max(heapLeast, heapShare * symbols.length);
  let covered = 0;
  for (const symbol of symbols) {
    const box = boxOf(symbol);
    if (index.overlapsAny(box) && ++covered >= enough) return true;
    index.add(symbol, box);
  }
  return false;
}

/** What the bottom line says of the thing under the pointer. */
export function readoutOf(element: Placed, topology: Topology, overlay: Overlay): string {
  const tag = overlay.tags.get(element.id)?.title;
  if (tag) return tag;
  const node = topology.nodeAt(element.id, 0);
  const kv = node === undefined ? null : topology.nodes[node].nominalKv;
  const name = isDrawn(element) ? element.name : nameOf(element as Element);
  return `${name}${kv === null ? '' : ` · ${kv}\u2009kV`}`;
}

/** The view of the canvas package as a port onto the sheet. */
export const portOf = (state: {
  transform: readonly [number, number, number];
  width: number;
  height: number;
}): Port => {
  const [x, y, zoom] = state.transform;
  return { x: -x / zoom, y: -y / zoom, zoom, width: state.width, height: state.height };
};

/** Room at the edges of a pane, in pixels. */
export interface Room {
  readonly top: number;
  readonly bottom: number;
  readonly side: number;
}

/** The room that the tools floating over the drawing take; beside it texts stand that reach past their symbols. */
export function roomIn(frame: HTMLElement): Room {
  const pane = frame.getBoundingClientRect();
  const gap = 12;
  const room = { top: gap, bottom: gap, side: 46 };
  for (const tools of frame.querySelectorAll<HTMLElement>('[data-floats]')) {
    const { top, bottom } = tools.getBoundingClientRect();
    if (tools.dataset.floats === 'top') room.top = Math.max(room.top, bottom - pane.top + gap);
    else room.bottom = Math.max(room.bottom, pane.bottom - top + gap);
  }
  return room;
}

/** Fitting a small drawing must not blow it up. */
const closestFit = 1.4;

/** The viewport in which a box of the sheet fills a pane, with room for what floats over it. */
export function fitted(
  whole: Box,
  { width, height }: { width: number; height: number },
  room: Room,
): { x: number; y: number; zoom: number } {
  const zoom = Math.max(
    0.02,
    Math.min(
      (width - 2 * room.side) / Math.max(whole.width, 1),
      (height - room.top - room.bottom) / Math.max(whole.height, 1),
      closestFit,
    ),
  );
  return {
    zoom,
    x: (width - whole.width * zoom) / 2 - whole.x * zoom,
    y: room.top + (height - room.top - room.bottom - whole.height * zoom) / 2 - whole.y * zoom,
  };
}

/** How far a viewport has to move until a box of the sheet stands clear of the room at the edges; what is larger shows its upper left. */
export function clearing(
  { x, y, width, height }: Box,
  view: { x: number; y: number; zoom: number },
  pane: { width: number; height: number },
  room: Room,
): { x: number; y: number } {
  const way = (from: number, to: number, low: number, high: number) =>
    from < low || to - from > high - low ? low - from : to > high ? high - to : 0;
  const [left, top] = [x * view.zoom + view.x, y * view.zoom + view.y];
  return {
    x: way(left, left + width * view.zoom, room.side, pane.width - room.side),
    y: way(top, top + height * view.zoom, room.top, pane.height - room.bottom),
  };
}
