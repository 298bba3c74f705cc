import { download } from '../../../../../server/download';
import { ServiceError } from '../../../../../server/errors';
import { jsonBody, longest, route } from '../../../../../server/http';
import { reportFile, reportSchema } from '../../../../../server/reports';

const types = {
  pdf: 'application/pdf',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
} as const;

export const POST = route<{ id: string }>('POST /api/projects/:id/reports', async ({ id }, request) => {
  const body = reportSchema.safeParse(await jsonBody(request, longest.study));
  if (!body.success) throw new ServiceError(422, 'report.request', 'Say which study, and in which form.');
  const { name, bytes } = await reportFile(id, body.data, request.signal);
  return download(name, types[body.data.format], bytes as BodyInit);
});
