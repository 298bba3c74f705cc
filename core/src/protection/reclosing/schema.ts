/** Stored settings of automatic reclosing (IEEE C37.2, 79): shots, of which the first may be quick, and the dead times between. */
import { z } from 'zod';
import { functionBase, quantity } from '../../model/deviceFunction';

export const reclosingFunctionSchema = z.object({
  family: z.literal('reclosing'),
  ...functionBase,
  shots: z.int().min(1).max(6).meta({ title: 'Trips to lockout' }),
  fastShots: z.int().min(0).max(6).meta({ title: 'Of them fast' }),
  deadTimesS: z.array(z.number().min(0.1).max(600)).max(5).meta({ title: 'Dead times', unit: 's' }),
  reclaimS: quantity('Reclaim time', 's', { above: 0, max: 600 }),
});
export type ReclosingFunction = z.infer<typeof reclosingFunctionSchema>;
