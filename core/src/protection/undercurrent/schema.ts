/** Stored settings of undercurrent protection (IEEE C37.2, 37): loss of load of a pump or a belt. */
import { z } from 'zod';
import { functionBase, quantity } from '../../model/deviceFunction';

export const undercurrentFunctionSchema = z.object({
  family: z.literal('undercurrent'),
  ...functionBase,
  pickup: quantity('Pickup', '× In', { above: 0, max: 2 }),
  /** Below this no load is taken to flow at all: the machine stands. */
  blockedBelow: quantity('Blocked below', '× In', { min: 0, max: 1 }),
  delayS: quantity('Delay', 's', { min: 0, max: 600 }),
});
export type UndercurrentFunction = z.infer<typeof undercurrentFunctionSchema>;
