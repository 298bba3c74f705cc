/** `npm start`: from a fresh machine to the running application; see README. */
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { startApp, prepareDatabase } from './lib/app.mjs';
import { ensureBuild } from './lib/build.mjs';
import { startMariadb } from './lib/mariadb.mjs';
import { isFree } from './lib/ports.mjs';
import { end, isOurs } from './lib/process.mjs';
import { dataDir, ensureDebianPackages, ensureNodePackages, guarded, Plain, requireDiskSpace } from './lib/system.mjs';

const runFile = join(dataDir, 'run.json');

guarded(async () => {
  const port = Number(process.env.PORT || 3000);
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new Plain(`PORT must be a number from 1 to 65535, not "${process.env.PORT}".`);
  requireDiskSpace(dataDir, 600);
  const external = process.env.MESURA_DATABASE_URL || undefined;
  if (!external) ensureDebianPackages({ mariadbd: 'mariadb-server', 'mariadb-install-db': 'mariadb-server' });
  ensureNodePackages();

  await clearLeftovers(port);
  if (!(await isFree(port)))
    throw new Plain(`Port ${port} is taken by another program. Choose another one:\n  PORT=${port + 1} npm start`);
  mkdirSync(dataDir, { recursive: true });
  writeFileSync(runFile, JSON.stringify({ start: process.pid, port }));

  const stops = [];
  let stopping = null;
  const stopAll = () =>
    (stopping ??= (async () => {
      for (const stop of stops.reverse()) await stop();
      rmSync(runFile, { force: true });
    })());
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
    process.on(signal, () => {
      if (!stopping) console.log('\nStopping …');
      void stopAll().then(() => process.exit(0));
    });

  try {
    const database = external ? null : await startMariadb(join(dataDir, 'mariadb'));
    if (database) stops.push(database.stop);
    prepareDatabase(external ?? database.url);
    ensureBuild();
    const app = await startApp({ port, databaseUrl: external ?? database.url, quiet: true });
    stops.push(app.stop);
    writeFileSync(runFile, JSON.stringify({ start: process.pid, port, app: app.pid }));
    console.log(`\nMesura is at ${app.url}   (Ctrl-C stops it)`);
    app.onExit(() => {
      if (stopping) return;
      console.error('The application server ended by itself; stopping.');
      void stopAll().then(() => process.exit(1));
    });
    if (database) watch(database, () => stopping);
  } catch (error) {
    await stopAll();
    throw error;
  }
});

/** What a killed run left: its application server is ended, its database is taken over later. */
async function clearLeftovers(port) {
  let state;
  try {
    state = JSON.parse(readFileSync(runFile, 'utf8'));
  } catch {
    return;
  }
  if (isOurs(state.start, 'scripts/start.mjs') && state.start !== process.pid)
    throw new Plain(
      `Mesura is running already at http://127.0.0.1:${state.port}. Stop it there with Ctrl-C first${state.port === port ? '' : ', or set MESURA_DATA_DIR for a second one'}.`,
    );
  if (isOurs(state.app, 'next')) await end(state.app);
}

/** Brings the database back when it dies under the running application, on the same port. */
function watch(database, stopping) {
  let current = database;
  setInterval(async () => {
    if (stopping() || current.isAlive() || current.restarting) return;
    current.restarting = true;
    console.error('The database ended by itself; starting it again.');
    try {
      current = await startMariadb(join(dataDir, 'mariadb'));
    } catch (error) {
      console.error(error.message);
      current.restarting = false;
    }
  }, 2000).unref();
}
