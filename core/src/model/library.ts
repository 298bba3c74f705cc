/** Types of equipment of the project's own: values that elements of a kind are given together. */
import { z } from 'zod';
import { elementIdSchema, optionalQuantity } from './fields';

/** Kinds that the library has types of. */
export const libraryKinds = [
  'line',
  'transformer',
  'switch',
  'bus',
  'currentTransformer',
  'voltageTransformer',
  'asynchronousMotor',
  'synchronousMachine',
  'relay',
] as const;
export type LibraryKind = (typeof libraryKinds)[number];

/**
 * What tests have shown for a breaker or link together with one of another type above it (IEC 60947-2, Annex A): up to which prospective current only the
 * lower one opens, and up to which the two together break what the lower one alone would not.
 */
export const partnerSchema = z
  .object({
    /** Type above: one of the project or of the shipped library. */
    entry: z.string().min(1).max(64),
    selectiveKa: optionalQuantity('Selective up to', 'kA', { above: 0, max: 300 }),
    backupKa: optionalQuantity('Break together', 'kA', { above: 0, max: 300 }),
  })
  .refine(({ selectiveKa, backupKa }) => selectiveKa !== null || backupKa !== null, {
    path: ['selectiveKa'],
    message: 'one of the two currents must be known',
  });
export type Partner = z.infer<typeof partnerSchema>;

const plainValue = z.union([z.string().max(200), z.number().min(-1e7).max(1e7), z.boolean(), z.null()]);

export const libraryEntrySchema = z.object({
  kind: z.literal('libraryEntry'),
  id: elementIdSchema,
  name: z.string().trim().min(1, 'must not be empty').max(80).meta({ title: 'Name' }),
  for: z.enum(libraryKinds).meta({ title: 'Type of', hidden: true }),
  source: z.string().max(200).default('').meta({ title: 'Source' }),
  data: z
    .record(z.string().max(60), z.union([plainValue, z.record(z.string().max(60), plainValue)]))
    .meta({ title: 'Values', hidden: true }),
  partners: z.array(partnerSchema).max(60).optional().meta({ title: 'Partners above', hidden: true }),
});
export type LibraryEntryElement = z.infer<typeof libraryEntrySchema>;
