/** An instance of the application for a campaign: started as a user starts it, killed as machines kill it. Touches only processes of its own folder. */
import { spawn, spawnSync } from 'node:child_process';
import { closeSync, mkdirSync, mkdtempSync, openSync, readFileSync, rmSync } from 'node:fs';
import http from 'node:http';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { freePort } from '../lib/ports.mjs';
import { isAlive, processesWith } from '../lib/process.mjs';
import { root } from '../lib/system.mjs';

const require = createRequire(import.meta.url);

export const seeded = (seed) => () => {
  seed = (seed + 0x6d2b79f5) | 0;
  let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
  t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
  return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
};
export const pick = (random, list) => list[Math.floor(random() * list.length)];

export class Instance {
  static async create({ dir, env = {} } = {}) {
    const parent = dir ?? mkdtempSync(join(tmpdir(), 'mesura-campaign-'));
    spawnSync('chmod', ['755', parent]);
    return new Instance(parent, await freePort(), env);
  }

  constructor(parent, port, env) {
    this.parent = parent;
    this.dir = join(parent, 'data');
    this.port = port;
    this.env = env;
    this.agent = new http.Agent({ keepAlive: true, maxSockets: 64 });
    mkdirSync(this.dir, { recursive: true });
  }

  /** Starts it; `{ ok, ms, said }` when it serves or has ended. */
  async start(limitMs = 120_000) {
    const since = performance.now();
    const log = join(this.parent, 'said.log');
    rmSync(log, { force: true });
    const out = openSync(log, 'a');
    this.child = spawn(process.execPath, [join(root, 'scripts/start.mjs')], {
      cwd: root,
      detached: true,
      stdio: ['ignore', out, out],
      env: {
        ...process.env,
        MESURA_DATABASE_URL: '',
        PORT: String(this.port),
        MESURA_DATA_DIR: this.dir,
        MESURA_RATE: '100000,100000',
        ...this.env,
      },
    });
    closeSync(out);
    let exit = null;
    this.child.on('exit', (code, signal) => (exit = code ?? signal));
    this.exited = new Promise((resolve) => this.child.on('exit', resolve));
    const said = () => readFileSync(log, 'utf8');
    while (performance.now() - since < limitMs) {
      if (exit !== null) return { ok: false, ms: performance.now() - since, said: said() };
      if (said().includes('Mesura is at')) return { ok: true, ms: performance.now() - since, said: said() };
      await sleep(25);
    }
    return { ok: false, ms: limitMs, said: `${said()} (no answer in time)` };
  }

  pids() {
    let run = {};
    try {
      run = JSON.parse(readFileSync(join(this.dir, 'run.json'), 'utf8'));
    } catch {
      // not running
    }
    let database = null;
    try {
      database = Number(readFileSync(join(this.dir, 'mariadb/m.pid'), 'utf8'));
    } catch {
      // none
    }
    return { starter: run.start ?? null, application: run.app ?? null, database };
  }

  /** All live processes of this folder. */
  mine() {
    const found = new Set([
      ...processesWith('scripts/start.mjs', { MESURA_DATA_DIR: this.dir }),
      ...processesWith('', { MESURA_DATA_DIR: this.dir }),
      ...processesWith(`--datadir=${this.dir}/`, {}),
    ]);
    return [...found];
  }

  kill(pid) {
    if (pid && pid > 1 && isAlive(pid))
      try {
        process.kill(pid, 'SIGKILL');
      } catch {
        // gone meanwhile
      }
  }

  async killAll() {
    for (let round = 0; round < 5 && this.mine().length > 0; round++) {
      for (const pid of this.mine()) this.kill(pid);
      await sleep(100);
    }
  }

  /** Ends it as Ctrl-C does; how long it took, and what was left over. */
  async stop() {
    const since = performance.now();
    const { starter } = this.pids();
    if (starter && isAlive(starter)) process.kill(starter, 'SIGINT');
    while (performance.now() - since < 60_000 && starter && isAlive(starter)) await sleep(20);
    const ms = performance.now() - since;
    await sleep(200);
    return { ms, left: this.mine().length };
  }

  async end() {
    await this.killAll();
    this.agent.destroy();
    rmSync(this.parent, { recursive: true, force: true });
  }

  /** One request; never throws: `{ status, text, error, ms }`. */
  request(method, path, { body, headers = {}, timeout = 30_000, fresh = false } = {}) {
    const since = performance.now();
    return new Promise((resolve) => {
      const done = (answer) => resolve({ ms: performance.now() - since, status: 0, text: '', ...answer });
      let request;
      try {
        request = http.request(
          { host: '127.0.0.1', port: this.port, method, path, headers, agent: fresh ? false : this.agent },
          (response) => {
            const parts = [];
            response.on('data', (part) => parts.push(part));
            response.on('end', () =>
              done({ status: response.statusCode, text: Buffer.concat(parts).toString('utf8') }),
            );
            response.on('error', (error) => done({ error: error.code ?? error.message }));
            response.on('aborted', () => done({ error: 'aborted' }));
          },
        );
      } catch (error) {
        return done({ status: -1, error: error.code ?? error.message });
      }
      request.setTimeout(timeout, () => request.destroy(new Error('timeout')));
      request.on('error', (error) => done({ error: error.code ?? error.message }));
      request.end(body);
    });
  }

  json(method, path, value, options = {}) {
    const headers = { 'content-type': 'application/json', ...options.headers };
    return this.request(method, path, {
      ...options,
      headers,
      body: value === undefined ? undefined : JSON.stringify(value),
    });
  }

  async healthy(limitMs = 60_000) {
    const since = performance.now();
    while (performance.now() - since < limitMs) {
      const { status } = await this.request('GET', '/api/health', { timeout: 3000, fresh: true });
      if (status === 200) return true;
      await sleep(50);
    }
    return false;
  }

  /** The database as its owner. */
  async database() {
    const mysql = require('mysql2/promise');
    const { port, ownerPassword } = JSON.parse(readFileSync(join(this.dir, 'mariadb/state.json'), 'utf8'));
    return mysql.createConnection({
      host: '127.0.0.1',
      port,
      user: 'mesura_owner',
      password: ownerPassword,
      database: 'mesura',
      supportBigNumbers: true,
      jsonStrings: true,
    });
  }
}

export const demo = () => readFileSync(join(root, 'demo/sorrel-island.json'), 'utf8');
export { sleep };
