import { ServiceError } from '../../../server/errors';
import { route } from '../../../server/http';
import { accountCard } from '../../../server/people/accounts';
import { sessionsOf } from '../../../server/people/sessions';

export const dynamic = 'force-dynamic';
export const GET = route('GET /api/account', async (_, _request, person) => {
  if (!person.signedIn) throw new ServiceError(409, 'account.none', 'There are no accounts on one’s own desk.');
  return {
    account: await accountCard(person.accountId!),
    sessions: await sessionsOf(person.accountId!),
    session: person.sessionId,
  };
});
