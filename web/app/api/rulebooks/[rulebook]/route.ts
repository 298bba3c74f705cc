import { route } from '../../../../server/http';
import { unshareRulebook } from '../../../../server/sharedRulebooks';

export const DELETE = route<{ rulebook: string }>(async ({ rulebook }) => ({ books: await unshareRulebook(rulebook) }));
