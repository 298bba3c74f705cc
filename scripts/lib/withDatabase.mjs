/** A script that works on the database: on the one that runs, or on one that is started for it and ended afterwards. */
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { startMariadb } from './mariadb.mjs';
import { dataDir, ensureDebianPackages, ensureNodePackages, Plain, root } from './system.mjs';

/** Runs a TypeScript file of `scripts` with MESURA_DATABASE_URL and MESURA_OWNER_URL, both of the owner of the tables. `there`: a database must be there already. */
export async function withDatabase(script, args, { there = false } = {}) {
  const external = process.env.MESURA_DATABASE_URL;
  const dir = join(dataDir, 'mariadb');
  if (!external && there && !existsSync(dir)) throw new Plain(`There is no database in ${dataDir}.`);
  if (!external) ensureDebianPackages({ mariadbd: 'mariadb-server' });
  ensureNodePackages();
  const database = external ? { url: external, ownerUrl: external, stop: async () => {} } : await startMariadb(dir);
  const begun = !external && !database.tookOver;
  try {
    const result = spawnSync(
      process.execPath,
      [join(root, 'node_modules/tsx/dist/cli.mjs'), join(root, 'scripts', script), ...args],
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
}
