/** Relays with their overcurrent functions, and the grading charts kept with the project. */
import { z } from 'zod';
import { choice, elementIdSchema, placed, quantity, reference } from './fields';

/** Characteristics of dependent-time overcurrent functions, by the standard's letters; constants in `protection/overcurrent/characteristics`. */
export const characteristicNames = ['definite', 'iecA', 'iecB', 'iecC', 'ieeeD', 'ieeeE', 'ieeeF', 'longTime'] as const;
export type CharacteristicName = (typeof characteristicNames)[number];

/** Range that a device really has for a setting: from, to, in steps. */
export const settingRangeSchema = z
  .object({
    min: z.number().min(0).max(1e6),
    max: z.number().min(0).max(1e6),
    step: z.number().min(1e-9).max(1e6),
  })
  .refine((range) => range.max >= range.min, 'the largest setting lies below the smallest');
export type SettingRange = z.infer<typeof settingRangeSchema>;

/** IEEE C37.2 function numbers: 51/50 phase, 51N/50N residual (3I0) time-delayed and high-set. */
export const functionCodes = ['51', '50', '51N', '50N'] as const;
export type FunctionCode = (typeof functionCodes)[number];

/** One overcurrent function. Settings are in the relay's terms: pickup in multiples of the CT's rated current. */
export const overcurrentFunctionSchema = z.object({
  id: elementIdSchema,
  code: choice('Function', functionCodes),
  enabled: z.boolean().meta({ title: 'In use' }),
  characteristic: choice('Characteristic', characteristicNames),
  pickup: quantity('Pickup', '× In', { above: 0, max: 100 }),
  timeMultiplier: quantity('Time multiplier', '', { above: 0, max: 100 }),
  delayS: quantity('Delay', 's', { min: 0, max: 600 }),
  ranges: z.object({ pickup: settingRangeSchema, timeMultiplier: settingRangeSchema, delayS: settingRangeSchema }),
});
export type OvercurrentFunction = z.infer<typeof overcurrentFunctionSchema>;

export const relaySchema = z.object({
  kind: z.literal('relay'),
  ...placed,
  device: z.string().max(80).meta({ title: 'Device', hidden: true }),
  ct: reference(['currentTransformer'], 'field').nullable().meta({ title: 'Measures at', hidden: true }),
  /** Terminal of the CT towards what the relay protects; 1 stands below on an unturned drawing. */
  towards: z
    .union([z.literal(0), z.literal(1)])
    .default(1)
    .meta({ title: 'Protects towards', hidden: true }),
  trips: z
    .array(reference(['switch'], 'entry'))
    .max(20)
    .meta({ title: 'Trips', hidden: true }),
  functions: z.array(overcurrentFunctionSchema).max(16).meta({ title: 'Functions', hidden: true }),
});
export type Relay = z.infer<typeof relaySchema>;

/** A pair that must grade: the downstream device clears first. Null takes the project's wanted margin. */
export const gradingPairSchema = z.object({
  downstream: reference(['relay'], 'entry'),
  upstream: reference(['relay'], 'entry'),
  wantedMarginS: quantity('Wanted margin', 's', { min: 0, max: 10 }).nullable(),
});
export type GradingPair = z.infer<typeof gradingPairSchema>;

/** A stored time–current chart. */
export const gradingChartSchema = z.object({
  kind: z.literal('gradingChart'),
  id: elementIdSchema,
  name: z.string().trim().min(1).max(80),
  relays: z.array(reference(['relay'], 'entry')).max(24),
  pairs: z.array(gradingPairSchema).max(60),
  referenceKv: quantity('Referred to', 'kV', { above: 0 }),
  mode: choice('Faults', ['phase', 'earth']),
});
export type GradingChart = z.infer<typeof gradingChartSchema>;
