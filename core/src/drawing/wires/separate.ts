/**
 * Runs that lie on each other look joined. Where two that are not joined share a stretch, one of them is pushed aside, as far as its
 * corners allow and nothing stands in the way.
 */
import type { ElementId } from '../../model/fields';
import { BoxIndex, touches } from '../shape/boxIndex';
import { tidy, type Obstacles } from './route';
import type { Box } from '../shape/shapes';
import type { Point } from '../shape/terminals';

export interface Run {
  /** Corners of an orthogonal run, ends included. */
  readonly points: readonly Point[];
  /** What its ends join; runs with a common one may lie on each other. */
  readonly ends: readonly [string, string];
  /** Busbars on which an end lies. */
  readonly free: ReadonlySet<ElementId>;
}

interface Stretch extends Box {
  readonly run: Run;
}

/** Runs nearer to each other than this look like one. */
const apart = 4;
/** As far may two lie side by side before anybody takes them for one: where a run turns, it passes the other's corner. */
const shortest = 2;
const steps = [5, -5, 10, -10, 15, -15, 20, -20, 25, -25, 30, -30];

/** What is known from the state before: with it only runs near a change are looked at again. */
export interface Before {
  /** For each run the corners it had, where it and what it joins are as they were; null for others. */
  readonly results: readonly (readonly Point[] | null)[];
  /** Where something has changed: obstacles, and runs that are gone or run otherwise now. */
  readonly changed: readonly Box[];
}

/**
 * The corners of each run once they are apart, in the order given; those that may stay are the same objects. The plainest keep their place.
 * The outcome is the same with and without what is known from `before`.
 */
export function separated(
  runs: readonly Run[],
  obstacles: Obstacles,
  before: Before | null = null,
): (readonly Point[])[] {
  const placed = new BoxIndex<Stretch>();
  const result = runs.map(({ points }) => points);
  const order = runs.map((_, k) => k).sort((p, q) => runs[p].points.length - runs[q].points.length || p - q);
  const changed = before ? [...before.changed] : [];
  for (const k of order) {
    const run = runs[k];
    const known = before?.results[k] ?? null;
    if (known && !changed.some((box) => touches(box, reachOf(run.points)) || touches(box, reachOf(known))))
      result[k] = known;
    else {
      if (run.points.length > 3 && sharedBy(run, run.points, placed) > 0)
        result[k] = pushedAside(run, placed, obstacles);
      if (before && !(known && samePoints(known, result[k]))) {
        changed.push(reachOf(result[k]));
        if (known) changed.push(reachOf(known));
      }
    }
    for (const box of stretchesOf(result[k])) placed.add({ ...box, run }, box);
  }
  return result;
}

/** As far as a run looks for others and for obstacles around it. */
const reach = 40;

const reachOf = (points: readonly Point[]): Box => {
  const { x, y, width, height } = boundsOf(points);
  return { x: x - reach, y: y - reach, width: width + 2 * reach, height: height + 2 * reach };
};

/** The smallest box around the corners of a run. */
export function boundsOf(points: readonly Point[]): Box {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { x, y } of points) {
    left = Math.min(left, x);
    top = Math.min(top, y);
    right = Math.max(right, x);
    bottom = Math.max(bottom, y);
  }
  return { x: left, y: top, width: right - left, height: bottom - top };
}

export const samePoints = (p: readonly Point[], q: readonly Point[]): boolean =>
  p === q || (p.length === q.length && p.every(({ x, y }, k) => x === q[k].x && y === q[k].y));

function pushedAside(run: Run, placed: BoxIndex<Stretch>, obstacles: Obstacles): readonly Point[] {
  let { points } = run;
  let least = sharedBy(run, points, placed);
  // The first and the last stretch hang on what they join; those between may move.
  for (let k = 1; k + 2 < points.length && least > 0; k++) {
    let best = points;
    for (const by of steps) {
      const moved = movedStretch(points, k, by);
      if (!moved || hits(moved, k, run, obstacles) > hits(points, k, run, obstacles)) continue;
      const shared = sharedBy(run, moved, placed);
      if (shared < least) [best, least] = [moved, shared];
      if (least === 0) break;
    }
    points = best;
  }
  return points === run.points ? points : tidy(points);
}

/** The run with its stretch from corner k to k + 1 moved across; null where a neighbouring stretch would turn round or vanish. */
function movedStretch(points: readonly Point[], k: number, by: number): Point[] | null {
  const along = points[k].x === points[k + 1].x ? 'x' : 'y';
  const moved = points.map((point, at) =>
    at === k || at === k + 1 ? { ...point, [along]: point[along] + by } : point,
  );
  for (const [p, q] of [
    [k - 1, k],
    [k + 2, k + 1],
  ] as const) {
    const before = points[q][along] - points[p][along];
    const after = moved[q][along] - moved[p][along];
    if (Math.sign(before) !== Math.sign(after) || Math.abs(after) < Math.min(5, Math.abs(before))) return null;
  }
  return moved;
}

/** What the stretch from corner k on and its two neighbours run through. */
function hits(points: readonly Point[], k: number, { free }: Run, obstacles: Obstacles): number {
  let cost = 0;
  for (let at = k - 1; at <= k + 1; at++) cost += obstacles.costOf(points[at], points[at + 1], free);
  return cost;
}

/** The length that a run shares with runs it is not joined to. */
function sharedBy(run: Run, points: readonly Point[], placed: BoxIndex<Stretch>): number {
  let shared = 0;
  for (const box of stretchesOf(points)) {
    const upright = box.width === 0;
    const around = upright
      ? { x: box.x - apart, y: box.y, width: 2 * apart, height: box.height }
      : { x: box.x, y: box.y - apart, width: box.width, height: 2 * apart };
    for (const other of placed.within(around)) {
      if (upright ? other.width > 0 : other.width === 0) continue;
      const common = upright
        ? Math.min(box.y + box.height, other.y + other.height) - Math.max(box.y, other.y)
        : Math.min(box.x + box.width, other.x + other.width) - Math.max(box.x, other.x);
      if (common > shortest && !other.run.ends.some((end) => run.ends.includes(end))) shared += common;
    }
  }
  return shared;
}

const stretchesOf = (points: readonly Point[]): Box[] =>
  points.slice(1).map((q, k) => ({
    x: Math.min(points[k].x, q.x),
    y: Math.min(points[k].y, q.y),
    width: Math.abs(q.x - points[k].x),
    height: Math.abs(q.y - points[k].y),
  }));
