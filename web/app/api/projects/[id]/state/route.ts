import { route } from '../../../../../server/http';
import { stateAt } from '../../../../../server/versions';

export const GET = route<{ id: string }>(async ({ id }, request) => ({
  elements: await stateAt(id, Number(new URL(request.url).searchParams.get('revision'))),
}));
