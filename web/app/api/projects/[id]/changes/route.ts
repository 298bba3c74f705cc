import { acceptedBatch, stepsSince, storeBatch } from '../../../../../server/changes';
import { batchBody, route, wholeNumber } from '../../../../../server/http';
import { nameFor } from '../../../../../server/people/person';

type Params = { id: string };
export const GET = route<Params>('GET /api/projects/:id/changes', async ({ id }, request) => ({
  batches: await stepsSince(id, wholeNumber(request, 'since', 0)),
}));
export const POST = route<Params>('POST /api/projects/:id/changes', async ({ id }, request, person) => {
  const batch = acceptedBatch(await batchBody(request));
  return storeBatch(id, { ...batch, author: nameFor(person, batch.author) }, person.accountId);
});
