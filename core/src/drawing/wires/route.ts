/**
 * Orthogonal runs of connections that keep clear of symbols. A simple run is tried first (straight, one corner, two corners); where all
 * simple ones hit something, the shortest way around is searched on the lines beside the obstacles.
 */
import { BoxIndex, touches } from '../shape/boxIndex';
import { boxOf, grid, isDrawn, type Box, type endPoint } from '../shape/shapes';
import type { Element, ElementKind } from '../../model/element';
import type { ElementId } from '../../model/fields';
import type { Point } from '../shape/terminals';

export type End = ReturnType<typeof endPoint>;

interface Obstacle extends Box {
  readonly id: ElementId;
  /** What running through it costs, in drawing units of detour; a busbar may be crossed when nothing else is left. */
  readonly cost: number;
}

/** A wire may touch the edge of a symbol: terminals stand there. */
const rim = 1;
const through: Partial<Record<ElementKind, number>> = { bus: 400 };

/** What runs have to keep clear of. */
export class Obstacles {
  private readonly index = new BoxIndex<Obstacle>();

  constructor(elements: Iterable<Element>) {
    for (const element of elements) {
      if (!isDrawn(element)) continue;
      const { x, y, width, height } = boxOf(element);
      const box =
        element.kind === 'bus'
          ? { x, y: element.y - 2.5, width, height: 5 }
          : { x: x + rim, y: y + rim, width: width - 2 * rim, height: height - 2 * rim };
      this.index.add({ ...box, id: element.id, cost: through[element.kind] ?? 4000 }, box);
    }
  }

  /** Obstacles that touch a region, each once. */
  within(region: Box): Obstacle[] {
    return this.index.within(region);
  }

  /** Cost of running straight from p to q; ends may lie on the busbars `free`. */
  costOf(p: Point, q: Point, free: ReadonlySet<ElementId>): number {
    const region = {
      x: Math.min(p.x, q.x),
      y: Math.min(p.y, q.y),
      width: Math.abs(p.x - q.x),
      height: Math.abs(p.y - q.y),
    };
    return crossed(this.within(region), region, free);
  }
}

function crossed(obstacles: readonly Obstacle[], region: Box, free: ReadonlySet<ElementId>): number {
  let cost = 0;
  for (const obstacle of obstacles) if (!free.has(obstacle.id) && touches(obstacle, region)) cost += obstacle.cost;
  return cost;
}

const upright = (out: Point | null): boolean => out === null || Math.abs(out.y) >= Math.abs(out.x);

/** The run between two ends, without regard to what stands between: straight, or with the turns in the middle. */
export function plainRoute(a: End, b: End): Point[] {
  return simpleRoutes(a, b)[0];
}

/**
 * The run between two ends around what stands in the way. `free` are busbars on which an end lies. Gives the way with the least cost
 * of length, corners and whatever cannot be avoided.
 */
export function route(a: End, b: End, obstacles: Obstacles, free: ReadonlySet<ElementId>): Point[] {
  let best: Point[] | null = null;
  let least = Infinity;
  for (const points of simpleRoutes(a, b)) {
    const hits = costOfRun(points, obstacles, free);
    const cost = hits + lengthOf(points) + 30 * (points.length - 2);
    if (cost < least) [best, least] = [points, cost];
    // The first that is clear will do: they come with the plainest first.
    if (hits === 0) return points;
  }
  const around = searched(a, b, obstacles, free);
  if (!around) return best!;
  const cost = costOfRun(around, obstacles, free) + lengthOf(around) + 30 * (around.length - 2);
  return cost < least ? around : best!;
}

function costOfRun(points: readonly Point[], obstacles: Obstacles, free: ReadonlySet<ElementId>): number {
  let cost = 0;
  for (let k = 1; k < points.length; k++) cost += obstacles.costOf(points[k - 1], points[k], free);
  return cost;
}

const lengthOf = (points: readonly Point[]): number =>
  points.reduce(
    (sum, p, k) => (k === 0 ? 0 : sum + Math.abs(p.x - points[k - 1].x) + Math.abs(p.y - points[k - 1].y)),
    0,
  );

