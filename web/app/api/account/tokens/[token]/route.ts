import { route } from '../../../../../server/http';
import { note } from '../../../../../server/people/audit';
import { endToken, tokensOf } from '../../../../../server/programs/tokens';

export const DELETE = route<{ token: string }>('DELETE /api/account/tokens/:token', async ({ token }, _, person) => {
  await endToken(person.accountId ?? '', token);
  await note(person, { action: 'tokenEnded', target: token });
  return { tokens: await tokensOf(person.accountId ?? '') };
});
