import { jsonBody, route } from '../../../../../server/http';
import { nameVersion } from '../../../../../server/versions';

export const POST = route<{ id: string }>(async ({ id }, request) => ({
  versions: await nameVersion(id, await jsonBody(request)),
}));
