/** `npm start` itself: as a user runs it, killed as machines kill it. Uses the build that `npm test` made. */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';

const root = join(import.meta.dirname, '..');
const script = join(root, 'scripts/start.mjs');
let dir: string;
let port: number;

const freePort = () =>
  new Promise<number>((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port: found } = server.address() as { port: number };
      server.close(() => resolve(found));
    });
  });

test.beforeAll(async () => {
  dir = mkdtempSync(join(tmpdir(), 'mesura-start-'));
  spawnSync('chmod', ['755', dir]);
  port = await freePort();
});
test.afterAll(() => rmSync(dir, { recursive: true, force: true }));

const environment = (over: NodeJS.ProcessEnv = {}) => {
  return { ...process.env, MESURA_DATABASE_URL: '', PORT: String(port), MESURA_DATA_DIR: dir, ...over };
};

function start(): { child: ChildProcess; ready: Promise<string>; ended: Promise<number | null> } {
  const child = spawn(process.execPath, [script], { env: environment(), stdio: ['ignore', 'pipe', 'pipe'] });
  let said = '';
  const ended = new Promise<number | null>((resolve) => child.on('exit', resolve));
  const ready = new Promise<string>((resolve, reject) => {
    const listen = (data: Buffer) => {
      said += String(data);
      if (said.includes('Mesura is at')) resolve(said);
    };
    child.stdout!.on('data', listen);
    child.stderr!.on('data', listen);
    child.on('exit', () => reject(new Error(said)));
  });
  return { child, ready, ended };
}

const state = () => JSON.parse(readFileSync(join(dir, 'run.json'), 'utf8')) as { start: number; app: number };
const projects = async () =>
  (
    (await (await fetch(`http://127.0.0.1:${port}/api/projects`)).json()) as {
      projects: { id: string; name: string }[];
    }
  ).projects;
const create = (name: string) =>
  fetch(`http://127.0.0.1:${port}/api/projects`, { method: 'POST', body: JSON.stringify({ name }) });

test('starts from an empty folder with the demo, keeps data, survives kill -9 of everything, stops cleanly', async () => {
  test.setTimeout(300_000);
  const first = start();
  expect(await first.ready).toContain(`http://127.0.0.1:${port}`);
  expect((await projects()).map((project) => project.name)).toEqual(['Sorrel Island']);
  expect((await create('Kept')).ok).toBe(true);

  // A second start beside it says where the first one is.
  const beside = spawnSync(process.execPath, [script], { env: environment(), encoding: 'utf8' });
  expect(beside.status).toBe(1);
  expect(beside.stderr).toContain(`Mesura is running already at http://127.0.0.1:${port}`);

  // Everything is killed at once: the next start recovers, with what was stored.
  const database = Number(readFileSync(join(dir, 'mariadb/m.pid'), 'utf8'));
  for (const pid of [state().start, state().app, database]) process.kill(pid, 'SIGKILL');
  await first.ended;
  const second = start();
  await second.ready;
  expect((await projects()).map((project) => project.name).sort()).toEqual(['Kept', 'Sorrel Island']);

  // Only the starter is killed: the next start takes over what it left behind.
  process.kill(state().start, 'SIGKILL');
  await second.ended;
  const third = start();
  await third.ready;
  expect(await projects()).toHaveLength(2);

  third.child.kill('SIGINT');
  expect(await third.ended).toBe(0);
  await expect(projects()).rejects.toThrow();
  expect(() => process.kill(Number(readFileSync(join(dir, 'mariadb/m.pid'), 'utf8')), 0)).toThrow();
});

test('says plainly when the port is taken, or is none', async () => {
  const server = createServer();
  await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve));
  const taken = spawnSync(process.execPath, [script], { env: environment(), encoding: 'utf8' });
  expect([taken.status, taken.stderr]).toEqual([
    1,
    expect.stringContaining(`Port ${port} is taken by another program`),
  ]);
  await new Promise((resolve) => server.close(resolve));
  const none = spawnSync(process.execPath, [script], { env: environment({ PORT: 'eighty' }), encoding: 'utf8' });
  expect([none.status, none.stderr]).toEqual([1, expect.stringContaining('PORT must be a number')]);
});
