/** Stored data of a miniature circuit breaker (IEC 60898-1): nothing can be set, its rated current and type say all. */
import { z } from 'zod';
import { choice, functionBase, limitA2sField, quantity } from '../../model/deviceFunction';
import { withDefault } from '../../model/fields';

export const miniatureTypes = ['B', 'C', 'D'] as const;

export const miniatureFunctionSchema = z.object({
  family: z.literal('miniature'),
  ...functionBase,
  type: choice('Type of instantaneous tripping', miniatureTypes),
  /** Its instantaneous trip lies higher on direct current. */
  system: withDefault(choice('Current', ['ac', 'dc']), 'ac'),
  ratedA: quantity('Rated current', 'A', { above: 0, max: 125 }, { symbol: 'In' }),
  limitA2s: limitA2sField,
});
export type MiniatureFunction = z.infer<typeof miniatureFunctionSchema>;
