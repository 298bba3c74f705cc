import { acceptedBatch, stepsSince, storeBatch } from '../../../../../../server/changes';
import { batchBody, route } from '../../../../../../server/http';
import { nameFor } from '../../../../../../server/people/person';
import { queries, queryOf } from '../../../../../../server/programs/operations';

type Params = { id: string };
export const GET = route<Params>('GET /api/v1/projects/:id/changes', async ({ id }, request) => ({
  batches: await stepsSince(id, queryOf(queries.changes, request).since),
}));
export const POST = route<Params>('POST /api/v1/projects/:id/changes', async ({ id }, request, person) => {
  const batch = acceptedBatch(await batchBody(request));
  return storeBatch(id, { ...batch, author: nameFor(person, batch.author) }, person.accountId);
});
