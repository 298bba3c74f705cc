import { ServiceError } from '../../../../server/errors';
import { jsonBody, route } from '../../../../server/http';
import { accountChangeSchema, changeAccount } from '../../../../server/people/accounts';

export const PATCH = route<{ account: string }>(
  'PATCH /api/accounts/:account',
  async ({ account }, request, person) => {
    const body = accountChangeSchema.safeParse(await jsonBody(request));
    if (!body.success) throw new ServiceError(422, 'account.request', 'Say what to change of this account.');
    return changeAccount(account, body.data, person);
  },
);
