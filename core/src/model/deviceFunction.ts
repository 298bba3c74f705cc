/** What every function of a protective device has, whatever its family; the families' own settings stand in `protection/<family>/schema`. */
import { z } from 'zod';
import { choice, elementIdSchema, optionalQuantity, quantity, reference, withDefault } from './fields';

/** Range that a device really has for a setting: from, to, in steps. */
export const settingRangeSchema = z
  .object({
    min: z.number().min(0).max(1e6),
    max: z.number().min(0).max(1e6),
    step: z.number().min(1e-9).max(1e6),
  })
  .refine((range) => range.max >= range.min, 'the largest setting lies below the smallest');
export type SettingRange = z.infer<typeof settingRangeSchema>;

const settingValue = z.union([z.number().min(-1e6).max(1e6), z.boolean()]);

/** A figure that a value was proposed from, as it was then. */
export const originFigureSchema = z.object({
  name: z.string().max(40),
  value: z.number().min(-1e7).max(1e7),
  unit: z.string().max(10),
  /** Condition that decided; none for ratings. */
  condition: z.string().max(64).nullable(),
  place: z.string().max(200),
});

/**
 * Where a value came from, when it was not typed: proposed by rules from figures of that day; with a reason, set against what was
 * proposed. It counts as long as the value is the one named here; a value that is none of an origin was typed.
 */
export const originSchema = z.object({
  field: z.string().max(60),
  value: settingValue,
  /** What was proposed, where a person set another value. */
  proposed: settingValue.nullable(),
  reason: z.string().max(300),
  book: z.string().max(80),
  rules: z.array(z.object({ id: z.string().max(60), title: z.string().max(80) })).max(6),
  figures: z.array(originFigureSchema).max(12),
  on: z.string().max(40),
});
export type Origin = z.infer<typeof originSchema>;

/** Of a breaker that limits the current. */
export const limitA2sField = withDefault(
  optionalQuantity(
    'Lets through at most',
    'A²s',
    { above: 0 },
    { symbol: 'I²t', help: 'Of the data sheet, where it opens at once; empty: not known' },
  ),
  null,
);

export const functionBase = {
  id: elementIdSchema,
  enabled: z.boolean().meta({ title: 'In use' }),
  /** Input of the device that it measures at; null: the current through the device itself. */
  input: elementIdSchema.nullable().default(null),
  /** Trip circuits that it energises; none named: all of them. */
  circuits: z.array(elementIdSchema).max(20).default([]),
  origins: z.array(originSchema).max(40).optional(),
  /** Trips after a shorter time unless one of these devices, which lie ahead, has picked up and says so. */
  interlock: z
    .object({
      from: z
        .array(reference(['relay', 'switch'], 'entry'))
        .max(60)
        .meta({ title: 'Waits for' }),
      fastS: quantity('Trips without them after', 's', { min: 0.01, max: 5 }),
    })
    .optional(),
  /** In use only while the maintenance setting of its device is on. */
  maintenance: z.boolean().optional(),
};

export { choice, quantity };
