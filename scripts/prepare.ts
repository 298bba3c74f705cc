/** Applies migrations and, with --demo, loads the demo project once. */
import { readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { closePool } from '../web/server/database';
import { loadDemoOnce } from '../web/server/demo';
import { migrate } from '../web/server/migrate';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
try {
  await migrate(join(root, 'web/server/migrations'));
  if (process.argv.includes('--demo')) await loadDemoOnce(readFileSync(join(root, 'demo/sorrel-island.json'), 'utf8'));
} catch (error) {
  console.error((error as Error).message);
  process.exitCode = 1;
} finally {
  await closePool();
}
