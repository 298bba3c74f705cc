/** Types of equipment of the project's own: values that elements of a kind are given together. */
import { z } from 'zod';
import { elementIdSchema } from './fields';

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
});
export type LibraryEntryElement = z.infer<typeof libraryEntrySchema>;
