/** The application server as a child process. */
import { spawn, spawnSync } from 'node:child_process';
import { closeSync, openSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { front, jobs } from './build.mjs';
import { rotate } from './logs.mjs';
import { end } from './process.mjs';
import { Plain, root } from './system.mjs';

const tsx = join(root, 'node_modules/tsx/dist/cli.mjs');

/** Applies migrations; with `demo`, loads the demo project unless that was done before. */
export function prepareDatabase({ url, ownerUrl = url }, { demo = true } = {}) {
  const result = spawnSync(process.execPath, [tsx, join(root, 'scripts/prepare.ts'), ...(demo ? ['--demo'] : [])], {
    cwd: root,
    encoding: 'utf8',
    env: { ...process.env, MESURA_DATABASE_URL: url, MESURA_OWNER_URL: ownerUrl },
  });
  if (result.status !== 0)
    throw new Plain(`The database could not be prepared:\n${(result.stderr || result.stdout).trim()}`);
}

/**
 * Starts the built application and waits until it answers. `spawned` is told its process at once, so that it is known even if this one is killed while it
 * starts. `dataDir`: whose disk its health looks at; `logs`: where it writes what was asked.
 */
export async function startApp({
  port,
  databaseUrl,
  quiet = false,
  dataDir: folder = '',
  logs = '',
  spawned = () => {},
  env = {},
}) {
  if (logs) rotate(join(logs, 'server.log'));
  const errors = logs ? openSync(join(logs, 'server.log'), 'a', 0o600) : 'inherit';
  const child = spawn(process.execPath, [front], {
    cwd: join(root, 'web'),
    detached: true,
    stdio: ['ignore', quiet ? 'ignore' : 'pipe', errors],
    env: {
      ...process.env,
      PORT: String(port),
      MESURA_WEB: join(root, 'web'),
      MESURA_DATABASE_URL: databaseUrl,
      MESURA_OWNER_URL: '',
      MESURA_JOBS: jobs,
      MESURA_LOGS: logs,
      MESURA_DATA_DIR_OF_SERVER: folder,
      NODE_ENV: 'production',
      NEXT_TELEMETRY_DISABLED: '1',
      ...env,
    },
  });
  if (typeof errors === 'number') closeSync(errors);
  let exited = false;
  child.on('exit', () => (exited = true));
  child.on('error', () => (exited = true));
  spawned(child.pid);
  const listens = process.env.MESURA_LISTEN?.trim() ?? '';
  // On all addresses it answers on loopback, too.
  const host = ['', '0.0.0.0', '::'].includes(listens) ? '127.0.0.1' : listens.includes(':') ? `[${listens}]` : listens;
  const url = `http://${host}:${port}`;
  for (let waited = 0; waited < 60000 && !exited; waited += 100) {
    try {
      const answer = await fetch(`${url}/api/health`, { signal: AbortSignal.timeout(5000) });
      if (answer.ok || answer.status === 507)
        return {
          url,
          pid: child.pid,
          onExit: (act) => (exited ? act() : child.on('exit', act)),
          stop: () => end(child.pid, 5000),
        };
    } catch {
      // not listening yet
    }
    await sleep(100);
  }
  if (!exited) await end(child.pid, 2000);
  throw new Plain(`The application does not answer on ${url}.${logs ? ` Its log: ${join(logs, 'server.log')}` : ''}`);
}
