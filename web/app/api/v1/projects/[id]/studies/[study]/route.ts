import { NextResponse } from 'next/server';
import { isStudy } from '@mesura/cli/words';
import { problemsOf } from '@mesura/core/model/problem';
import { notFound, ServiceError } from '../../../../../../../server/errors';
import { jsonBody, longest, route } from '../../../../../../../server/http';
import { awaited, startJob } from '../../../../../../../server/programs/jobs';
import { studyBodies, waitOf } from '../../../../../../../server/programs/operations';

type Params = { id: string; study: string };
export const POST = route<Params>(
  'POST /api/v1/projects/:id/studies/:study',
  async ({ id, study }, request, person) => {
    if (!isStudy(study)) throw notFound('This study');
    const body = studyBodies[study].safeParse(await jsonBody(request, longest.study));
    if (!body.success)
      throw new ServiceError(422, 'study.options', 'These are no options of this study.', {
        problems: problemsOf(body.error).slice(0, 20),
      });
    const { options, format } = body.data;
    const begun = await startJob(person.accountId, { project: id, study, options, form: format });
    const job = await awaited(person.accountId, begun.id, waitOf(request));
    const isOpen = job.state === 'waiting' || job.state === 'running';
    const headers = { location: `/api/v1/jobs/${job.id}`, 'cache-control': 'no-store' };
    return NextResponse.json(job, { status: isOpen ? 202 : 200, headers });
  },
);
