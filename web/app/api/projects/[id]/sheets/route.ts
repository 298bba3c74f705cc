import { ServiceError } from '../../../../../server/errors';
import { jsonBody, route } from '../../../../../server/http';
import { stepSchema, takeStep } from '../../../../../server/sheets/life';
import { register } from '../../../../../server/sheets/register';

type Params = { id: string };
export const GET = route<Params>('GET /api/projects/:id/sheets', ({ id }) => register(id));
/** Prepares some sheets, or takes one step with one of them. */
export const POST = route<Params>('POST /api/projects/:id/sheets', async ({ id }, request, person) => {
  const body = stepSchema.safeParse(await jsonBody(request));
  if (!body.success) throw new ServiceError(422, 'sheet.request', 'Say which sheets, and what to do with them.');
  return takeStep(id, body.data, person);
});
