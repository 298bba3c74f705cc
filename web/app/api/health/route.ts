import { health } from '../../../server/health';
import { route } from '../../../server/http';

export const dynamic = 'force-dynamic';
export const GET = route('GET /api/health', health);
