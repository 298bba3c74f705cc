import { history, parseBatch, storeBatch } from '../../../../../server/changes';
import { jsonBody, route } from '../../../../../server/http';

type Params = { id: string };
export const GET = route<Params>(async ({ id }, request) => {
  const since = Number(new URL(request.url).searchParams.get('since') ?? 0);
  return { batches: await history(id, Number.isInteger(since) && since > 0 ? since : 0) };
});
export const POST = route<Params>(async ({ id }, request) => storeBatch(id, parseBatch(await jsonBody(request))));
