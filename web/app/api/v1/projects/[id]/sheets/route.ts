import { route } from '../../../../../../server/http';
import { register } from '../../../../../../server/sheets/register';

export const GET = route<{ id: string }>('GET /api/v1/projects/:id/sheets', ({ id }) => register(id));
