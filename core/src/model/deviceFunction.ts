/** What every function of a protective device has, whatever its family; the families' own settings stand in `protection/<family>/schema`. */
import { z } from 'zod';
import { choice, elementIdSchema, quantity } from './fields';

/** Range that a device really has for a setting: from, to, in steps. */
export const settingRangeSchema = z
  .object({
    min: z.number().min(0).max(1e6),
    max: z.number().min(0).max(1e6),
    step: z.number().min(1e-9).max(1e6),
  })
  .refine((range) => range.max >= range.min, 'the largest setting lies below the smallest');
export type SettingRange = z.infer<typeof settingRangeSchema>;

export const functionBase = {
  id: elementIdSchema,
  enabled: z.boolean().meta({ title: 'In use' }),
  /** Input of the device that it measures at; null: the current through the device itself. */
  input: elementIdSchema.nullable().default(null),
  /** Trip circuits that it energises; none named: all of them. */
  circuits: z.array(elementIdSchema).max(20).default([]),
};

export { choice, quantity };
