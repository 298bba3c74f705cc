import { route, wholeNumber } from '../../../../../server/http';
import { jsonStream } from '../../../../../server/slices';
import { compareRevisions } from '../../../../../server/versions';

export const GET = route<{ id: string }>('GET /api/projects/:id/compare', async ({ id }, request) => {
  const found = await compareRevisions(id, wholeNumber(request, 'from'), wholeNumber(request, 'to'));
  return new Response(jsonStream({}, 'differences', found), {
    headers: { 'content-type': 'application/json', 'cache-control': 'no-store' },
  });
});
