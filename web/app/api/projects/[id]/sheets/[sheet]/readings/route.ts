import { ServiceError } from '../../../../../../../server/errors';
import { jsonBody, route } from '../../../../../../../server/http';
import { under } from '../../../../../../../server/people/person';
import { readingSchema, storeReading } from '../../../../../../../server/sheets/readings';

export const POST = route<{ id: string; sheet: string }>(
  'POST /api/projects/:id/sheets/:sheet/readings',
  async ({ id, sheet }, request, person) => {
    const body = readingSchema.safeParse(await jsonBody(request, 1e6));
    if (!body.success) throw new ServiceError(422, 'reading.request', 'These are no values that could be compared.');
    return storeReading(id, Number(sheet) || 0, body.data, under(person, body.data.as));
  },
);
