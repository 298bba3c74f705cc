import { z } from 'zod';
import { elementIdSchema } from '@mesura/core/model/fields';
import { ServiceError } from '../../../../../server/errors';
import { jsonBody, route } from '../../../../../server/http';
import { issueSheet, listSheets } from '../../../../../server/sheets';
import { plainText } from '../../../../../server/texts';

type Params = { id: string };
const issueSchema = z.object({
  relay: elementIdSchema,
  revision: z.int().min(0),
  reason: plainText(400).default(''),
  issuedBy: plainText(80).optional(),
  key: z
    .string()
    .regex(/^[A-Za-z0-9-]{8,60}$/)
    .optional(),
});

export const GET = route<Params>('GET /api/projects/:id/sheets', async ({ id }) => ({ sheets: await listSheets(id) }));
export const POST = route<Params>('POST /api/projects/:id/sheets', async ({ id }, request) => {
  const body = issueSchema.safeParse(await jsonBody(request));
  if (!body.success) throw new ServiceError(422, 'sheet.request', 'Say which relay, and on which revision.');
  return issueSheet(id, body.data);
});
