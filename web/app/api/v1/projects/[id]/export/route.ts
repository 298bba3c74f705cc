import { download } from '../../../../../../server/download';
import { route } from '../../../../../../server/http';
import { exportOf } from '../../../../../../server/programs/exchange';
import { queries, queryOf } from '../../../../../../server/programs/operations';

export const GET = route<{ id: string }>('GET /api/v1/projects/:id/export', async ({ id }, request) => {
  const { name, content, left } = await exportOf(id, queryOf(queries.export, request).as, request.signal);
  const answer = download(name, 'application/octet-stream', content as BodyInit);
  // Heads hold no letters beyond ASCII.
  answer.headers.set('mesura-left', encodeURIComponent(left.join('\n').slice(0, 1000)));
  return answer;
});
