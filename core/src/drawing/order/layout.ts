/**
 * Automatic layout: the page as a graph of layers for a layout engine, and the places that it gives back. The engine itself (ELK, layered)
 * runs elsewhere; here is only what goes in and comes out.
 */
import { kinds, type Element } from '../../model/element';
import { firstCtOf } from '../../model/protection';
import type { ElementId } from '../../model/fields';
import { ofKind, type Network } from '../../model/network';
import { BoxIndex } from '../shape/boxIndex';
import { boxOf, grid, hull, isDrawn, isPlaced, snapToGrid, type Box, type Drawn } from '../shape/shapes';
import { movedWith } from '../boards/together';
import { connectionsAt } from '../wires/splice';
import type { Point } from '../shape/terminals';

/** A node of the graph: an element, or a board with all that stands in its panels. Sizes in drawing units. */
export interface LayoutNode {
  readonly id: ElementId;
  readonly members: readonly ElementId[];
  readonly width: number;
  readonly height: number;
}

export interface LayoutGraph {
  readonly nodes: readonly LayoutNode[];
  readonly edges: readonly { readonly id: string; readonly from: ElementId; readonly to: ElementId }[];
}

export type Places = ReadonlyMap<ElementId, { readonly x: number; readonly y: number }>;

const margin = { bus: 0, other: 26 };

/** The page as a graph. Edges run from the supply outward, so that sources come to stand on top. */
export function layoutGraph(network: Network, page: ElementId | null): LayoutGraph {
  const onPage = (id: ElementId) => {
    const element = network.elements.get(id);
    return element !== undefined && isDrawn(element) && (element.page ?? null) === page;
  };
  const owner = new Map<ElementId, ElementId>();
  const nodes: LayoutNode[] = [];
  const boards = ofKind(network, 'bus').filter(
    ({ id }) => ofKind(network, 'panel').some((panel) => panel.bus === id) && onPage(id),
  );
  for (const bus of boards) {
    // A board is one, with all its sections.
    if (owner.has(bus.id)) continue;
    const members = [...movedWith(network, [bus.id])].filter((id) => !owner.has(id));
    const box = hull(members.flatMap((id) => boxesOf(network.elements.get(id))));
    if (!box) continue;
    for (const id of members) owner.set(id, bus.id);
    nodes.push({ id: bus.id, members, width: box.width, height: box.height });
  }
  for (const element of network.elements.values()) {
    if (!isDrawn(element) || element.kind === 'relay' || owner.has(element.id) || !onPage(element.id)) continue;
    owner.set(element.id, element.id);
    const { width, height } = boxOf(element);
    const room = element.kind === 'bus' ? margin.bus : margin.other;
    const length =
      element.kind === 'bus' ? Math.max(width, 30 * (connectionsAt(network).get(element.id)?.length ?? 0)) : width;
    nodes.push({ id: element.id, members: [element.id], width: length + room, height });
  }
  const rank = distancesOf(network);
  const edges = ofKind(network, 'connection').flatMap(({ id, from, to }) => {
    const [a, b] = [owner.get(from.element), owner.get(to.element)];
    if (!a || !b || a === b) return [];
    const outward = (rank.get(from.element) ?? Infinity) <= (rank.get(to.element) ?? Infinity);
    return [{ id, from: outward ? a : b, to: outward ? b : a }];
  });
  return { nodes, edges };
}

const boxesOf = (element: Element | undefined) => (element && isPlaced(element) ? [boxOf(element)] : []);

const distances = new WeakMap<Network, Map<ElementId, number>>();

