/** A symbol dropped onto a connection is put into it; one that is deleted lets the connection heal. */
import { removalOf, type Change } from '../../model/changes';
import { kinds, type Element, type ElementOf } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { ofKind, type Network } from '../../model/network';
import { buildTopology } from '../../model/topology';
import { whyNotConnect } from '../../model/connect';
import type { ConnectionEnd } from '../../model/switching';
import { endPoint, isDrawn, snapToGrid, type Drawn } from '../shape/shapes';
import type { Point } from '../shape/terminals';

type Connection = ElementOf<'connection'>;

const isInline = (element: Element): element is Drawn => kinds[element.kind].terminals === 2 && isDrawn(element);

/** Connections by the element that they touch, made once for a network. */
export function connectionsAt(network: Network): ReadonlyMap<ElementId, readonly Connection[]> {
  let lists = touching.get(network);
  if (!lists) {
    touching.set(network, (lists = new Map()));
    for (const connection of ofKind(network, 'connection'))
      for (const id of new Set([connection.from.element, connection.to.element])) {
        const list = lists.get(id);
        if (list) list.push(connection);
        else lists.set(id, [connection]);
      }
  }
  return lists;
}

const touching = new WeakMap<Network, Map<ElementId, Connection[]>>();

export const barsOf = (...ends: readonly Element[]): Set<ElementId> =>
  new Set(ends.flatMap((element) => (element.kind === 'bus' ? [element.id] : [])));

/** Where a run passes a point: the stretch that is nearest. */
export interface Passing<R> {
  readonly run: R;
  readonly upright: boolean;
  readonly on: Point;
}

/** The run that passes nearest to a point, within some reach. */
export function runUnder<R extends { readonly points: readonly Point[] }>(
  runs: Iterable<R>,
  at: Point,
  reach: number,
): Passing<R> | null {
  let best: Passing<R> | null = null;
  let least = reach;
  for (const run of runs)
    for (let k = 1; k < run.points.length; k++) {
      const [p, q] = [run.points[k - 1], run.points[k]];
      const on = {
        x: Math.min(Math.max(at.x, Math.min(p.x, q.x)), Math.max(p.x, q.x)),
        y: Math.min(Math.max(at.y, Math.min(p.y, q.y)), Math.max(p.y, q.y)),
      };
      const away = Math.hypot(on.x - at.x, on.y - at.y);
      if (away <= least) [best, least] = [{ run, upright: p.x === q.x, on }, away];
    }
  return best;
}

/**
 * Puts an unconnected symbol with two terminals into a connection: it is turned along it and both halves are joined. Returns why not
 * when that cannot be.
 */
export function insertInto(
  network: Network,
  element: Element,
  hit: Passing<{ readonly connection: Connection }>,
  newId: () => ElementId,
): { ok: true; changes: Change[] } | { ok: false; reason: string } {
  if (!isInline(element))
    return { ok: false, reason: `a ${kinds[element.kind].title.toLowerCase()} does not go into a connection` };
  const {
    run: { connection },
    upright,
    on,
  } = hit;
  const start = endPoint(network.elements.get(connection.from.element) as Drawn, connection.from).at;
  const turns = upright ? ([0, 180] as const) : ([270, 90] as const);
  const placed = { ...element, x: snapToGrid(on.x), y: snapToGrid(on.y) } as Drawn;
  // Terminal 0 looks to where the connection comes from.
  const faces = (turn: number) => {
    const end = endPoint({ ...placed, turn } as Drawn, { element: placed.id, terminal: 0 });
    return Math.hypot(end.at.x - start.x, end.at.y - start.y);
  };
  const turn = faces(turns[0]) <= faces(turns[1]) ? turns[0] : turns[1];
  const inserted = { ...placed, turn } as Drawn;
  // On a straight run the symbol takes the very line of it.
  const along = upright ? { ...inserted, x: on.x } : { ...inserted, y: on.y };
  const without: Network = { elements: new Map([...network.elements].filter(([id]) => id !== connection.id)) };
  const tried: Network = { elements: new Map(without.elements).set(along.id, along as Element) };
  const topology = buildTopology(tried);
  for (const [terminal, end] of [
    [0, connection.from],
    [1, connection.to],
  ] as const) {
    const reason = whyNotConnect(tried, topology, { element: along.id, terminal }, end);
    if (reason) return { ok: false, reason };
  }
  const known = network.elements.has(element.id);
  const join = (terminal: number, end: ConnectionEnd): Change => ({
    op: 'add',
    element: { kind: 'connection', id: newId(), from: end, to: { element: along.id, terminal } },
  });
  return {
    ok: true,
    changes: [
      { op: 'remove', id: connection.id },
      { op: known ? 'update' : 'add', element: along as Element },
      join(0, connection.from),
      join(1, connection.to),
    ],
  };
}

/**
 * The removal of elements, in which runs close again: where symbols without impedance (breaker, fuse, current transformer …) go, what they
 * joined is joined directly. Removing an impedance leaves the gap: it would otherwise become a short circuit.
 */
export function removalHealed(network: Network, ids: readonly ElementId[], newId: () => ElementId): Change[] {
  const changes = removalOf(network, ids);
  const gone = new Set(changes.flatMap((change) => (change.op === 'remove' ? [change.id] : [])));
  const chosen = new Set(ids);
  const lists = connectionsAt(network);
  const seen = new Set<ElementId>();
  const heals = (id: ElementId): boolean => {
    const element = network.elements.get(id);
    return (
      chosen.has(id) &&
      (element?.kind === 'currentTransformer' || (element?.kind === 'switch' && element.closed)) === true
    );
  };
  for (const id of ids) {
    if (!heals(id) || seen.has(id)) continue;
    // The whole run of such symbols that are deleted together.
    const ends: ConnectionEnd[] = [];
    const open = [id];
    seen.add(id);
    while (open.length > 0) {
      const at = open.pop()!;
      for (const connection of lists.get(at) ?? []) {
        if (chosen.has(connection.id)) continue;
        const far = connection.from.element === at ? connection.to : connection.from;
        if (heals(far.element)) {
          if (!seen.has(far.element)) {
            seen.add(far.element);
            open.push(far.element);
          }
        } else if (!gone.has(far.element)) ends.push(far);
      }
    }
    // A coupler between two busbars leaves them apart.
    const [a, b] = ends;
    const isCoupler = ends.every((end) => network.elements.get(end.element)?.kind === 'bus');
    if (ends.length === 2 && a.element !== b.element && !isCoupler)
      changes.push({ op: 'add', element: { kind: 'connection', id: newId(), from: a, to: b } });
  }
  return changes;
}
