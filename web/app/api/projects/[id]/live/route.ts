import { ServiceError } from '../../../../../server/errors';
import { route } from '../../../../../server/http';
import { placeSchema } from '../../../../../server/live/presence';
import { liveStream } from '../../../../../server/live/stream';
import { admission, permissions } from '../../../../../server/people/permissions';
import { personOf } from '../../../../../server/people/person';
import { projectRow } from '../../../../../server/projects';
import { pool } from '../../../../../server/database';

export const dynamic = 'force-dynamic';

export const GET = route<{ id: string }>('GET /api/projects/:id/live', async ({ id }, request) => {
  const client = placeSchema.shape.client.safeParse(new URL(request.url).searchParams.get('client'));
  if (!client.success) throw new ServiceError(422, 'live.client', 'Say which page this is.');
  await projectRow(pool(), id);
  const allowed = async () =>
    admission(permissions['GET /api/projects/:id/live'], await personOf(request.headers, id)) === 'admitted';
  return liveStream(id, client.data, allowed, request.signal);
});
