import { download } from '../../../../../server/download';
import { route } from '../../../../../server/http';
import { exportProject } from '../../../../../server/projects';

export const GET = route<{ id: string }>('GET /api/projects/:id/file', async ({ id }) => {
  const { name, text } = await exportProject(id);
  return download(`${name}.mesura.json`, 'application/json', text);
});
