import { route } from '../../../../../server/http';
import { note } from '../../../../../server/people/audit';
import { duplicateProject } from '../../../../../server/projects';

export const POST = route<{ id: string }>('POST /api/projects/:id/duplicate', async ({ id }, _, person) => {
  const copy = await duplicateProject(id, person.accountId);
  await note(person, { action: 'projectAdded', projectId: copy, detail: 'copy' });
  return { id: copy };
});
