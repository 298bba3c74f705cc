import { NextResponse } from 'next/server';
import { ServiceError } from '../../../server/errors';
import { jsonBody, route } from '../../../server/http';
import { signIn, signInSchema } from '../../../server/people/accounts';
import { note } from '../../../server/people/audit';
import { addressOf, isSecure, mayCarryPasswords } from '../../../server/people/person';
import { endSession, sessionCookie } from '../../../server/people/sessions';

export const dynamic = 'force-dynamic';
/** Who one is here: on one's own desk, signed in as somebody, or nobody. */
export const GET = route('GET /api/session', async (_, _request, person) => ({
  ownDesk: person.ownDesk,
  signedIn: person.signedIn,
  name: person.signedIn ? person.name : null,
  administrator: person.signedIn && person.administrator,
}));

export const POST = route('POST /api/session', async (_, request, { ownDesk }) => {
  if (ownDesk) throw new ServiceError(409, 'signIn.ownDesk', 'Nobody signs in here: this desk is its owner’s own.');
  if (!mayCarryPasswords(request.headers))
    throw new ServiceError(403, 'signIn.plain', 'Passwords go over TLS only: open this desk by https.');
  const body = signInSchema.safeParse(await jsonBody(request));
  if (!body.success) throw new ServiceError(422, 'signIn.request', 'Type a name and a password.');
  const token = await signIn(body.data, addressOf(request.headers), request.headers.get('user-agent') ?? '');
  return NextResponse.json(
    { ok: true },
    { headers: { 'set-cookie': sessionCookie(token, isSecure(request.headers)), 'cache-control': 'no-store' } },
  );
});

export const DELETE = route('DELETE /api/session', async (_, request, person) => {
  if (person.signedIn) {
    await endSession(person.accountId!, person.sessionId);
    await note(person, { action: 'signedOut' });
  }
  return NextResponse.json(
    { ok: true },
    {
      headers: {
        'set-cookie': sessionCookie('', isSecure(request.headers)),
        // Not what is stored: changes that have not been sent yet stay until their author comes back.
        'clear-site-data': '"cache"',
      },
    },
  );
});
