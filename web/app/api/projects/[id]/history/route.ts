import { route, wholeNumber } from '../../../../../server/http';
import { historyOf, versionsOf } from '../../../../../server/versions';

export const GET = route<{ id: string }>('GET /api/projects/:id/history', async ({ id }, request) => {
  const before = wholeNumber(request, 'before', 0);
  return { entries: await historyOf(id, before > 0 ? before : null), versions: await versionsOf(id) };
});
