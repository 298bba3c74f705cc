import { jsonBody, route } from '../../../../server/http';
import { cleanName, deleteProject, openProject, renameProject } from '../../../../server/projects';
import { jsonStream } from '../../../../server/slices';

type Params = { id: string };
export const GET = route<Params>(async ({ id }) => {
  const { elements, ...project } = await openProject(id);
  return new Response(jsonStream(project, 'elements', elements), {
    headers: { 'content-type': 'application/json', 'cache-control': 'no-store' },
  });
});
export const PATCH = route<Params>(async ({ id }, request) => {
  const body = (await jsonBody(request)) as { name?: unknown } | null;
  await renameProject(id, cleanName(body?.name));
});
export const DELETE = route<Params>(({ id }) => deleteProject(id));
