import { route } from '../../../../../server/http';
import { historyOf, versionsOf } from '../../../../../server/versions';

export const GET = route<{ id: string }>(async ({ id }, request) => {
  const before = Number(new URL(request.url).searchParams.get('before') ?? 0);
  return { entries: await historyOf(id, before > 0 ? before : null), versions: await versionsOf(id) };
});
