/** The very first start, killed at a random moment with everything that it began; the next one must serve, with the demo project in it. */
import { rmSync } from 'node:fs';
import { Instance, seeded, sleep } from './instance.mjs';

export async function firstStarts({ count, seed = 7, say }) {
  const random = seeded(seed);
  const figures = { killed: 0, startFailures: 0, withoutDemo: 0, longestSecondStartMs: 0 };
  const instance = await Instance.create();
  try {
    for (let k = 0; k < count; k++) {
      rmSync(instance.dir, { recursive: true, force: true });
      const starting = instance.start();
      await sleep(100 + 5500 * random());
      await instance.killAll();
      await starting;
      figures.killed++;
      const again = await instance.start();
      figures.longestSecondStartMs = Math.max(figures.longestSecondStartMs, Math.round(again.ms));
      if (!again.ok) {
        figures.startFailures++;
        say(`second start failed: ${again.said.trim().slice(-300)}`);
      } else {
        const { projects } = JSON.parse((await instance.request('GET', '/api/projects')).text);
        if (projects.length !== 1) figures.withoutDemo++;
      }
      await instance.killAll();
      if (k % 5 === 4) say(`${k + 1} first starts killed: ${figures.startFailures} never started again`);
    }
    return figures;
  } finally {
    await instance.end();
  }
}
