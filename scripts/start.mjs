/** `npm start`: from a fresh machine to the running application; see README. */
import { randomBytes } from 'node:crypto';
import { chmodSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { startApp, prepareDatabase } from './lib/app.mjs';
import { ensureBuild } from './lib/build.mjs';
import { startMariadb } from './lib/mariadb.mjs';
import { isFree } from './lib/ports.mjs';
import { end, isAlive, isOurs, processesWith } from './lib/process.mjs';
import { Supervised } from './lib/supervise.mjs';
import {
  dataDir,
  ensureDebianPackages,
  ensureNodePackages,
  guarded,
  isRoot,
  Plain,
  requireDiskSpace,
} from './lib/system.mjs';

const runFile = join(dataDir, 'run.json');
const logs = join(dataDir, 'logs');
const front = 'mesura-front.mjs';

guarded(async () => {
  const port = Number(process.env.PORT || 3000);
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new Plain(`PORT must be a number from 1 to 65535, not "${process.env.PORT}".`);
  const accounts = peopleSignIn(process.env);
  requireDiskSpace(dataDir, 600);
  // Debian's database user passes through, and nobody looks in.
  chmodSync(dataDir, isRoot ? 0o711 : 0o700);
  const external = process.env.MESURA_DATABASE_URL || undefined;
  if (!external) ensureDebianPackages({ mariadbd: 'mariadb-server', 'mariadb-install-db': 'mariadb-server' });
  ensureNodePackages();

  await clearLeftovers(port);
  if (!(await isFree(port)))
    throw new Plain(`Port ${port} is taken by another program. Choose another one:\n  PORT=${port + 1} npm start`);
  mkdirSync(logs, { recursive: true, mode: 0o700 });
  chmodSync(logs, 0o700);
  const state = { start: process.pid, port };
  const noteRun = (more) => {
    Object.assign(state, more);
    writeFileSync(`${runFile}.new`, JSON.stringify(state), { mode: 0o600 });
    renameSync(`${runFile}.new`, runFile);
  };
  noteRun({});

  const parts = [];
  let stopping = null;
  const stopAll = () =>
    (stopping ??= (async () => {
      // The application first, then what it leans on.
      for (const part of parts.reverse()) await part.stop();
      rmSync(runFile, { force: true });
    })());
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
    process.on(signal, () => {
      if (!stopping) console.log('\nStopping …');
      void stopAll().then(() => process.exit(0));
    });
  const part = async (name, start) => {
    const supervised = new Supervised(name, start, {
      say: (message) => console.error(message),
      gaveUp: (error) => {
        console.error(`${error.message} Its logs are in ${logs} and ${join(dataDir, 'mariadb')}.`);
        void stopAll().then(() => process.exit(1));
      },
    });
    parts.push(supervised);
    await supervised.begin();
    return supervised;
  };

  try {
    let database = external ? { url: external } : null;
    if (!external)
      await part('The database', async () => {
        const handle = await startMariadb(join(dataDir, 'mariadb'));
        database = handle;
        return { stop: handle.stop, onExit: (act) => whenGone(handle, act) };
      });
    if (stopping) return;
    prepareDatabase(database);
    if (stopping) return;
    ensureBuild();
    if (stopping) return;
    await part('The application', async () => {
      const app = await startApp({
        port,
        databaseUrl: database.url,
        quiet: true,
        dataDir,
        logs,
        env: { MESURA_SECRET: process.env.MESURA_SECRET || secretOf(join(dataDir, 'secret')) },
        spawned: (pid) => noteRun({ app: pid }),
      });
      watchAnswers(app);
      return app;
    });
    const people = accounts ? 'people sign in; accounts: npm run account' : 'your own desk: nobody signs in';
    if (!stopping) console.log(`\nMesura is at http://127.0.0.1:${port}   (${people}; Ctrl-C stops it)`);
  } catch (error) {
    if (stopping) return;
    await stopAll();
    throw error;
  }
});

/** As web/server/people/mode.ts has it, told before anything is started. */
function peopleSignIn({ MESURA_ACCOUNTS = '', MESURA_LISTEN = '', MESURA_HOSTS = '', MESURA_PROXY = '' }) {
  if (!['', 'required'].includes(MESURA_ACCOUNTS.trim()))
    throw new Plain(`MESURA_ACCOUNTS must be "required" or left out, not "${MESURA_ACCOUNTS}".`);
  if (!['', 'trusted'].includes(MESURA_PROXY.trim()))
    throw new Plain(`MESURA_PROXY must be "trusted" or left out, not "${MESURA_PROXY}".`);
  const isLoopback = /^(|127\.\d{1,3}\.\d{1,3}\.\d{1,3}|::1|localhost)$/.test(MESURA_LISTEN.trim());
  return MESURA_ACCOUNTS.trim() === 'required' || !isLoopback || MESURA_HOSTS.trim() !== '';
}

/** Of the installation, made at the first start: one-time codes are locked with it. */
function secretOf(file) {
  try {
    const known = readFileSync(file, 'utf8').trim();
    if (known.length >= 32) return known;
  } catch {
    // none yet
  }
  const fresh = randomBytes(32).toString('base64url');
  writeFileSync(file, `${fresh}\n`, { mode: 0o600 });
  return fresh;
}

/** What a killed run left: its application server is ended, its database is taken over later. */
async function clearLeftovers(port) {
  let state = {};
  try {
    state = JSON.parse(readFileSync(runFile, 'utf8'));
  } catch {
    // none, or half written
  }
  if (isOurs(state.start, 'scripts/start.mjs') && state.start !== process.pid)
    throw new Plain(
      `Mesura is running already at http://127.0.0.1:${state.port}. Stop it there with Ctrl-C first${state.port === port ? '' : ', or set MESURA_DATA_DIR for a second one'}.`,
    );
  if (isOurs(state.app, front)) await end(state.app, 5000);
  // A server that was begun and never noted: recognised by the folder that it was given.
  for (const pid of processesWith(front, { MESURA_DATA_DIR_OF_SERVER: dataDir })) await end(pid, 5000);
}

/** The database is no child of ours where it was taken over: looked at instead. */
function whenGone({ pid }, act) {
  const timer = setInterval(() => {
    if (isAlive(pid)) return;
    clearInterval(timer);
    act();
  }, 500);
  timer.unref();
}

/** An application that no longer answers at all is ended, and begun again by its supervisor. */
function watchAnswers({ url, pid }) {
  let missed = 0;
  const timer = setInterval(async () => {
    if (!isAlive(pid)) return clearInterval(timer);
    try {
      // Any answer will do: a database that is away is no reason.
      await fetch(`${url}/api/health`, { signal: AbortSignal.timeout(10_000) });
      missed = 0;
    } catch {
      if (++missed < 3 || !isAlive(pid)) return;
      console.error('The application no longer answers.');
      clearInterval(timer);
      await end(pid, 2000);
    }
  }, 10_000);
  timer.unref();
}
