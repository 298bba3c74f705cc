import { jsonBody, requireSameOrigin, route } from '../../../../server/http';
import { cleanName, deleteProject, openProject, renameProject } from '../../../../server/projects';

type Params = { id: string };
export const GET = route<Params>(({ id }) => openProject(id));
export const PATCH = route<Params>(async ({ id }, request) => {
  const body = (await jsonBody(request)) as { name?: unknown } | null;
  await renameProject(id, cleanName(body?.name));
});
export const DELETE = route<Params>(async ({ id }, request) => {
  requireSameOrigin(request);
  await deleteProject(id);
});
