import { route } from '../../../../../server/http';
import { projectHead } from '../../../../../server/programs/projects';

export const GET = route<{ id: string }>('GET /api/v1/projects/:id', ({ id }) => projectHead(id));
