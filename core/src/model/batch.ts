/** What is run again at will: batches of studies, and scripts. Kept in the project; what comes of them is computed anew every time. */
import { z } from 'zod';
import { elementIdSchema, type ElementId } from './fields';

const name = z.string().trim().min(1, 'must not be empty').max(120).meta({ title: 'Name' });
const note = z.string().max(300).default('').meta({ title: 'Note' });
/** A study with its options by the words of the terminal; which there are is the business of who runs it. */
export const batchRunSchema = z.object({
  study: z.string().regex(/^[a-z]{1,40}$/),
  /** Figures as they are typed. */
  options: z
    .record(z.string().max(40), z.union([z.string().max(2000), z.boolean(), z.array(z.string().max(400)).max(5000)]))
    .default({}),
});
export type BatchRun = z.infer<typeof batchRunSchema>;

export const batchSchema = z.object({
  kind: z.literal('batch'),
  id: elementIdSchema,
  name,
  note,
  runs: z.array(batchRunSchema).max(100).default([]).meta({ title: 'Runs' }),
});
export type Batch = z.infer<typeof batchSchema>;

export const longestScript = 200_000;

/** TypeScript against the project: see `scripts`. */
export const scriptSchema = z.object({
  kind: z.literal('script'),
  id: elementIdSchema,
  name,
  note,
  text: z.string().max(longestScript).default('').meta({ title: 'Text' }),
});
export type Script = z.infer<typeof scriptSchema>;

export const newBatch = (id: ElementId, called: string): Batch => ({
  kind: 'batch',
  id,
  name: called,
  note: '',
  runs: [],
});
