/** The application server as a child process. */
import { spawn, spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { jobs } from './build.mjs';
import { end } from './process.mjs';
import { Plain, root } from './system.mjs';

const tsx = join(root, 'node_modules/tsx/dist/cli.mjs');

/** Applies migrations; with `demo`, loads the demo project unless that was done before. */
export function prepareDatabase(url, { demo = true } = {}) {
  const result = spawnSync(process.execPath, [tsx, join(root, 'scripts/prepare.ts'), ...(demo ? ['--demo'] : [])], {
    cwd: root,
    encoding: 'utf8',
    env: { ...process.env, MESURA_DATABASE_URL: url },
  });
  if (result.status !== 0)
    throw new Plain(`The database could not be prepared:\n${(result.stderr || result.stdout).trim()}`);
}

/** Starts the built application and waits until it answers. */
export async function startApp({ port, databaseUrl, quiet = false }) {
  // Not through npx: ending a wrapper leaves the server running.
  const child = spawn(
    process.execPath,
    [join(root, 'node_modules/next/dist/bin/next'), 'start', '-H', '127.0.0.1', '-p', String(port)],
    {
      cwd: join(root, 'web'),
      detached: true,
      stdio: ['ignore', quiet ? 'ignore' : 'pipe', 'inherit'],
      env: { ...process.env, MESURA_DATABASE_URL: databaseUrl, MESURA_JOBS: jobs, NEXT_TELEMETRY_DISABLED: '1' },
    },
  );
  let exited = false;
  child.on('exit', () => (exited = true));
  const url = `http://127.0.0.1:${port}`;
  for (let waited = 0; waited < 60000 && !exited; waited += 100) {
    try {
      const answer = await fetch(`${url}/api/health`);
      if (answer.ok) return { url, pid: child.pid, onExit: (act) => child.on('exit', act), stop: () => end(child.pid) };
    } catch {
      // not listening yet
    }
    await sleep(100);
  }
  if (!exited) await end(child.pid);
  throw new Plain(`The application does not answer on ${url}.`);
}
