import { jsonBody, route } from '../../../server/http';
import { cleanName, createProject, listProjects } from '../../../server/projects';

export const dynamic = 'force-dynamic';
export const GET = route(async () => ({ projects: await listProjects() }));
export const POST = route(async (_, request) => {
  const body = (await jsonBody(request)) as { name?: unknown } | null;
  return { id: await createProject(cleanName(body?.name)) };
});
