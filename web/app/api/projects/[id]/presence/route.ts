import { ServiceError } from '../../../../../server/errors';
import { jsonBody, route } from '../../../../../server/http';
import { look } from '../../../../../server/live/hub';
import { placeSchema, putPlace } from '../../../../../server/live/presence';
import { nameFor } from '../../../../../server/people/person';

export const POST = route<{ id: string }>('POST /api/projects/:id/presence', async ({ id }, request, person) => {
  const place = placeSchema.safeParse(await jsonBody(request));
  if (!place.success) throw new ServiceError(422, 'presence', 'Say which page this is and where it stands.');
  await putPlace(id, place.data, { accountId: person.accountId, name: nameFor(person, place.data.name) });
  look();
});
