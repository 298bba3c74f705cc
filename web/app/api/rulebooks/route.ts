import { jsonBody, route } from '../../../server/http';
import { note } from '../../../server/people/audit';
import { authored } from '../../../server/people/person';
import { sharedRulebooks, shareRulebook } from '../../../server/sharedRulebooks';

export const dynamic = 'force-dynamic';
export const GET = route('GET /api/rulebooks', async () => ({ books: await sharedRulebooks() }));
export const POST = route('POST /api/rulebooks', async (_, request, person) => {
  const books = await shareRulebook(authored(await jsonBody(request), person));
  await note(person, { action: 'rulebookShared' });
  return { books };
});
