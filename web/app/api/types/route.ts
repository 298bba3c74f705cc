import { jsonBody, route } from '../../../server/http';
import { note } from '../../../server/people/audit';
import { authored } from '../../../server/people/person';
import { sharedTypes, shareType } from '../../../server/sharedTypes';

export const dynamic = 'force-dynamic';
export const GET = route('GET /api/types', async () => ({ types: await sharedTypes() }));
export const POST = route('POST /api/types', async (_, request, person) => {
  const types = await shareType(authored(await jsonBody(request), person));
  await note(person, { action: 'typeShared' });
  return { types };
});
