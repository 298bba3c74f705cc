import { jsonBody, route } from '../../../../server/http';
import { note } from '../../../../server/people/audit';
import { cleanName, deleteProject, openProject, renameProject } from '../../../../server/projects';
import { jsonStream } from '../../../../server/slices';

type Params = { id: string };
export const GET = route<Params>('GET /api/projects/:id', async ({ id }) => {
  const { elements, ...project } = await openProject(id);
  return new Response(jsonStream(project, 'elements', elements), {
    headers: { 'content-type': 'application/json', 'cache-control': 'no-store' },
  });
});
export const PATCH = route<Params>('PATCH /api/projects/:id', async ({ id }, request, person) => {
  const body = (await jsonBody(request)) as { name?: unknown } | null;
  const name = cleanName(body?.name);
  await renameProject(id, name);
  await note(person, { action: 'projectRenamed', projectId: id, target: name });
});
export const DELETE = route<Params>('DELETE /api/projects/:id', async ({ id }, _, person) => {
  await deleteProject(id);
  await note(person, { action: 'projectDeleted', projectId: id });
});
