/**
 * `node scripts/bench/drawing.mjs`: projects of 500 and 2,000 buses opened in Chromium. Load time, frames per second while panning,
 * zooming and dragging, memory. Prints JSON lines; `--url` measures an application that runs already.
 */
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { meshFile } from '../lib/mesh.mjs';
import { guarded } from '../lib/system.mjs';
import { frames, inBrowser, report, view } from './frames.mjs';

const sizes = [500, 2000];
async function memory(page) {
  const session = await page.context().newCDPSession(page);
  await session.send('HeapProfiler.collectGarbage');
  const { usedSize } = await session.send('Runtime.getHeapUsage');
  await session.detach();
  return Math.round(usedSize / 1e5) / 10;
}

/** Where a line stands near a point: on a large page only what is under the pointer stands ready for the hand. */
async function symbolNear(page, { x, y }) {
  for (let ring = 0; ring < 40; ring++)
    for (let k = 0; k < 12; k++) {
      const at = { x: x + ring * 8 * Math.cos((k * Math.PI) / 6), y: y + ring * 6 * Math.sin((k * Math.PI) / 6) };
      await page.mouse.move(at.x, at.y);
      await page.waitForTimeout(20);
      const symbol = page.locator('.react-flow__node[aria-label^="L"], .react-flow__node[aria-label^="R"]');
      const box = (await symbol.count()) > 0 ? await symbol.first().boundingBox() : null;
      if (box && Math.hypot(box.x + box.width / 2 - at.x, box.y + box.height / 2 - at.y) < 60)
        return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
    }
  throw new Error('no line near the middle');
}

async function measure(browser, url, buses) {
  const file = meshFile(buses, scratchDir);
  const context = await browser.newContext({ viewport: view });
  const page = await context.newPage();
  const answer = await context.request.post(`${url}/api/projects/import`, {
    data: readFileSync(file, 'utf8'),
    headers: { 'content-type': 'application/json' },
  });
  const { id } = await answer.json();
  const group = `drawing, ${buses} buses`;
  for (const stage of ['network', 'faults']) {
    const started = performance.now();
    await page.goto(`${url}/p/${id}?stage=${stage}`);
    const drawing = page.getByRole('region', { name: 'One-line diagram' });
    await drawing.locator('.react-flow__node, canvas[data-painted]').first().waitFor({ timeout: 120_000 });
    const drawn = performance.now() - started;
    await page
      .getByRole('status', { name: 'Calculation state' })
      .getByText(/^current/)
      .waitFor({ timeout: 120_000 });
    report({
      group,
      what: `opened, stage ${stage}`,
      drawnMs: Math.round(drawn),
      currentMs: Math.round(performance.now() - started),
    });
  }
  await page.goto(`${url}/p/${id}?stage=network`);
  await page
    .getByRole('status', { name: 'Calculation state' })
    .getByText(/^current/)
    .waitFor({ timeout: 120_000 });
  report({ group, what: 'memory of the page', mb: await memory(page) });
  // The drawing as wide as it gets.
  const divider = await page.getByRole('separator').first().boundingBox();
  await page.mouse.move(divider.x + divider.width / 2, divider.y + 200);
  await page.mouse.down();
  await page.mouse.move(view.width - 30, divider.y + 200, { steps: 5 });
  await page.mouse.up();
  const box = await page.getByRole('region', { name: 'One-line diagram' }).boundingBox();
  const middle = { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  const visible = () =>
    page.evaluate(() => {
      const shown = document.querySelector('[data-visible]');
      return shown ? Number(shown.getAttribute('data-visible')) : document.querySelectorAll('.react-flow__node').length;
    });
  const pan = async () => {
    await page.mouse.move(middle.x, middle.y + 6);
    await page.mouse.down();
    for (let k = 0; k < 120; k++)
      await page.mouse.move(middle.x + 200 * Math.sin(k / 12), middle.y + 6 + 150 * Math.cos(k / 12));
    await page.mouse.up();
  };
  const zoom = async (steps, delta) => {
    await page.mouse.move(middle.x, middle.y);
    for (let k = 0; k < steps; k++) await page.mouse.wheel(0, delta);
  };
  // About 500 elements in view, then the whole, then near.
  await page.keyboard.press('0');
  await page.waitForTimeout(800);
  report({ group, what: 'panning, the whole in view', visible: await visible(), ...(await frames(page, pan)) });
  report({ group, what: 'zooming in from the whole', ...(await frames(page, () => zoom(60, -60))) });
  report({ group, what: 'zooming out to the whole', ...(await frames(page, () => zoom(60, 60))) });
  await page.keyboard.press('0');
  await page.waitForTimeout(500);
  for (let k = 0; k < 60 && (await visible()) > 520; k++) {
    await zoom(1, -40);
    await page.waitForTimeout(250);
  }
  await page.waitForTimeout(500);
  report({ group, what: 'panning, about 500 in view', visible: await visible(), ...(await frames(page, pan)) });
  report({
    group,
    what: 'zooming in and out, about 500 in view',
    visible: await visible(),
    ...(await frames(page, async () => {
      await zoom(20, -40);
      await zoom(20, 40);
    })),
  });
  const from = await symbolNear(page, middle);
  const drag = async () => {
    await page.mouse.move(from.x, from.y);
    await page.mouse.down();
    for (let s = 0; s < 100; s++) await page.mouse.move(from.x + s, from.y + 40 * Math.sin(s / 10));
    await page.mouse.up();
  };
  report({ group, what: 'dragging one symbol, about 500 in view', ...(await frames(page, drag)) });
  report({ group, what: 'memory of the page afterwards', mb: await memory(page) });
  await context.close();
}

const scratchDir = mkdtempSync(join(tmpdir(), 'mesura-drawing-'));
guarded(() =>
  inBrowser(scratchDir, async (browser, url) => {
    for (const buses of sizes) await measure(browser, url, buses);
  }),
);
