import { route } from '../../../../server/http';
import { note } from '../../../../server/people/audit';
import { unshareRulebook } from '../../../../server/sharedRulebooks';

export const DELETE = route<{ rulebook: string }>(
  'DELETE /api/rulebooks/:rulebook',
  async ({ rulebook }, _, person) => {
    const books = await unshareRulebook(rulebook);
    await note(person, { action: 'rulebookUnshared', target: rulebook });
    return { books };
  },
);
