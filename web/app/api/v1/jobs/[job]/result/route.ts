import { route } from '../../../../../../server/http';
import { resultOf } from '../../../../../../server/programs/jobs';
import { answerTypes } from '../../../../../../server/programs/operations';

export const GET = route<{ job: string }>('GET /api/v1/jobs/:job/result', async ({ job: id }, _, { accountId }) => {
  const { job, bytes } = await resultOf(accountId, id);
  return new Response(bytes as BodyInit, {
    headers: {
      'content-type': answerTypes[job.format as keyof typeof answerTypes],
      'cache-control': 'no-store',
      'mesura-code': String(job.code),
      'mesura-revision': String(job.revision),
    },
  });
});
