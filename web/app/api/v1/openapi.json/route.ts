import { route } from '../../../../server/http';
import { openApi } from '../../../../server/programs/openapi';

export const dynamic = 'force-dynamic';
export const GET = route('GET /api/v1/openapi.json', async () => openApi());
