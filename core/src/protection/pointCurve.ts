/** Time over current given by points, straight between them where both axes are logarithmic. */

/** Amperes (or multiples) and seconds. */
export type CurvePair = readonly [current: number, timeS: number];

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

/** Current at a time on such a curve; null outside its times. Beyond the last point on with the last slope. */
export function currentOn(points: readonly CurvePair[], timeS: number): number | null {
  if (points.length === 0 || timeS > points[0][1]) return null;
  const last = points.length - 1;
  let k = 1;
  while (k < last && points[k][1] > timeS) k++;
  if (last === 0) return points[0][0];
  const [[i1, t1], [i2, t2]] = [points[k - 1], points[k]];
  if (t1 === t2) return i1;
  return i1 * (timeS / t1) ** (Math.log(i2 / i1) / Math.log(t2 / t1));
}

/** What is wrong with points as they were given; null when they can be a curve. */
export function pointsProblem(points: readonly CurvePair[]): string | null {
  if (points.length < 2) return 'at least two points are needed';
  for (let k = 0; k < points.length; k++) {
    const [current, timeS] = points[k];
    if (!(current > 0) || !(timeS > 0)) return `point ${k + 1}: current and time must be above 0`;
    if (k === 0) continue;
    if (current < points[k - 1][0]) return `point ${k + 1}: the current lies below that of the point before`;
    if (timeS > points[k - 1][1]) return `point ${k + 1}: the time lies above that of the point before`;
    if (current === points[k - 1][0] && timeS === points[k - 1][1]) return `point ${k + 1} stands there twice`;
  }
  return null;
}
