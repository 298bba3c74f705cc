/** A large project with a long history of large steps: opening costs what the model costs, an edit stays quick, and health answers throughout. */
import { Instance, sleep } from './instance.mjs';
import { meshFile } from '../lib/mesh.mjs';
import { readFileSync } from 'node:fs';

const median = (list) => [...list].sort((p, q) => p - q)[Math.floor(list.length / 2)];

/** `buses`: about four elements each; `moves`: steps that each move `moved` symbols. */
export async function large({ buses, moves, moved, say }) {
  const instance = await Instance.create();
  const figures = { elements: 0, steps: 0, movedEach: moved, startFailures: 0, refused: 0 };
  let watching = true;
  const pauses = [];
  const blocked = [];
  try {
    const { ok } = await instance.start();
    if (!ok) return { ...figures, startFailures: 1 };
    const { text } = await instance.request('POST', '/api/projects/import', {
      body: readFileSync(meshFile(buses, instance.parent)),
    });
    const { id } = JSON.parse(text);
    const opened = JSON.parse((await instance.request('GET', `/api/projects/${id}`)).text);
    figures.elements = opened.elements.length;
    const symbols = opened.elements.filter((element) => 'x' in element).slice(0, moved);
    const watcher = (async () => {
      while (watching) {
        const { ms, text } = await instance.request('GET', '/api/health', { fresh: true });
        pauses.push(ms);
        if (text.startsWith('{"ok"')) blocked.push(JSON.parse(text).longestPauseMs);
        await sleep(20);
      }
    })();
    let base = 1;
    const store = async (label, changes) => {
      const batch = {
        batchId: `large-${Date.now().toString(36)}-${base}`,
        baseRevision: base,
        label,
        origin: 'edit',
        changes,
      };
      const answer = await instance.json('POST', `/api/projects/${id}/changes`, batch);
      if (answer.status !== 200) {
        figures.refused++;
        say(`${answer.status} ${answer.error ?? ''} ${answer.text.slice(0, 200)}`);
      } else base = JSON.parse(answer.text).revision;
      return answer.ms;
    };
    for (let k = 0; k < moves; k++) {
      await store(
        'move',
        symbols.map((element) => ({ op: 'update', element: { ...element, x: (element.x + 10 * (k + 1)) % 9e4 } })),
      );
      figures.steps++;
      if (k % 20 === 19) say(`${k + 1} steps that move ${symbols.length} symbols`);
    }
    const edits = [];
    for (let k = 0; k < 25; k++)
      edits.push(await store('edit', [{ op: 'update', element: { ...symbols[0], note: `n${k}`, x: 10 * k } }]));
    const opens = [];
    let bytes = 0;
    for (let k = 0; k < 5; k++) {
      const answer = await instance.request('GET', `/api/projects/${id}`);
      opens.push(answer.ms);
      bytes = answer.text.length;
    }
    const page = await instance.request('GET', `/p/${id}`);
    const hostile = instance.request('POST', '/api/projects/import', {
      body: Buffer.concat([Buffer.from('['), Buffer.alloc(38e6, '1,'), Buffer.from('1]')]),
    });
    const during = [];
    let open = true;
    void hostile.then(() => (open = false));
    while (open) {
      during.push((await instance.request('GET', '/api/health', { fresh: true })).ms);
      await sleep(20);
    }
    figures.hostile39MB = (await hostile).status;
    watching = false;
    await watcher;
    const database = await instance.database();
    const [[{ size }]] = await database.query(
      'SELECT SUM(LENGTH(forward) + LENGTH(inverse)) AS size FROM changes WHERE project_id = ?',
      [id],
    );
    await database.end();
    return {
      ...figures,
      editMedianMs: Math.round(median(edits)),
      openMedianMs: Math.round(median(opens)),
      openMB: Math.round(bytes / 1e5) / 10,
      pageKB: Math.round(page.text.length / 1e3),
      logMB: Math.round(Number(size) / 1e5) / 10,
      longestHealthMs: Math.round(Math.max(...pauses)),
      longestPauseOfServerMs: Math.max(...blocked),
      longestHealthDuringHostileMs: Math.round(Math.max(...during, 0)),
    };
  } finally {
    watching = false;
    await instance.end();
  }
}
