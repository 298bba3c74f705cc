/** `npm run backup FILE`, `npm run restore FILE`: all projects with history and sheets, while people work or with the application stopped. */
import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { guarded, Plain } from './lib/system.mjs';
import { withDatabase } from './lib/withDatabase.mjs';

guarded(async () => {
  const [what, file] = process.argv.slice(2);
  if (!['backup', 'restore'].includes(what) || !file)
    throw new Plain(`Say which file: npm run ${what ?? 'backup'} FILE`);
  if (what === 'restore' && !existsSync(file)) throw new Plain(`${file} does not exist.`);
  if (what === 'backup' && existsSync(file)) throw new Plain(`${file} exists already; choose another name.`);
  await withDatabase('archive.ts', [what, resolve(file)], { there: what === 'backup' });
});
