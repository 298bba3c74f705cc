/** What measurements in Chromium have in common: the application, a browser, frames counted while something is done. `--url` measures an application that runs already. */
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { prepareDatabase, startApp } from '../lib/app.mjs';
import { ensureBuild } from '../lib/build.mjs';
import { startMariadb } from '../lib/mariadb.mjs';
import { freePort } from '../lib/ports.mjs';
import { ensureDebianPackages } from '../lib/system.mjs';

export const view = { width: 1280, height: 800 };
export const report = (row) => console.log(JSON.stringify(row));

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

export async function frames(page, act) {
  await page.evaluate(counter);
  await act();
  return page.evaluate(() => globalThis.stopCounting());
}

/** Runs with a browser and the address of the application; `scratch` goes afterwards. */
export async function inBrowser(scratch, run) {
  ensureDebianPackages({ mariadbd: 'mariadb-server', 'mariadb-install-db': 'mariadb-server', chromium: 'chromium' });
  const stops = [() => rmSync(scratch, { recursive: true, force: true })];
  try {
    let url = process.argv[process.argv.indexOf('--url') + 1];
    if (!process.argv.includes('--url')) {
      const database = await startMariadb(join(scratch, 'db'));
      stops.push(database.stop);
      prepareDatabase(database, { demo: false });
      ensureBuild();
      const app = await startApp({ port: await freePort(), databaseUrl: database.url, quiet: true });
      stops.push(app.stop);
      url = app.url;
    }
    const browser = await chromium.launch({ executablePath: '/usr/bin/chromium' });
    stops.push(() => browser.close());
    await run(browser, url);
  } finally {
    for (const stop of stops.reverse()) await stop();
  }
}
