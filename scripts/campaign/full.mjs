/** A disk that fills up while people edit: plain refusals, nothing acknowledged lost, and all is well again when there is room. Needs the right to mount a small disk. */
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, statfsSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { demo, Instance, sleep } from './instance.mjs';

export async function fullDisk({ say }) {
  const place = mkdtempSync(join(tmpdir(), 'mesura-full-'));
  spawnSync('chmod', ['755', place]);
  const disk = join(place, 'disk');
  mkdirSync(disk);
  const mounted = spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=900m,mode=755', 'tmpfs', disk]).status === 0;
  const figures = {
    mounted: mounted ? 1 : 0,
    acknowledged: 0,
    lost: 0,
    statuses: {},
    answersOf500: 0,
    startFailures: 0,
    worksAgain: 0,
  };
  if (!mounted) return figures;
  const instance = await Instance.create({ dir: disk });
  try {
    const { ok, said } = await instance.start();
    if (!ok) {
      say(said.trim().slice(-300));
      return { ...figures, startFailures: 1 };
    }
    const { id } = JSON.parse((await instance.request('POST', '/api/projects/import', { body: demo() })).text);
    const elements = JSON.parse(demo()).elements.filter((element) => 'note' in element);
    const freeMb = () => {
      const { bavail, bsize } = statfsSync(disk);
      return Math.floor((bavail * bsize) / 1e6);
    };
    execFileSync(
      'dd',
      ['if=/dev/zero', `of=${join(disk, 'ballast')}`, 'bs=1000000', `count=${Math.max(1, freeMb() - 10)}`],
      { stdio: 'ignore' },
    );
    const acknowledged = [];
    let base = 1;
    let refusedInARow = 0;
    for (let k = 0; k < 400 && refusedInARow < 6; k++) {
      const batchId = `full-disk-${k}-${Date.now().toString(36)}`;
      const changes = elements.map((element) => ({
        op: 'update',
        element: { ...element, note: `${batchId} ${'x'.repeat(1500)}` },
      }));
      const answer = await instance.json(
        'POST',
        `/api/projects/${id}/changes`,
        { batchId, baseRevision: base, label: 'f', origin: 'edit', changes },
        { timeout: 15_000 },
      );
      figures.statuses[answer.status || answer.error] = (figures.statuses[answer.status || answer.error] ?? 0) + 1;
      if (answer.status === 500) figures.answersOf500++;
      if (answer.status === 200) {
        base = JSON.parse(answer.text).revision;
        acknowledged.push({ batchId, revision: base });
        refusedInARow = 0;
      } else refusedInARow++;
    }
    const { status } = await instance.request('GET', '/api/health', { timeout: 10_000 });
    figures.healthWhenFull = status;
    say(`disk full (${freeMb()} MB left): ${JSON.stringify(figures.statuses)}, health ${status}`);
    await instance.killAll();
    rmSync(join(disk, 'ballast'));
    const again = await instance.start();
    if (!again.ok) {
      figures.startFailures++;
      say(again.said.trim().slice(-300));
      return figures;
    }
    await sleep(300);
    const database = await instance.database();
    for (const each of acknowledged) {
      const [rows] = await database.query('SELECT batch_id FROM changes WHERE project_id = ? AND revision = ?', [
        id,
        each.revision,
      ]);
      if (rows[0]?.batch_id !== each.batchId) figures.lost++;
    }
    const [[{ revision }]] = await database.query('SELECT revision FROM projects WHERE id = ?', [id]);
    await database.end();
    const after = await instance.json('POST', `/api/projects/${id}/changes`, {
      batchId: 'after-the-full-disk',
      baseRevision: Number(revision),
      label: 'f',
      origin: 'edit',
      changes: [{ op: 'update', element: elements[0] }],
    });
    figures.worksAgain = after.status === 200 ? 1 : 0;
    figures.acknowledged = acknowledged.length;
    return figures;
  } finally {
    await instance.killAll();
    for (let k = 0; k < 50 && spawnSync('umount', [disk]).status !== 0; k++) await sleep(100);
    rmSync(place, { recursive: true, force: true });
  }
}
