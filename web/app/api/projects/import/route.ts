import { longest, route, textBody } from '../../../../server/http';
import { note } from '../../../../server/people/audit';
import { importProject } from '../../../../server/projects';

export const POST = route('POST /api/projects/import', async (_, request, person) => {
  const id = await importProject(await textBody(request, longest.file), request.signal, person.accountId);
  await note(person, { action: 'projectAdded', projectId: id, detail: 'from a file' });
  return { id };
});
