import { ServiceError } from '../../../../server/errors';
import { jsonBody, route } from '../../../../server/http';
import { acceptInvitation, invitationFor } from '../../../../server/people/accounts';
import { addressOf, mayCarryPasswords } from '../../../../server/people/person';

export const dynamic = 'force-dynamic';
export const GET = route<{ token: string }>('GET /api/invitations/:token', ({ token }) => invitationFor(token));
export const POST = route<{ token: string }>('POST /api/invitations/:token', async ({ token }, request) => {
  if (!mayCarryPasswords(request.headers))
    throw new ServiceError(403, 'signIn.plain', 'Passwords go over TLS only: open this desk by https.');
  const body = (await jsonBody(request)) as { password?: unknown } | null;
  if (typeof body?.password !== 'string') throw new ServiceError(422, 'password.request', 'Type a password.');
  await acceptInvitation(token, body.password, addressOf(request.headers));
});
