import { jsonBody, route } from '../../../server/http';
import { sharedRulebooks, shareRulebook } from '../../../server/sharedRulebooks';

export const dynamic = 'force-dynamic';
export const GET = route(async () => ({ books: await sharedRulebooks() }));
export const POST = route(async (_, request) => ({ books: await shareRulebook(await jsonBody(request)) }));
