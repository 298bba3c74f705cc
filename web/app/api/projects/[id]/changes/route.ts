import { acceptedBatch, stepsSince, storeBatch } from '../../../../../server/changes';
import { batchBody, route, wholeNumber } from '../../../../../server/http';

type Params = { id: string };
export const GET = route<Params>(async ({ id }, request) => ({
  batches: await stepsSince(id, wholeNumber(request, 'since', 0)),
}));
export const POST = route<Params>(async ({ id }, request) => storeBatch(id, acceptedBatch(await batchBody(request))));
