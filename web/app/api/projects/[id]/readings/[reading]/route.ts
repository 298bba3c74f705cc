import { ServiceError } from '../../../../../../server/errors';
import { jsonBody, route } from '../../../../../../server/http';
import { under } from '../../../../../../server/people/person';
import { acceptanceSchema, acceptDeviations } from '../../../../../../server/sheets/readings';

export const POST = route<{ id: string; reading: string }>(
  'POST /api/projects/:id/readings/:reading',
  async ({ id, reading }, request, person) => {
    const body = acceptanceSchema.safeParse(await jsonBody(request, 256e3));
    if (!body.success) throw new ServiceError(422, 'reading.acceptance', 'Say which deviations you accept, and why.');
    return acceptDeviations(id, reading, body.data, under(person, body.data.as));
  },
);
