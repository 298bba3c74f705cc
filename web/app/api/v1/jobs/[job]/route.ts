import { route } from '../../../../../server/http';
import { awaited, cancelJob } from '../../../../../server/programs/jobs';
import { waitOf } from '../../../../../server/programs/operations';

type Params = { job: string };
export const GET = route<Params>('GET /api/v1/jobs/:job', ({ job }, request, { accountId }) =>
  awaited(accountId, job, waitOf(request)),
);
export const DELETE = route<Params>('DELETE /api/v1/jobs/:job', ({ job }, _, { accountId }) =>
  cancelJob(accountId, job),
);
