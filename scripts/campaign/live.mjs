/** News across processes: two applications on one database, pages at both, one of them killed and started again. How late each change is heard of, and whether any page stays behind. */
import { readFileSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import { startApp } from '../lib/app.mjs';
import { freePort } from '../lib/ports.mjs';
import { demo, Instance, seeded } from './instance.mjs';

const databaseOf = (pid) =>
  readFileSync(`/proc/${pid}/environ`, 'utf8')
    .split('\0')
    .find((each) => each.startsWith('MESURA_DATABASE_URL='))
    .slice('MESURA_DATABASE_URL='.length);

/** A page that hears, and comes back when its stream breaks off; `at`: when each revision was heard of. */
class Page {
  at = new Map();
  last = 0;
  left = false;

  constructor(address, client) {
    this.gone = new AbortController();
    this.hearing = this.hear(address, client);
  }

  async hear(address, client) {
    while (!this.left) {
      try {
        const { body } = await fetch(`${address()}?client=${client}`, { signal: this.gone.signal });
        const decoder = new TextDecoder();
        let text = '';
        for await (const part of body) {
          text += decoder.decode(part, { stream: true });
          const blocks = text.split('\n\n');
          text = blocks.pop();
          for (const block of blocks) {
            const revision = Number(/^event: revision\n(?:.*\n)*data: (\d+)$/m.exec(block)?.[1] ?? NaN);
            if (!Number.isFinite(revision)) continue;
            for (let k = this.last + 1; k <= revision; k++) this.at.set(k, performance.now());
            this.last = Math.max(this.last, revision);
          }
        }
      } catch {
        // Killed, or not there yet.
      }
      await sleep(200);
    }
  }

  leave() {
    this.left = true;
    this.gone.abort();
    return this.hearing;
  }
}

export async function live({ count, pages, seed = 17, say }) {
  const random = seeded(seed);
  const figures = { startFailures: 0, changes: 0, pages: 2 * pages, behind: 0, medianMs: 0, slowestMs: 0, kills: 0 };
  const instance = await Instance.create();
  let second = null;
  const open = [];
  try {
    if (!(await instance.start()).ok) return { ...figures, startFailures: 1 };
    const port = await freePort();
    const beside = () => startApp({ port, databaseUrl: databaseOf(instance.pids().application), quiet: true });
    second = await beside();
    const { id } = JSON.parse((await instance.request('POST', '/api/projects/import', { body: demo() })).text);
    const at = (where) => () => `http://127.0.0.1:${where}/api/projects/${id}/live`;
    for (let k = 0; k < pages; k++)
      open.push(new Page(at(instance.port), `first-${k}`), new Page(at(port), `second-${k}`));
    while (open.some(({ last }) => last === 0)) await sleep(20);

    const late = [];
    let revision = open[0].last;
    const note = (k) => ({ kind: 'textNote', id: 'note-live', x: k, y: 0, text: `note ${k}`, size: 'normal' });
    for (let k = 0; k < count; k++) {
      const killed = k === Math.floor(count / 2);
      if (killed) {
        process.kill(second.pid, 'SIGKILL');
        figures.kills++;
      }
      const since = performance.now();
      const { status, text } = await instance.json('POST', `/api/projects/${id}/changes`, {
        batchId: `live-${seed}-${String(k).padStart(6, '0')}`,
        baseRevision: revision,
        label: 'live',
        origin: 'edit',
        clients: ['writer'],
        changes: [{ op: k === 0 ? 'add' : 'update', element: note(k) }],
      });
      if (status !== 200) throw new Error(`a change was answered with ${status}`);
      ({ revision } = JSON.parse(text));
      figures.changes++;
      if (killed) second = await beside();
      // Long enough that each is told by itself, also by the process that has to look.
      await sleep(400 + 300 * random());
      if (killed) await sleep(2000);
      else for (const page of open) if (page.at.has(revision)) late.push(page.at.get(revision) - since);
      if (k % 50 === 49) say(`${k + 1} changes heard of by ${open.length} pages`);
    }
    await sleep(1500);
    figures.behind = open.filter(({ last }) => last !== revision).length;
    late.sort((p, q) => p - q);
    figures.medianMs = Math.round(late[late.length >> 1]);
    figures.slowestMs = Math.round(late.at(-1));
    return figures;
  } finally {
    await Promise.all(open.map((page) => page.leave()));
    await second?.stop().catch(() => undefined);
    await instance.end();
  }
}
