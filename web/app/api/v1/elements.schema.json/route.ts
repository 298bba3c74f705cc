import { z } from 'zod';
import { elementSchema } from '@mesura/core/model/element';
import { route } from '../../../../server/http';

export const dynamic = 'force-dynamic';
export const GET = route('GET /api/v1/elements.schema.json', async () =>
  z.toJSONSchema(elementSchema, { io: 'input' }),
);
