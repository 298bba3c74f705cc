import { requireSameOrigin, route } from '../../../../../server/http';
import { restoreProject } from '../../../../../server/projects';

export const POST = route<{ id: string }>(async ({ id }, request) => {
  requireSameOrigin(request);
  await restoreProject(id);
});
