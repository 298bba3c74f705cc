import { route } from '../../../../server/http';
import { note } from '../../../../server/people/audit';
import { unshareType } from '../../../../server/sharedTypes';

export const DELETE = route<{ type: string }>('DELETE /api/types/:type', async ({ type }, _, person) => {
  const types = await unshareType(type);
  await note(person, { action: 'typeUnshared', target: type });
  return { types };
});
