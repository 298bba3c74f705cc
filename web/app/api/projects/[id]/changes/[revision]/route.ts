import { stepAt } from '../../../../../../server/changes';
import { route } from '../../../../../../server/http';

export const GET = route<{ id: string; revision: string }>(
  'GET /api/projects/:id/changes/:revision',
  ({ id, revision }) => stepAt(id, Number(revision) || 0),
);
