/** `npm run backup FILE`, `npm run restore FILE`: all projects with history and sheets, while people work or with the application stopped. */
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { startMariadb } from './lib/mariadb.mjs';
import { dataDir, ensureDebianPackages, ensureNodePackages, guarded, Plain, root } from './lib/system.mjs';

guarded(async () => {
  const [what, file] = process.argv.slice(2);
  if (!['backup', 'restore'].includes(what) || !file)
    throw new Plain(`Say which file: npm run ${what ?? 'backup'} FILE`);
  if (what === 'restore' && !existsSync(file)) throw new Plain(`${file} does not exist.`);
  if (what === 'backup' && existsSync(file)) throw new Plain(`${file} exists already; choose another name.`);
  const external = process.env.MESURA_DATABASE_URL;
  if (!external && what === 'backup' && !existsSync(join(dataDir, 'mariadb')))
    throw new Plain(`There is no database in ${dataDir}.`);
  if (!external) ensureDebianPackages({ mariadbd: 'mariadb-server' });
  ensureNodePackages();
  const dir = join(dataDir, 'mariadb');
  const database = external ? { url: external, ownerUrl: external, stop: async () => {} } : await startMariadb(dir);
  const begun = !external && !database.tookOver;
  try {
    const result = spawnSync(
      process.execPath,
      [join(root, 'node_modules/tsx/dist/cli.mjs'), join(root, 'scripts/archive.ts'), what, resolve(file)],
      {
        cwd: root,
        stdio: 'inherit',
        env: { ...process.env, MESURA_DATABASE_URL: database.ownerUrl, MESURA_OWNER_URL: database.ownerUrl },
      },
    );
    process.exitCode = result.status ?? 1;
  } finally {
    if (begun) await database.stop();
  }
  process.exit();
});
