import { route } from '../../../../../server/http';
import { note } from '../../../../../server/people/audit';
import { endSession, sessionsOf } from '../../../../../server/people/sessions';

export const DELETE = route<{ session: string }>(
  'DELETE /api/account/sessions/:session',
  async ({ session }, _, person) => {
    await endSession(person.accountId ?? '', session);
    await note(person, { action: 'sessionEnded' });
    return { sessions: await sessionsOf(person.accountId ?? '') };
  },
);
