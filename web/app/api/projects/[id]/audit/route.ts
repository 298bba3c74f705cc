import { download } from '../../../../../server/download';
import { route, wholeNumber } from '../../../../../server/http';
import { auditCsv, auditRows } from '../../../../../server/people/audit';

export const dynamic = 'force-dynamic';
/** `?as=csv`: all of it as a file; else a page, those before an entry. */
export const GET = route<{ id: string }>('GET /api/projects/:id/audit', async ({ id }, request) => {
  if (new URL(request.url).searchParams.get('as') === 'csv')
    return download('audit log.csv', 'text/csv', await auditCsv(id));
  const before = wholeNumber(request, 'before', 0);
  return { entries: await auditRows(id, before > 0 ? before : null) };
});