/** Steps from the nearest source to every element, found once for a network. */
function distancesOf(network: Network): ReadonlyMap<ElementId, number> {
  const known = distances.get(network);
  if (known) return known;
  const rank = new Map<ElementId, number>();
  distances.set(network, rank);
  let open = [
    ...ofKind(network, 'networkFeeder'),
    ...ofKind(network, 'powerStationUnit'),
    ...(ofKind(network, 'networkFeeder').length === 0 ? ofKind(network, 'synchronousMachine') : []),
  ].map(({ id }) => id);
  for (const id of open) rank.set(id, 0);
  for (let step = 1; open.length > 0; step++) {
    const next: ElementId[] = [];
    for (const id of open)
      for (const { from, to } of connectionsAt(network).get(id) ?? []) {
        const other = from.element === id ? to.element : from.element;
        if (rank.has(other)) continue;
        rank.set(other, step);
        next.push(other);
      }
    open = next;
  }
  return rank;
}

/**
 * The elements that change when a layout is taken over: those laid out at their new places, upright with their supply above, busbars as long
 * as their node, connections where they meet busbars. What is pinned, and the board it belongs to, stays; the layout is shifted so that
 * pinned things and it agree as well as they can, and nothing is put onto them.
 */
export function laidOut(network: Network, graph: LayoutGraph, places: Places): Element[] {
  const changed = new Map<ElementId, Element>();
  const get = (id: ElementId) => changed.get(id) ?? network.elements.get(id);
  const pinned = (node: LayoutNode) =>
    node.members.some((id) => {
      const element = network.elements.get(id);
      return element && isPlaced(element) && element.pinned === true;
    });
  const shift = shiftOf(network, graph, places, pinned);
  const kept = graph.nodes.filter(pinned).flatMap((node) => node.members);
  const wanted = graph.nodes.flatMap((node) => {
    const at = places.get(node.id);
    return at && !pinned(node) ? [{ node, x: snapToGrid(at.x + shift.x), y: snapToGrid(at.y + shift.y) }] : [];
  });
  const standing = kept.flatMap((id) => boxesOf(network.elements.get(id)));
  for (const { node, x: left, y: top } of clearOf(standing, wanted)) {
    if (node.members.length > 1) {
      const box = hull(node.members.flatMap((id) => boxesOf(network.elements.get(id))))!;
      for (const id of node.members) {
        const element = network.elements.get(id);
        if (element && isPlaced(element))
          changed.set(id, {
            ...element,
            x: element.x + left - snapToGrid(box.x),
            y: element.y + top - snapToGrid(box.y),
          });
      }
      continue;
    }
    const element = network.elements.get(node.id) as Drawn;
    if (element.kind === 'bus')
      changed.set(node.id, { ...element, x: left, y: top + 10, length: Math.max(40, snapToGrid(node.width)) });
    else {
      const upright = uprightOf(network, element);
      const box = boxOf({ ...upright, x: 0, y: 0 } as Drawn);
      changed.set(node.id, {
        ...upright,
        x: snapToGrid(left + node.width / 2),
        y: snapToGrid(top - box.y),
      } as Element);
    }
  }
  for (const relay of ofKind(network, 'relay')) {
    const measures = firstCtOf(relay);
    const ct = measures === null ? undefined : get(measures);
    const before = measures === null ? undefined : network.elements.get(measures);
    if (
      ct?.kind !== 'currentTransformer' ||
      before?.kind !== 'currentTransformer' ||
      relay.pinned ||
      changed.has(relay.id)
    )
      continue;
    if (ct.x !== before.x || ct.y !== before.y) changed.set(relay.id, { ...relay, x: ct.x + 50, y: ct.y });
  }
  const boardOf = new Map(
    graph.nodes.flatMap(({ id, members }) =>
      members.length > 1 ? members.map((member) => [member, id] as const) : [],
    ),
  );
  for (const connection of ofKind(network, 'connection')) {
    const attach = (end: typeof connection.from, far: typeof connection.from) => {
      const [bus, other] = [get(end.element), get(far.element)];
      if (bus?.kind !== 'bus' || !other || !isDrawn(other) || !changed.has(bus.id)) return end;
      // Within a board everything moves together.
      if (boardOf.has(bus.id) && boardOf.get(bus.id) === boardOf.get(far.element)) return end;
      const x = other.kind === 'bus' ? other.x + other.length / 2 : other.x;
      return { ...end, at: Math.min(Math.max(snapToGrid(x - bus.x), 0), bus.length) };
    };
    const [from, to] = [attach(connection.from, connection.to), attach(connection.to, connection.from)];
    if (from !== connection.from || to !== connection.to) changed.set(connection.id, { ...connection, from, to });
  }
  return [...changed.values()];
}

