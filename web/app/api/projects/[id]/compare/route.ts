import { route, wholeNumber } from '../../../../../server/http';
import { compareRevisions } from '../../../../../server/versions';

export const GET = route<{ id: string }>(async ({ id }, request) => ({
  differences: await compareRevisions(id, wholeNumber(request, 'from'), wholeNumber(request, 'to')),
}));
