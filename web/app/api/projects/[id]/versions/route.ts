import { jsonBody, route } from '../../../../../server/http';
import { nameVersion } from '../../../../../server/versions';

export const POST = route<{ id: string }>('POST /api/projects/:id/versions', async ({ id }, request, person) => ({
  versions: await nameVersion(id, await jsonBody(request), person),
}));