/** Nodes at their places, except that what would stand on something pinned goes to the nearest room. */
function clearOf<N extends { node: LayoutNode; x: number; y: number }>(
  standing: readonly Box[],
  wanted: readonly N[],
): N[] {
  const taken = new BoxIndex(standing, (box) => box);
  const boxAt = ({ node: { width, height } }: N, x: number, y: number): Box => ({
    x: x - 5,
    y: y - 5,
    width: width + 10,
    height: height + 10,
  });
  const isFree = (each: N, x: number, y: number) => taken.within(boxAt(each, x, y)).length === 0;
  const inTheWay = wanted.filter((each) => !isFree(each, each.x, each.y));
  if (inTheWay.length === 0) return [...wanted];
  const settle = (each: N) => taken.add(boxAt(each, each.x, each.y), boxAt(each, each.x, each.y));
  const moves = new Set(inTheWay);
  const stay = wanted.filter((each) => !moves.has(each));
  stay.forEach(settle);
  return [
    ...stay,
    ...inTheWay.map((each) => {
      const found = { ...each, ...nearestRoom(each, (x, y) => isFree(each, x, y)) };
      settle(found);
      return found;
    }),
  ];
}

/** The nearest place in growing squares around the one wanted that is free; the one wanted when all is full. */
function nearestRoom({ x, y }: Point, isFree: (x: number, y: number) => boolean): Point {
  const step = 2 * grid;
  for (let ring = 1; ring <= 200; ring++)
    for (let k = -ring; k <= ring; k++)
      for (const [i, j] of [
        [k, ring],
        [ring, k],
        [k, -ring],
        [-ring, k],
      ])
        if (isFree(x + i * step, y + j * step)) return { x: x + i * step, y: y + j * step };
  return { x, y };
}

/** Turned so that the supply comes from above. */
function uprightOf(network: Network, element: Drawn): Drawn {
  if (kinds[element.kind].terminals !== 2) return { ...element, turn: 0 } as Drawn;
  const rank = distancesOf(network);
  const [first, second] = [0, 1].map((terminal) => {
    const connection = (connectionsAt(network).get(element.id) ?? []).find(({ from, to }) =>
      [from, to].some((end) => end.element === element.id && end.terminal === terminal),
    );
    if (!connection) return Infinity;
    return (
      rank.get(connection.from.element === element.id ? connection.to.element : connection.from.element) ?? Infinity
    );
  });
  return { ...element, turn: first <= second ? 0 : 180 } as Drawn;
}

/** The layout begins where the page began, or lies where most pinned things say. */
function shiftOf(
  network: Network,
  graph: LayoutGraph,
  places: Places,
  pinned: (node: LayoutNode) => boolean,
): { x: number; y: number } {
  const offs = graph.nodes.flatMap((node) => {
    const at = places.get(node.id);
    const box = pinned(node) ? hull(node.members.flatMap((id) => boxesOf(network.elements.get(id)))) : null;
    return at && box ? [{ x: box.x - at.x, y: box.y - at.y }] : [];
  });
  if (offs.length > 0) {
    const middle = (values: number[]) => values.sort((p, q) => p - q)[values.length >> 1];
    return { x: middle(offs.map(({ x }) => x)), y: middle(offs.map(({ y }) => y)) };
  }
  const before = hull(graph.nodes.flatMap(({ members }) => members.flatMap((id) => boxesOf(network.elements.get(id)))));
  return { x: before?.x ?? 0, y: before?.y ?? 0 };
}