/** Runs with at most two corners, plainest first. */
function simpleRoutes(a: End, b: End): Point[][] {
  const [p, q] = [a.at, b.at];
  if (p.x === q.x || p.y === q.y) return [[p, q]];
  const [first, last] = [upright(a.out), upright(b.out)];
  if (first && last) {
    const beside =
      a.out === null ? q.y + (b.out ? b.out.y : 0) * grid : b.out === null ? p.y + a.out.y * grid : (p.y + q.y) / 2;
    const heights = [beside, (p.y + q.y) / 2, p.y + sign(q.y - p.y) * 2 * grid, q.y - sign(q.y - p.y) * 2 * grid];
    return unique(heights).map((y) => tidy([p, { x: p.x, y }, { x: q.x, y }, q]));
  }
  if (!first && !last) {
    const columns = [(p.x + q.x) / 2, p.x + sign(q.x - p.x) * 2 * grid, q.x - sign(q.x - p.x) * 2 * grid];
    return unique(columns).map((x) => tidy([p, { x, y: p.y }, { x, y: q.y }, q]));
  }
  return [first ? [p, { x: p.x, y: q.y }, q] : [p, { x: q.x, y: p.y }, q]];
}

const sign = (value: number): number => (value < 0 ? -1 : 1);
const unique = (values: readonly number[]): number[] => [...new Set(values)];

/** Without points that lie on the straight line between their neighbours. */
export function tidy(points: readonly Point[]): Point[] {
  const kept: Point[] = [];
  for (const point of points) {
    const [before, last] = [kept[kept.length - 2], kept[kept.length - 1]];
    if (last && last.x === point.x && last.y === point.y) continue;
    if (before && ((before.x === last.x && last.x === point.x) || (before.y === last.y && last.y === point.y)))
      kept.pop();
    kept.push(point);
  }
  return kept;
}

const roomAround = 140;
const clearance = grid;
/** More lines than this are not searched: the plain run has to do. */
const mostLines = 60;

/** Shortest way on the lines beside obstacles (Dijkstra); null when there is none or too much stands around. */
function searched(a: End, b: End, obstacles: Obstacles, free: ReadonlySet<ElementId>): Point[] | null {
  const [start, goal] = [stub(a, b.at), stub(b, a.at)];
  const region = {
    x: Math.min(start.x, goal.x) - roomAround,
    y: Math.min(start.y, goal.y) - roomAround,
    width: Math.abs(start.x - goal.x) + 2 * roomAround,
    height: Math.abs(start.y - goal.y) + 2 * roomAround,
  };
  const near = obstacles.within(region);
  const xs = lines([start.x, goal.x, (start.x + goal.x) / 2], near, 'x', 'width');
  const ys = lines([start.y, goal.y, (start.y + goal.y) / 2], near, 'y', 'height');
  if (xs.length > mostLines || ys.length > mostLines) return null;

  const tolls = tollsOn(xs, ys, near, free);
  // A state is a crossing of two lines and the direction (0 across, 1 up or down) in which it was reached.
  const count = xs.length * ys.length * 2;
  const cost = new Float64Array(count).fill(Infinity);
  const from = new Int32Array(count).fill(-1);
  const done = new Uint8Array(count);
  const at = (i: number, j: number, way: number) => (j * xs.length + i) * 2 + way;
  const pointOf = (state: number): Point => ({
    x: xs[(state >> 1) % xs.length],
    y: ys[Math.floor((state >> 1) / xs.length)],
  });
  const heap = new Heap();
  const begin = at(xs.indexOf(start.x), ys.indexOf(start.y), upright(a.out) ? 1 : 0);
  const end = [0, 1].map((way) => at(xs.indexOf(goal.x), ys.indexOf(goal.y), way));
  cost[begin] = 0;
  heap.push(0, begin);
  for (let state = heap.pop(); state >= 0; state = heap.pop()) {
    if (done[state]) continue;
    done[state] = 1;
    if (end.includes(state)) break;
    const [way, place] = [state & 1, state >> 1];
    const [i, j] = [place % xs.length, Math.floor(place / xs.length)];
    const steps = [
      [i - 1, j, 0],
      [i + 1, j, 0],
      [i, j - 1, 1],
      [i, j + 1, 1],
    ];
    for (const [ni, nj, to] of steps) {
      if (ni < 0 || nj < 0 || ni >= xs.length || nj >= ys.length) continue;
      const next = at(ni, nj, to);
      if (done[next]) continue;
      const toll =
        to === 0 ? tolls.across[j * xs.length + Math.min(i, ni)] : tolls.down[Math.min(j, nj) * xs.length + i];
      const sum = cost[state] + Math.abs(xs[i] - xs[ni]) + Math.abs(ys[j] - ys[nj]) + (way === to ? 0 : 30) + toll;
      if (sum < cost[next]) {
        cost[next] = sum;
        from[next] = state;
        heap.push(sum, next);
      }
    }
  }
  const last = cost[end[0]] + (upright(b.out) ? 30 : 0) <= cost[end[1]] + (upright(b.out) ? 0 : 30) ? end[0] : end[1];
  if (cost[last] === Infinity) return null;
  const way: Point[] = [];
  for (let state = last; state >= 0; state = from[state]) way.push(pointOf(state));
  return tidy([a.at, ...way.reverse(), b.at]);
}

