import { download } from '../../../server/download';
import { route, wholeNumber } from '../../../server/http';
import { auditCsv, auditRows } from '../../../server/people/audit';

export const dynamic = 'force-dynamic';
/** `?as=csv`: all of it as a file; else a page, those before an entry. */
export const GET = route('GET /api/audit', async (_, request) => {
  if (new URL(request.url).searchParams.get('as') === 'csv')
    return download('audit log.csv', 'text/csv', await auditCsv(null));
  const before = wholeNumber(request, 'before', 0);
  return { entries: await auditRows(null, before > 0 ? before : null) };
});
