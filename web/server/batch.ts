/** A batch of changes as it is sent. */
import { z } from 'zod';
import { changeSchema } from '@mesura/core/model/changes';
import { problemsOf, type Problem } from '@mesura/core/model/problem';
import { plainText } from './texts';

const idText = /^[A-Za-z0-9-]{1,60}$/;

export const batchSchema = z.object({
  /** Made by the client: a batch sent twice, because the answer got lost, is applied once. */
  batchId: z.string().regex(/^[A-Za-z0-9-]{8,40}$/),
  baseRevision: z.int().min(0),
  label: plainText(200),
  origin: z.enum(['edit', 'undo', 'redo']),
  author: plainText(80).default('engineer'),
  /** Whose changes are the sender's own and clash with nothing; the first is the sender. */
  clients: z.array(z.string().regex(idText)).max(8).default([]),
  changes: z.array(changeSchema).min(1).max(20000),
});
export type Batch = z.infer<typeof batchSchema>;
/** As it is sent: the author and the clients may be left out. */
export type BatchInput = Omit<Batch, 'clients'> & { clients?: readonly string[] };

export type ReadBatch =
  { readonly ok: true; readonly batch: Batch } | { readonly ok: false; readonly problems: readonly Problem[] };

export function readBatch(body: unknown): ReadBatch {
  const parsed = batchSchema.safeParse(body);
  return parsed.success
    ? { ok: true, batch: parsed.data }
    : { ok: false, problems: problemsOf(parsed.error).slice(0, 20) };
}
