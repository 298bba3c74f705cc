/** Small proofs about the instance on the machine: who gets into the database, a starter killed while the application starts, a backup made while people write. */
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { root } from '../lib/system.mjs';
import { demo, Instance, seeded, sleep } from './instance.mjs';
import { Writers } from './writers.mjs';

/** Another user of the machine: reads no file of the folder, and comes into the database neither by socket nor by network. */
export async function otherUsers({ say }) {
  const instance = await Instance.create();
  const figures = { startFailures: 0, ways: 0, open: 0 };
  try {
    if (!(await instance.start()).ok) return { ...figures, startFailures: 1 };
    const dir = join(instance.dir, 'mariadb');
    const { database } = instance.pids();
    const asNobody = (...command) =>
      spawnSync('setpriv', ['--reuid=65534', '--regid=65534', '--clear-groups', ...command], {
        encoding: 'utf8',
        timeout: 10_000,
      });
    const ways = [
      ['cat', join(dir, 'state.json')],
      ['cat', join(dir, 'init.sql')],
      ['cat', join(dir, 'm.err')],
      ['ls', dir],
      ['ls', join(dir, 'data')],
      ['ls', instance.dir],
      ['cat', join(instance.dir, 'run.json')],
      ['ls', join(instance.dir, 'logs')],
      ['cat', `/proc/${database}/environ`],
      ['mariadb', '--no-defaults', '-S', join(dir, 'm.sock'), '-u', 'root', '-e', 'SELECT 1'],
      ['mariadb', '--no-defaults', '-S', join(dir, 'm.sock'), '-u', 'mesura', '-e', 'SELECT 1'],
    ];
    for (const way of ways) {
      figures.ways++;
      const { status } = asNobody(...way);
      if (status === 0) {
        figures.open++;
        say(`open to everybody: ${way.join(' ').replace(instance.dir, '…')}`);
      }
    }
    return figures;
  } finally {
    await instance.end();
  }
}

/** The starter killed at any moment while the application comes up: no orphan that holds the port, and the next start serves. */
export async function starterKilled({ count, seed = 5, say }) {
  const random = seeded(seed);
  const instance = await Instance.create();
  const figures = { killed: 0, startFailures: 0, orphans: 0 };
  try {
    if (!(await instance.start()).ok) return { ...figures, startFailures: 1 };
    await instance.stop();
    for (let k = 0; k < count; k++) {
      const starting = instance.start();
      await sleep(200 + 2300 * random());
      instance.kill(instance.pids().starter);
      figures.killed++;
      await sleep(50);
      instance.kill(instance.child.pid);
      await starting;
      const again = await instance.start();
      if (!again.ok) {
        figures.startFailures++;
        say(again.said.trim().slice(-300));
        await instance.killAll();
        continue;
      }
      const { left } = await instance.stop();
      figures.orphans += left;
    }
    return figures;
  } finally {
    await instance.end();
  }
}

/** A backup made while clients write, put into a fresh instance: what was acknowledged before it began is in it. */
export async function backupAndRestore({ say }) {
  const instance = await Instance.create();
  const second = await Instance.create();
  const figures = { startFailures: 0, acknowledgedBefore: 0, missing: 0, backups: 0, restores: 0 };
  const run = (what, file, dir) =>
    spawnSync(process.execPath, [join(root, 'scripts/backup.mjs'), what, file], {
      encoding: 'utf8',
      env: { ...process.env, MESURA_DATABASE_URL: '', MESURA_DATA_DIR: dir },
    });
  try {
    if (!(await instance.start()).ok || !(await second.start()).ok) return { ...figures, startFailures: 1 };
    const writers = new Writers(instance, seeded(3));
    await writers.prepare(1);
    const { id } = JSON.parse((await instance.request('POST', '/api/projects/import', { body: demo() })).text);
    const sign = (body, as) => instance.json('POST', `/api/projects/${id}/sheets`, { ...body, as });
    const subjects = [{ kind: 'device', id: 'bra-q32-relay' }];
    const prepared = await sign({ do: 'prepare', subjects, revision: 1, reason: 'backup' }, 'Astrid Vale');
    const sheet = JSON.parse(prepared.text).prepared[0].run;
    await sign({ do: 'step', run: sheet, step: 'checked', seq: 1 }, 'Bo Harrow');
    const issued = await sign({ do: 'step', run: sheet, step: 'approved', seq: 2 }, 'Cleo Marsh');
    writers.begin(3);
    await sleep(800);
    const before = writers.acknowledged.slice();
    const file = join(instance.parent, 'all.mesura-archive.gz');
    const made = run('backup', file, instance.dir);
    await writers.end();
    if (made.status === 0) figures.backups++;
    else say(made.stderr);
    const put = run('restore', file, second.dir);
    if (put.status === 0) figures.restores++;
    else say(put.stderr);
    say(put.stdout.trim());
    const database = await second.database();
    for (const each of before) {
      const [rows] = await database.query('SELECT 1 FROM changes WHERE project_id = ? AND batch_id = ?', [
        each.project,
        each.batchId,
      ]);
      if (rows.length !== 1) figures.missing++;
    }
    const [sheets] = await database.query('SELECT digest FROM sheets WHERE project_id = ?', [id]);
    if (issued.status !== 200 || sheets.length !== 1 || sheets[0].digest !== JSON.parse(issued.text).sheet.digest)
      figures.missing++;
    await database.end();
    figures.acknowledgedBefore = before.length;
    return figures;
  } finally {
    await instance.end();
    await second.end();
  }
}
