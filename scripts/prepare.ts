/**
 * Applies migrations, gives the application's user its rights and, with --demo, loads the demo project once. MESURA_OWNER_URL: with the right to change tables;
 * MESURA_DATABASE_URL: of the application, the same one where an existing database is used.
 */
import { readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { closePool } from '../web/server/database';
import { loadDemoOnce } from '../web/server/demo';
import { grantRights, migrate } from '../web/server/migrate';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const application = process.env.MESURA_DATABASE_URL!;
const owner = process.env.MESURA_OWNER_URL ?? application;
try {
  await migrate(join(root, 'web/server/migrations'), owner);
  if (owner !== application) {
    const { username, pathname } = new URL(application);
    await grantRights(owner, pathname.slice(1), `'${username}'@'127.0.0.1'`);
  }
  if (process.argv.includes('--demo')) await loadDemoOnce(readFileSync(join(root, 'demo/sorrel-island.json'), 'utf8'));
} catch (error) {
  console.error((error as Error).message);
  process.exitCode = 1;
} finally {
  await closePool();
}
