/** Time over current given by points, straight between them where both axes are logarithmic. */

import type { CurvePair } from '../model/curvePoints';

export type { CurvePair };

/**
 * Time at a current: Infinity below the first point, between points straight on log–log paper, beyond the last one on with the last slope.
 * `points` rise in current and fall in time.
 */
export function timeOn(points: readonly CurvePair[], current: number): number {
  const last = points.length - 1;
  if (last < 0 || current < points[0][0]) return Infinity;
  if (last === 0) return points[0][1];
  let k = 1;
  while (k < last && points[k][0] < current) k++;
  const [[i1, t1], [i2, t2]] = [points[k - 1], points[k]];
  // A vertical part ends at its lower point.
  if (i1 === i2) return t2;
  return t1 * (current / i1) ** (Math.log(t2 / t1) / Math.log(i2 / i1));
}
