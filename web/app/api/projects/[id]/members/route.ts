import { ServiceError } from '../../../../../server/errors';
import { jsonBody, route } from '../../../../../server/http';
import { membersOf, memberSchema, setMember } from '../../../../../server/people/members';

type Params = { id: string };
export const dynamic = 'force-dynamic';
export const GET = route<Params>('GET /api/projects/:id/members', async ({ id }, _, person) => ({
  members: await membersOf(id),
  own: [...person.roles],
}));
export const POST = route<Params>('POST /api/projects/:id/members', async ({ id }, request, person) => {
  const body = memberSchema.safeParse(await jsonBody(request));
  if (!body.success) throw new ServiceError(422, 'member.request', 'Say whose roles, and which.');
  return { members: await setMember(id, body.data, person) };
});
