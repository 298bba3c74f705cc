import { route } from '../../../../../server/http';
import { note } from '../../../../../server/people/audit';
import { restoreProject } from '../../../../../server/projects';

export const POST = route<{ id: string }>('POST /api/projects/:id/restore', async ({ id }, _, person) => {
  await restoreProject(id);
  await note(person, { action: 'projectRestored', projectId: id });
});
