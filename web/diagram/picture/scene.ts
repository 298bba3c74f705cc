/** What a page of the drawing shows, ready to be painted, searched and touched: symbols by place, connections with their runs, links to other pages. */
import { titleStrip } from '@mesura/core/drawing/boards/board';
import { BoxIndex } from '@mesura/core/drawing/shape/boxIndex';
import { Obstacles, plainRoute, route } from '@mesura/core/drawing/wires/route';
import { boundsOf, samePoints, separated, type Run } from '@mesura/core/drawing/wires/separate';
import {
  boxOf,
  endPoint,
  hull,
  isDrawn,
  isPlaced,
  type Box,
  type Drawn,
  type Placed,
} from '@mesura/core/drawing/shape/shapes';
import { barsOf, runUnder, type Passing } from '@mesura/core/drawing/wires/splice';
import type { Point } from '@mesura/core/drawing/shape/terminals';
import { nameOf, type ElementOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { find, ofKind, type Network } from '@mesura/core/model/network';

type Connection = ElementOf<'connection'>;

export interface Wire {
  readonly connection: Connection;
  readonly points: readonly Point[];
  /** Its run by itself, before it was pushed off others. */
  readonly run: Run;
  readonly box: Box;
}

/** The end of a connection that goes on on another page. */
export interface PageLink {
  readonly connection: Connection;
  readonly at: Point;
  /** Direction in which it leaves, a unit step. */
  readonly out: Point;
  readonly to: ElementId;
  readonly page: ElementId | null;
  readonly text: string;
}

/** Places and lengths while something is dragged, before they are stored. */
export type Adjusted = ReadonlyMap<
  ElementId,
  { x?: number; y?: number; length?: number; width?: number; height?: number }
>;
export const nothingAdjusted: Adjusted = new Map();

export const adjustedBy = (element: Placed, adjusted: Adjusted): Placed => {
  const over = adjusted.get(element.id);
  return over ? ({ ...element, ...over } as Placed) : element;
};

/** Longer lists of connections are drawn without looking for ways around symbols. */
const mostSearched = 12000;

export class Scene {
  readonly placed: readonly Placed[];
  readonly wires: readonly Wire[];
  readonly links: readonly PageLink[];
  readonly bounds: Box | null;
  readonly obstacles: Obstacles;
  private readonly places: BoxIndex<Placed>;
  private readonly runs: BoxIndex<Wire>;
  private readonly wireOfId: ReadonlyMap<string, Wire>;

  /** `before` is the scene of the state before: runs that nothing has touched are taken over. */
  constructor(
    readonly network: Network,
    readonly page: ElementId | null,
    before: Scene | null = null,
  ) {
    this.placed = [...network.elements.values()].filter(
      (element): element is Placed => isPlaced(element) && (element.page ?? null) === page,
    );
    this.obstacles = new Obstacles(this.placed);
    this.places = new BoxIndex(this.placed, boxOf);
    const known = before?.page === page ? before : null;
    const touched = known ? changedBoxes(known, this) : [];
    const routes = known ? new Map(known.wires.map((wire) => [wire.connection.id, wire])) : null;
    const links: PageLink[] = [];
    const wires: Wire[] = [];
    const runs: Run[] = [];
    const results: (readonly Point[] | null)[] = [];
    const all = ofKind(network, 'connection');
    for (const connection of all) {
      const [a, b] = [network.elements.get(connection.from.element), network.elements.get(connection.to.element)];
      if (!a || !b || !isDrawn(a) || !isDrawn(b)) continue;
      const here = [a, b].map((end) => (end.page ?? null) === page);
      if (!here[0] && !here[1]) continue;
      if (here[0] !== here[1]) {
        links.push(
          here[0]
            ? linkOf(network, connection, a, connection.from, b)
            : linkOf(network, connection, b, connection.to, a),
        );
        continue;
      }
      const old = routes?.get(connection.id);
      const stays =
        old?.connection === connection &&
        known!.network.elements.get(a.id) === a &&
        known!.network.elements.get(b.id) === b &&
        !touched.some((box) => near(box, boundsOf(old.run.points)));
      const drawn = stays ? old : this.wireOf(connection, a, b, all.length < mostSearched);
      const wire = old?.connection === connection && samePoints(drawn.run.points, old.run.points) ? old : drawn;
      wires.push(wire);
      results.push(wire === old ? wire.points : null);
      runs.push(wire.run);
    }
    if (all.length < mostSearched) {
      const kept = new Set(wires);
      const gone =
        known?.wires.filter((wire) => !kept.has(wire)).flatMap(({ points, run }) => [points, run.points]) ?? [];
      const apart = separated(runs, this.obstacles, known && { results, changed: [...touched, ...gone.map(boundsOf)] });
      for (const [k, points] of apart.entries()) wires[k] = along(wires[k], points);
    }
    this.wires = wires;
    this.links = links;
    this.runs = new BoxIndex(wires, ({ box }) => box);
    this.wireOfId = new Map(wires.map((wire) => [wire.connection.id, wire]));
    this.bounds = hull(this.placed.map(boxOf));
  }

  within(region: Box): Placed[] {
    return this.places.within(region);
  }

  wiresWithin(region: Box): Wire[] {
    return this.runs.within(region);
  }

  wire(connection: string): Wire | null {
    return this.wireOfId.get(connection) ?? null;
  }

  /** The run of a connection whose ends stand at adjusted places; what moves is not in its own way. */
  movedWire(connection: Connection, adjusted: Adjusted): Wire | null {
    const [a, b] = [connection.from, connection.to].map((end) => this.network.elements.get(end.element));
    if (!a || !b || !isDrawn(a) || !isDrawn(b)) return null;
    const free = new Set([...adjusted.keys(), ...barsOf(a, b)]);
    return this.wireOf(connection, adjustedBy(a, adjusted) as Drawn, adjustedBy(b, adjusted) as Drawn, true, free);
  }

  /** The topmost thing under a point. Of what overlaps, the smallest; panels, charts and notes only where nothing else is. */
  elementAt(at: Point, reach: number): Placed | null {
    const region = { x: at.x - reach, y: at.y - reach, width: 2 * reach, height: 2 * reach };
    let best: Placed | null = null;
    let least = Infinity;
    for (const element of this.within(region)) {
      const box = boxOf(element);
      if (element.kind === 'panel' && !onFrame(element, at, reach)) continue;
      const away = Math.hypot(
        Math.max(box.x - at.x, 0, at.x - box.x - box.width),
        Math.max(box.y - at.y, 0, at.y - box.y - box.height),
      );
      const behind =
        element.kind === 'panel' ? 1e6 : element.kind === 'textNote' || element.kind === 'chartPicture' ? 1e5 : 0;
      const rank = behind + away * 1000 + Math.min(box.width * box.height, 9000) / 10;
      if (away <= reach && rank < least) [best, least] = [element, rank];
    }
    return best;
  }

  /** The run that passes a point within some reach, and where. */
  runAt(at: Point, reach: number): Passing<Wire> | null {
    const region = { x: at.x - reach, y: at.y - reach, width: 2 * reach, height: 2 * reach };
    return runUnder(this.wiresWithin(region), at, reach);
  }

  private wireOf(connection: Connection, a: Drawn, b: Drawn, search: boolean, free = barsOf(a, b)): Wire {
    const ends = [endPoint(a, connection.from), endPoint(b, connection.to)] as const;
    const points = search ? route(ends[0], ends[1], this.obstacles, free) : plainRoute(ends[0], ends[1]);
    const run = {
      points,
      ends: [joint(a, connection.from), joint(b, connection.to)] as const,
      free: barsOf(a, b),
    };
    return { connection, points, run, box: boundsOf(points) };
  }
}

/** A busbar is one joint, wherever along it a run meets it. */
const joint = ({ kind, id }: Drawn, { terminal }: Connection['from']): string =>
  kind === 'bus' ? id : `${id}:${terminal}`;

/** The wire with this run; itself when it runs so already. */
const along = (wire: Wire, points: readonly Point[]): Wire =>
  samePoints(points, wire.points) ? wire : { ...wire, points, box: boundsOf(points) };

/** Boxes, before and now, of what has changed its place or shape. */
function changedBoxes(before: Scene, now: Scene): Box[] {
  const boxes: Box[] = [];
  const stood = (scene: Scene, id: ElementId): Placed | null => {
    const element = scene.network.elements.get(id);
    return element && isPlaced(element) && (element.page ?? null) === scene.page ? element : null;
  };
  for (const element of now.placed) {
    const old = stood(before, element.id);
    if (old === element) continue;
    if (old) {
      const [p, q] = [boxOf(old), boxOf(element)];
      if (p.x === q.x && p.y === q.y && p.width === q.width && p.height === q.height) continue;
      boxes.push(p);
    }
    boxes.push(boxOf(element));
  }
  for (const element of before.placed) if (!stood(now, element.id)) boxes.push(boxOf(element));
  return boxes.length > 200 ? [{ x: -1e6, y: -1e6, width: 2e6, height: 2e6 }] : boxes;
}

const near = (p: Box, q: Box, reach = 150): boolean =>
  p.x - reach < q.x + q.width &&
  q.x < p.x + p.width + reach &&
  p.y - reach < q.y + q.height &&
  q.y < p.y + p.height + reach;

function onFrame(panel: Extract<Placed, { kind: 'panel' }>, at: Point, reach: number): boolean {
  const { x, y, width, height } = boxOf(panel);
  const title = at.y > y + height - titleStrip;
  return title || at.x < x + reach || at.x > x + width - reach || at.y < y + reach;
}

function linkOf(
  network: Network,
  connection: Connection,
  here: Drawn,
  end: Connection['from'],
  there: Drawn,
): PageLink {
  const { at, out } = endPoint(here, end);
  const page = there.page ?? null;
  return {
    connection,
    at,
    out: out ?? { x: 0, y: 1 },
    to: there.id,
    page,
    text: `${nameOf(there)} · ${pageName(network, page)}`,
  };
}

export const pageName = (network: Network, page: ElementId | null): string =>
  find(network, 'page', page)?.name ?? 'First page';
