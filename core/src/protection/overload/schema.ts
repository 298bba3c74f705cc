/** Stored settings of a motor's overload protection (IEC 60947-4-1): trip class and the current that it is set to. */
import { z } from 'zod';
import { choice, functionBase, quantity } from '../../model/deviceFunction';

/** Trip classes by the time from cold at 7.2 times the setting (IEC 60947-4-1, Table 2, as remembered). */
export const tripClasses = ['5', '10A', '10', '20', '30'] as const;

export const overloadFunctionSchema = z.object({
  family: z.literal('overload'),
  ...functionBase,
  tripClass: choice('Trip class', tripClasses),
  settingA: quantity('Current setting', 'A', { above: 0, max: 2000 }),
  phaseLoss: z.boolean().meta({ title: 'Sensitive to loss of a phase' }),
});
export type OverloadFunction = z.infer<typeof overloadFunctionSchema>;
