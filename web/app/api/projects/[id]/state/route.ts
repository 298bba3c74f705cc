import { route, wholeNumber } from '../../../../../server/http';
import { jsonStream } from '../../../../../server/slices';
import { stateAt } from '../../../../../server/versions';

export const GET = route<{ id: string }>('GET /api/projects/:id/state', async ({ id }, request) => {
  const elements = await stateAt(id, wholeNumber(request, 'revision'));
  return new Response(jsonStream({}, 'elements', elements), {
    headers: { 'content-type': 'application/json', 'cache-control': 'no-store' },
  });
});
