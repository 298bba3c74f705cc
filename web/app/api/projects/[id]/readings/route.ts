import { route } from '../../../../../server/http';
import { latestReadings } from '../../../../../server/sheets/readings';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>('GET /api/projects/:id/readings', async ({ id }) => ({
  readings: await latestReadings(id),
}));
