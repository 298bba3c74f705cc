import { bytesBody, longest, route } from '../../../../../../server/http';
import { nameFor } from '../../../../../../server/people/person';
import { importInto } from '../../../../../../server/programs/exchange';
import { queries, queryOf } from '../../../../../../server/programs/operations';

export const POST = route<{ id: string }>('POST /api/v1/projects/:id/imports', async ({ id }, request, person) => {
  const query = queryOf(queries.imports, request);
  const bytes = await bytesBody(request, longest.file);
  return importInto(id, bytes, query, { author: nameFor(person), accountId: person.accountId }, request.signal);
});
