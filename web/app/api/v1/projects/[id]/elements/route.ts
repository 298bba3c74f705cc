import { route } from '../../../../../../server/http';
import { queries, queryOf } from '../../../../../../server/programs/operations';
import { elementPage } from '../../../../../../server/programs/projects';

export const GET = route<{ id: string }>('GET /api/v1/projects/:id/elements', ({ id }, request) =>
  elementPage(id, queryOf(queries.elements, request)),
);
