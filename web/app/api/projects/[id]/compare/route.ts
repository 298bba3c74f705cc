import { route } from '../../../../../server/http';
import { compareRevisions } from '../../../../../server/versions';

export const GET = route<{ id: string }>(async ({ id }, request) => {
  const asked = new URL(request.url).searchParams;
  return { differences: await compareRevisions(id, Number(asked.get('from')), Number(asked.get('to'))) };
});
