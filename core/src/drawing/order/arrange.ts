/** Neatness by command: align, distribute, turn, mirror. Each gives the changes of one step. */
import type { Change } from '../../model/changes';
import type { ElementId } from '../../model/fields';
import type { Network } from '../../model/network';
import { boxOf, hull, isDrawn, isPlaced, snapToGrid, type Placed } from '../shape/shapes';

export type Edge = 'left' | 'centre' | 'right' | 'top' | 'middle' | 'bottom';
export type Axis = 'across' | 'down';

const placedOf = (network: Network, ids: Iterable<ElementId>): Placed[] =>
  [...ids].flatMap((id) => {
    const element = network.elements.get(id);
    return element && isPlaced(element) ? [element] : [];
  });

const moved = (element: Placed, x: number, y: number): Change[] =>
  element.x === x && element.y === y ? [] : [{ op: 'update', element: { ...element, x, y } }];

/** All to one edge or one middle line: edges of the whole, middle of the first chosen. Symbols stay on the grid. */
export function align(network: Network, ids: readonly ElementId[], edge: Edge): Change[] {
  const elements = placedOf(network, ids);
  const whole = hull(elements.map(boxOf));
  if (!whole || elements.length < 2) return [];
  const first = boxOf(elements[0]);
  return elements.flatMap((element) => {
    const box = boxOf(element);
    const by = (() => {
      switch (edge) {
        case 'left':
          return { x: whole.x - box.x, y: 0 };
        case 'right':
          return { x: whole.x + whole.width - box.x - box.width, y: 0 };
        case 'centre':
          return { x: first.x + first.width / 2 - box.x - box.width / 2, y: 0 };
        case 'top':
          return { x: 0, y: whole.y - box.y };
        case 'bottom':
          return { x: 0, y: whole.y + whole.height - box.y - box.height };
        case 'middle':
          return { x: 0, y: first.y + first.height / 2 - box.y - box.height / 2 };
      }
    })();
    return moved(element, element.x + by.x, element.y + by.y);
  });
}

/** Equal gaps between neighbours; the outermost two stay where they are. */
export function distribute(network: Network, ids: readonly ElementId[], axis: Axis): Change[] {
  const [start, size] = axis === 'across' ? (['x', 'width'] as const) : (['y', 'height'] as const);
  const elements = placedOf(network, ids)
    .map((element) => ({ element, box: boxOf(element) }))
    .sort((p, q) => p.box[start] - q.box[start]);
  if (elements.length < 3) return [];
  const [first, last] = [elements[0].box, elements[elements.length - 1].box];
  const inner = elements.slice(1, -1).reduce((sum, { box }) => sum + box[size], 0);
  const gap = (last[start] - first[start] - first[size] - inner) / (elements.length - 1);
  let at = first[start] + first[size] + gap;
  return elements.slice(1, -1).flatMap(({ element, box }) => {
    const by = snapToGrid(at - box[start]);
    at += box[size] + gap;
    return moved(element, element.x + (start === 'x' ? by : 0), element.y + (start === 'y' ? by : 0));
  });
}

/** Each symbol by a quarter turn clockwise on its own place. */
export function turn(network: Network, ids: readonly ElementId[]): Change[] {
  return placedOf(network, ids).flatMap((element): Change[] =>
    !isDrawn(element) || element.kind === 'bus'
      ? []
      : [{ op: 'update', element: { ...element, turn: ((element.turn + 90) % 360) as 0 } }],
  );
}

/**
 * Left and right (across) or top and bottom (down) of a selection exchanged: places about its middle, each symbol with them, and the
 * places where connections meet the busbars that are mirrored.
 */
export function mirror(network: Network, ids: readonly ElementId[], axis: Axis): Change[] {
  const elements = placedOf(network, ids);
  const whole = hull(elements.map(boxOf));
  if (!whole) return [];
  const twice = {
    x: snapToGrid(2 * whole.x + whole.width),
    y: snapToGrid(2 * whole.y + whole.height),
  };
  const changes: Change[] = elements.map((element) => ({ op: 'update', element: mirrored(element, axis, twice) }));
  const bars = new Map(elements.flatMap((element) => (element.kind === 'bus' ? [[element.id, element.length]] : [])));
  if (axis === 'across')
    for (const element of network.elements.values()) {
      if (element.kind !== 'connection') continue;
      const turnedEnd = (end: typeof element.from) => {
        const length = bars.get(end.element);
        return length === undefined ? end : { ...end, at: length - Math.min(end.at ?? length / 2, length) };
      };
      if (bars.has(element.from.element) || bars.has(element.to.element))
        changes.push({
          op: 'update',
          element: { ...element, from: turnedEnd(element.from), to: turnedEnd(element.to) },
        });
    }
  return changes;
}

function mirrored(element: Placed, axis: Axis, twice: { x: number; y: number }): Placed {
  const box = boxOf(element);
  const x = axis === 'across' ? twice.x - (box.x + box.width) + (element.x - box.x) : element.x;
  const y = axis === 'down' ? twice.y - (box.y + box.height) + (element.y - box.y) : element.y;
  if (!isDrawn(element) || element.kind === 'bus') return { ...element, x, y };
  // A symbol mirrored across its own axis keeps its turn; mirrored along it, it is also turned over.
  const lies = element.turn === 90 || element.turn === 270;
  const along = (axis === 'across') === lies;
  const { mirrored: was, ...rest } = element;
  return {
    ...rest,
    x,
    y,
    turn: along ? (((element.turn + 180) % 360) as 0) : element.turn,
    ...(was ? {} : { mirrored: true }),
  } as Placed;
}
