import { requireSameOrigin, route } from '../../../../../server/http';
import { duplicateProject } from '../../../../../server/projects';

export const POST = route<{ id: string }>(async ({ id }, request) => {
  requireSameOrigin(request);
  return { id: await duplicateProject(id) };
});
