import { ServiceError } from '../../../../server/errors';
import { jsonBody, route } from '../../../../server/http';
import { note } from '../../../../server/people/audit';
import { makeToken, tokenSchema, tokensOf } from '../../../../server/programs/tokens';

export const dynamic = 'force-dynamic';
export const GET = route('GET /api/account/tokens', async (_, _request, { accountId }) => ({
  tokens: accountId === null ? [] : await tokensOf(accountId),
}));

export const POST = route('POST /api/account/tokens', async (_, request, person) => {
  if (person.accountId === null)
    throw new ServiceError(409, 'account.none', 'On one’s own desk programs need no token.');
  const body = tokenSchema.safeParse(await jsonBody(request));
  if (!body.success)
    throw new ServiceError(422, 'tokens.request', 'A token has a name, one purpose or more, and 1 to 366 days.');
  const made = await makeToken(person.accountId, body.data);
  await note(person, { action: 'tokenMade', target: body.data.label, detail: body.data.scopes.join(', ') });
  return made;
});
