import { stepAt } from '../../../../../../server/changes';
import { route } from '../../../../../../server/http';

export const GET = route<{ id: string; revision: string }>(({ id, revision }) => stepAt(id, Number(revision) || 0));
