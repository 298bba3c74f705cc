/** Curves by points, as they are stored. */
import { z } from 'zod';

/** Amperes (or multiples) and seconds. */
export type CurvePair = readonly [current: number, timeS: number];

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

/** Points of a curve: currents (or multiples of a pickup) and seconds, rising in current, falling in time. */
export const curvePointsSchema = z
  .array(z.tuple([z.number().min(1e-3).max(1e6), z.number().min(1e-6).max(1e6)]))
  .max(60)
  .superRefine((points, context) => {
    const wrong = pointsProblem(points);
    if (wrong) context.addIssue({ code: 'custom', message: wrong });
  });
