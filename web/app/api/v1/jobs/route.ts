import { route } from '../../../../server/http';
import { jobsOf } from '../../../../server/programs/jobs';

export const dynamic = 'force-dynamic';
export const GET = route('GET /api/v1/jobs', async (_, _request, { accountId }) => ({ jobs: await jobsOf(accountId) }));
