import { jsonBody, route } from '../../../server/http';
import { sharedTypes, shareType } from '../../../server/sharedTypes';

export const dynamic = 'force-dynamic';
export const GET = route(async () => ({ types: await sharedTypes() }));
export const POST = route(async (_, request) => ({ types: await shareType(await jsonBody(request)) }));
