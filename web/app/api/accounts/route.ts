import { ServiceError } from '../../../server/errors';
import { jsonBody, route } from '../../../server/http';
import { accountSchema, addAccount, listAccounts } from '../../../server/people/accounts';

export const dynamic = 'force-dynamic';
export const GET = route('GET /api/accounts', async () => ({ accounts: await listAccounts() }));
export const POST = route('POST /api/accounts', async (_, request, person) => {
  const body = accountSchema.safeParse(await jsonBody(request));
  if (!body.success)
    throw new ServiceError(
      422,
      'account.request',
      'An account needs a name to sign in with (2 to 80 letters, digits or . _ @ + -) and the name of its owner.',
    );
  return addAccount(body.data, person);
});
