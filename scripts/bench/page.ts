/** Runs in the page: asks the worker as the desk does, and leaves the figures where the runner finds them. */
import { proxy, wrap } from 'comlink';
import { solidFault } from '@mesura/core/faults/kinds';
import { rowsOf } from '@mesura/core/faults/answers/packed';
import { maximumSources } from '@mesura/core/model/condition';
import type { Element } from '@mesura/core/model/element';
import { mesh, meshElements } from '../../core/src/test/meshNetwork';
import type { CoreService } from '../../web/workers/coreService';

declare global {
  var figures: unknown[] | undefined;
  var failure: string | undefined;
}

async function run(): Promise<void> {
  const service = wrap<CoreService>(new Worker('/worker.js', { type: 'module' }));
  const figures: unknown[] = [];
  for (const [n, reach] of [
    [500, 40],
    [10_000, undefined],
  ] as const) {
    const elements = meshElements(mesh(n));
    await service.load(elements);
    const lines = elements.filter((element) => element.kind === 'line');
    const times: number[] = [];
    let longest = 0;
    let before = NaN;
    const runs = n === 500 ? 60 : 15;
    for (let k = 0; k < runs + 10; k++) {
      const line = lines[(7 * k) % lines.length];
      const changed: Element = { ...line, lengthKm: line.lengthKm * (1 + 0.1 * (1 + (k % 5))) };
      const started = performance.now();
      // How long the page itself cannot answer meanwhile.
      let last = started;
      const beat = setInterval(() => {
        longest = Math.max(longest, performance.now() - last);
        last = performance.now();
      }, 0);
      await service.change([changed], []);
      const answer = await service.faults(
        { method: 'iec60909', condition: maximumSources.id },
        solidFault(k % 2 === 0 ? '3ph' : '1ph'),
        [],
        k,
        proxy(() => {}),
      );
      const rows = rowsOf(answer.rows);
      const took = performance.now() - started;
      clearInterval(beat);
      if (k >= 10) times.push(took);
      const here = rows.reduce((sum, row) => sum + row.result!.ikA, 0);
      if (here === before) throw new Error('the change made no difference');
      before = here;
    }
    times.sort((p, q) => p - q);
    figures.push({
      group: `browser, ${n} buses`,
      what: 'one element changed until all buses are back in the page',
      unit: 'ms',
      median: Number(times[times.length >> 1].toPrecision(4)),
      range: [times[0], times[times.length - 1]].map((each) => Number(each.toPrecision(4))),
      runs,
      ...(reach && { reach }),
    });
    figures.push({
      group: `browser, ${n} buses`,
      what: 'longest time the page was not free meanwhile',
      unit: 'ms',
      median: Number(longest.toPrecision(4)),
      runs,
    });
  }
  globalThis.figures = figures;
}

run().catch((error: Error) => {
  globalThis.failure = error.stack ?? error.message;
});
