/**
 * `node scripts/bench/drawing.mjs`: projects of 500 and 2,000 buses opened in Chromium. Load time, frames per second while panning,
 * zooming and dragging, memory. Prints JSON lines; `--url` measures an application that runs already.
 */
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { prepareDatabase, startApp } from '../lib/app.mjs';
import { ensureBuild } from '../lib/build.mjs';
import { meshFile } from '../lib/mesh.mjs';
import { startMariadb } from '../lib/mariadb.mjs';
import { freePort } from '../lib/ports.mjs';
import { ensureDebianPackages, guarded } from '../lib/system.mjs';

const sizes = [500, 2000];
const view = { width: 1280, height: 800 };
/** Counts frames between two moments, and the longest pause between two of them. */
const counter = () => {
  const times = [];
  let going = true;
  const beat = (at) => {
    times.push(at);
    if (going) requestAnimationFrame(beat);
  };
  requestAnimationFrame(beat);
  globalThis.stopCounting = () => {
    going = false;
    const gaps = times.slice(1).map((at, k) => at - times[k]);
    gaps.sort((p, q) => p - q);
    const span = times[times.length - 1] - times[0];
    return {
      fps: Math.round((gaps.length / span) * 10000) / 10,
      p95: Math.round(gaps[Math.floor(gaps.length * 0.95)] * 10) / 10,
      longest: Math.round(gaps[gaps.length - 1] * 10) / 10,
    };
  };
};

async function frames(page, act) {
  await page.evaluate(counter);
  await act();
  return page.evaluate(() => globalThis.stopCounting());
}

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

const report = (row) => console.log(JSON.stringify(row));

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
guarded(async () => {
  ensureDebianPackages({ mariadbd: 'mariadb-server', 'mariadb-install-db': 'mariadb-server', chromium: 'chromium' });
  const stops = [() => rmSync(scratchDir, { recursive: true, force: true })];
  try {
    let url = process.argv[process.argv.indexOf('--url') + 1];
    if (!process.argv.includes('--url')) {
      const database = await startMariadb(join(scratchDir, 'db'));
      stops.push(database.stop);
      prepareDatabase(database, { demo: false });
      ensureBuild();
      const app = await startApp({ port: await freePort(), databaseUrl: database.url, quiet: true });
      stops.push(app.stop);
      url = app.url;
    }
    const browser = await chromium.launch({ executablePath: '/usr/bin/chromium' });
    stops.push(() => browser.close());
    for (const buses of sizes) await measure(browser, url, buses);
  } finally {
    for (const stop of stops.reverse()) await stop();
  }
});
