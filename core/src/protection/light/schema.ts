/** Stored settings of arc protection by light: sensors in the compartments of a board, released by current where that is asked for. */
import { z } from 'zod';
import { functionBase, quantity } from '../../model/deviceFunction';
import { reference } from '../../model/fields';

export const lightFunctionSchema = z.object({
  family: z.literal('light'),
  ...functionBase,
  /** 0: light alone trips. */
  pickup: quantity('Released by', '× In', { min: 0, max: 20 }),
  delayS: quantity('From light to trip', 's', { min: 0.001, max: 1 }),
  /** Busbars whose compartments are watched, and switches whose cable side is. */
  watches: z
    .array(reference(['bus', 'switch'], 'entry'))
    .max(60)
    .default([])
    .meta({ title: 'Watches' }),
});
export type LightFunction = z.infer<typeof lightFunctionSchema>;
