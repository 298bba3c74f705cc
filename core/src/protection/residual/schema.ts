/** Stored data of a residual-current device (IEC 61008-1, IEC 61009-1). */
import { z } from 'zod';
import { choice, functionBase, quantity } from '../../model/deviceFunction';

export const residualTypes = ['general', 'selective'] as const;

export const residualFunctionSchema = z.object({
  family: z.literal('residual'),
  ...functionBase,
  type: choice('Type', residualTypes),
  ratedResidualA: quantity('Rated residual current', 'A', { above: 0, max: 30 }, { symbol: 'IΔn' }),
});
export type ResidualFunction = z.infer<typeof residualFunctionSchema>;
