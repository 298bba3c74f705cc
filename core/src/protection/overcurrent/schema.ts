/** Stored settings of overcurrent functions, in the relay's terms: pickup in multiples of the CT's rated current. */
import { z } from 'zod';
import { choice, functionBase, quantity, settingRangeSchema } from '../../model/deviceFunction';

/** Characteristics of dependent-time functions, by the standard's letters; constants in `characteristics`. */
export const characteristicNames = ['definite', 'iecA', 'iecB', 'iecC', 'ieeeD', 'ieeeE', 'ieeeF', 'longTime'] as const;
export type CharacteristicName = (typeof characteristicNames)[number];

/** IEEE C37.2 function numbers: 51/50 phase, 51N/50N residual (3I0) time-delayed and high-set, 46 negative sequence. */
export const functionCodes = ['51', '50', '51N', '50N', '46'] as const;
export type FunctionCode = (typeof functionCodes)[number];

export const overcurrentFunctionSchema = z.object({
  family: z.literal('overcurrent'),
  ...functionBase,
  code: choice('Function', functionCodes),
  characteristic: choice('Characteristic', characteristicNames),
  pickup: quantity('Pickup', '× In', { above: 0, max: 100 }),
  timeMultiplier: quantity('Time multiplier', '', { above: 0, max: 100 }),
  delayS: quantity('Delay', 's', { min: 0, max: 600 }),
  ranges: z.object({ pickup: settingRangeSchema, timeMultiplier: settingRangeSchema, delayS: settingRangeSchema }),
});
export type OvercurrentFunction = z.infer<typeof overcurrentFunctionSchema>;
