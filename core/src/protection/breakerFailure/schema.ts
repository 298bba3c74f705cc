/** Stored settings of breaker-failure protection (IEEE C37.2, 50BF): started by a trip, it trips the breakers around when the current goes on. */
import { z } from 'zod';
import { functionBase, quantity } from '../../model/deviceFunction';
import { reference } from '../../model/fields';

export const breakerFailureFunctionSchema = z.object({
  family: z.literal('breakerFailure'),
  ...functionBase,
  pickup: quantity('Current detector', '× In', { above: 0, max: 5 }),
  delayS: quantity('Delay', 's', { above: 0, max: 5 }),
  /** Breakers that are opened instead. */
  opens: z
    .array(reference(['switch'], 'entry'))
    .max(20)
    .default([])
    .meta({ title: 'Opens' }),
});
export type BreakerFailureFunction = z.infer<typeof breakerFailureFunctionSchema>;
