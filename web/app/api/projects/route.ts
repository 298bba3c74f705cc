import { jsonBody, route } from '../../../server/http';
import { note } from '../../../server/people/audit';
import { cleanName, createProject, listProjects } from '../../../server/projects';

export const dynamic = 'force-dynamic';
export const GET = route('GET /api/projects', async (_, _request, { accountId }) => ({
  projects: await listProjects(accountId),
}));
export const POST = route('POST /api/projects', async (_, request, person) => {
  const body = (await jsonBody(request)) as { name?: unknown } | null;
  const name = cleanName(body?.name);
  const id = await createProject(name, undefined, '', person.accountId);
  await note(person, { action: 'projectAdded', projectId: id, target: name });
  return { id };
});
