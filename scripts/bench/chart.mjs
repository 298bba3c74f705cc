/**
 * `node scripts/bench/chart.mjs`: frames per second while a curve is dragged on a chart of the demo with 12 devices, all pairs among them and all conditions (four). Prints
 * JSON lines; `--url` measures an application that runs already.
 */
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { guarded, root } from '../lib/system.mjs';
import { frames, inBrowser, report, view } from './frames.mjs';

const devices = [
  ...['bra-f51', 'bra-f52', 'bra-f53', 'bra-f41-relay', 'bra-q32-relay', 'bra-q33-relay'],
  ...['bra-q36-relay', 'bra-q21-relay', 'bra-q11-relay', 'fer-q31-relay', 'fer-q21-relay', 'fer-q33-relay'],
];
const pairs = [
  ...[0, 1, 2].map((k) => [k, 3]),
  ...[
    [3, 4],
    [4, 7],
    [5, 7],
    [6, 7],
    [7, 8],
    [8, 9],
    [9, 10],
    [11, 10],
  ],
];

guarded(() =>
  inBrowser(mkdtempSync(join(tmpdir(), 'mesura-chart-')), async (browser, url) => {
    const file = JSON.parse(readFileSync(join(root, 'demo/sorrel-island.json'), 'utf8'));
    const chart = file.elements.find(({ id }) => id === 'chart-phase');
    chart.relays = devices;
    chart.pairs = pairs.map(([down, up]) => ({
      downstream: devices[down],
      upstream: devices[up],
      wantedMarginS: null,
    }));
    const context = await browser.newContext({ viewport: view });
    const page = await context.newPage();
    const answer = await context.request.post(`${url}/api/projects/import`, {
      data: JSON.stringify(file),
      headers: { 'content-type': 'application/json' },
    });
    const { id } = await answer.json();
    await page.goto(`${url}/p/${id}?stage=grading`);
    for (const name of ['BRA Q21 relay 51 time multiplier', 'BRA Q32 relay 51 pickup']) {
      const device = name.split(' 51')[0];
      await page
        .getByRole('list', { name: 'Devices on the chart' })
        .getByRole('button', { name: device, exact: true })
        .click();
      const grip = page.getByRole('slider', { name });
      await grip.waitFor({ timeout: 60_000 });
      await page.evaluate(() => globalThis.scrollTo(0, 0));
      await grip.scrollIntoViewIfNeeded();
      await page.waitForTimeout(1500);
      for (let run = 0; run < 3; run++) {
        const box = await grip.boundingBox();
        const from = { x: box.x + box.width / 2, y: box.y + box.height / 2 };
        const drag = async () => {
          await page.mouse.move(from.x, from.y);
          await page.mouse.down();
          for (let k = 0; k < 120; k++)
            await page.mouse.move(from.x + 30 * Math.sin(k / 9), from.y - 45 * Math.sin(k / 12));
          await page.mouse.move(from.x, from.y);
          await page.mouse.up();
        };
        report({
          group: 'chart, 12 devices, 4 conditions',
          what: `dragging ${name}`,
          pairs: pairs.length,
          ...(await frames(page, drag)),
        });
      }
    }
    await context.close();
  }),
);
