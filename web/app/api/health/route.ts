import { pool } from '../../../server/database';
import { route } from '../../../server/http';

export const dynamic = 'force-dynamic';
export const GET = route(async () => {
  await pool().query('SELECT 1');
  return { ok: true };
});