/** What it costs to run through obstacles on each stretch between neighbouring crossings: from (i, j) to the right, and downward. */
function tollsOn(
  xs: readonly number[],
  ys: readonly number[],
  near: readonly Obstacle[],
  free: ReadonlySet<ElementId>,
): { across: Float64Array; down: Float64Array } {
  const across = new Float64Array(xs.length * ys.length);
  const down = new Float64Array(xs.length * ys.length);
  for (const { id, cost, x, y, width, height } of near) {
    if (free.has(id)) continue;
    const [right, bottom] = [x + width, y + height];
    for (let j = 0; j < ys.length && ys[j] <= bottom; j++)
      for (let i = 0; i < xs.length && xs[i] <= right; i++) {
        if (ys[j] >= y && xs[i + 1] >= x) across[j * xs.length + i] += cost;
        if (xs[i] >= x && ys[j + 1] >= y) down[j * xs.length + i] += cost;
      }
  }
  return { across, down };
}

/** A first step straight out of the symbol; from a busbar to the side of the other end. */
function stub({ at, out }: End, other: Point): Point {
  return out
    ? { x: at.x + out.x * clearance, y: at.y + out.y * clearance }
    : { x: at.x, y: at.y + sign(other.y - at.y) * clearance };
}

function lines(own: readonly number[], near: readonly Box[], from: 'x' | 'y', size: 'width' | 'height'): number[] {
  const values = new Set(own);
  for (const box of near) {
    values.add(box[from] - rim - clearance);
    values.add(box[from] + box[size] + rim + clearance);
  }
  return [...values].sort((p, q) => p - q);
}

/** A binary heap of states by cost. */
class Heap {
  private readonly items: [number, number][] = [];

  push(cost: number, state: number): void {
    const { items } = this;
    items.push([cost, state]);
    for (let k = items.length - 1; k > 0;) {
      const up = (k - 1) >> 1;
      if (items[up][0] <= items[k][0]) break;
      [items[up], items[k]] = [items[k], items[up]];
      k = up;
    }
  }

  /** The state of least cost; −1 when there is none. */
  pop(): number {
    const { items } = this;
    if (items.length === 0) return -1;
    const [, state] = items[0];
    const last = items.pop()!;
    if (items.length > 0) {
      items[0] = last;
      for (let k = 0; ;) {
        const [left, right] = [2 * k + 1, 2 * k + 2];
        let least = k;
        if (left < items.length && items[left][0] < items[least][0]) least = left;
        if (right < items.length && items[right][0] < items[least][0]) least = right;
        if (least === k) break;
        [items[least], items[k]] = [items[k], items[least]];
        k = least;
      }
    }
    return state;
  }
}

export const pathOf = (points: readonly Point[]): string =>
  points.map((point, k) => `${k === 0 ? 'M' : 'L'}${point.x} ${point.y}`).join(' ');
