import { ServiceError } from '../../../../server/errors';
import { jsonBody, route } from '../../../../server/http';
import { changePassword, passwordChangeSchema } from '../../../../server/people/accounts';

export const POST = route('POST /api/account/password', async (_, request, person) => {
  const body = passwordChangeSchema.safeParse(await jsonBody(request));
  if (!body.success) throw new ServiceError(422, 'password.request', 'Type the password of now, and the new one.');
  await changePassword(person.sessionId, body.data, person);
});
