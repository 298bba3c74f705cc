import { z } from 'zod';
import { pointsProblem } from './pointCurve';

/** Points of a curve: currents (or multiples of a pickup) and seconds, rising in current, falling in time. */
export const curvePointsSchema = z
  .array(z.tuple([z.number().min(1e-3).max(1e6), z.number().min(1e-6).max(1e6)]))
  .max(60)
  .superRefine((points, context) => {
    const wrong = pointsProblem(points);
    if (wrong) context.addIssue({ code: 'custom', message: wrong });
  });
