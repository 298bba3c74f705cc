/** `npm run screenshots`: each main view from the demo data at 1280x800 into docs/screenshots/, from a scratch database. */
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { prepareDatabase, startApp } from './lib/app.mjs';
import { ensureBuild } from './lib/build.mjs';
import { startMariadb } from './lib/mariadb.mjs';
import { freePort } from './lib/ports.mjs';
import { ensureDebianPackages, guarded, root } from './lib/system.mjs';

const folder = join(root, 'docs/screenshots');

guarded(async () => {
  ensureDebianPackages({ mariadbd: 'mariadb-server', 'mariadb-install-db': 'mariadb-server', chromium: 'chromium' });
  const scratch = mkdtempSync(join(tmpdir(), 'mesura-shots-'));
  const stops = [() => rmSync(scratch, { recursive: true, force: true })];
  try {
    const database = await startMariadb(join(scratch, 'db'));
    stops.push(database.stop);
    prepareDatabase(database.url);
    ensureBuild();
    const app = await startApp({ port: await freePort(), databaseUrl: database.url, quiet: true });
    stops.push(app.stop);
    const browser = await chromium.launch({ executablePath: '/usr/bin/chromium' });
    stops.push(() => browser.close());
    mkdirSync(folder, { recursive: true });
    await walk(await browser.newPage({ viewport: { width: 1280, height: 800 } }), app.url);
  } finally {
    for (const stop of stops.reverse()) await stop();
  }
});

async function walk(page, url) {
  const shot = async (name) => {
    await page.mouse.move(640, 795);
    await page.waitForTimeout(500);
    await page.screenshot({ path: join(folder, `${name}.png`) });
    console.log(`docs/screenshots/${name}.png`);
  };
  const stage = (name) => page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name }).click();
  await page.goto(url);
  await page.getByRole('link', { name: 'Sorrel Island' }).waitFor();
  await shot('home');
  await page.getByRole('link', { name: 'Sorrel Island' }).click();
  await page.getByText(/^current · /).waitFor();
  await page.locator('.react-flow__node[aria-label="BRA T1"]').click();
  await shot('network');
  await stage('Faults');
  await page.getByRole('row', { name: /^BRA 11 A / }).click();
  await page.getByText('BRA G1').first().waitFor();
  await shot('faults');
  await page.getByRole('tab', { name: 'Working' }).click();
  await page.getByText('Initial short-circuit current').scrollIntoViewIfNeeded();
  await shot('working');
  await page.getByText('1-phase', { exact: true }).click();
  await page.getByRole('button', { name: 'Options' }).click();
  await page.getByRole('combobox', { name: 'On a line' }).click();
  await page.getByRole('option', { name: 'CAU-FER 1' }).click();
  await page.getByRole('tab', { name: 'Faults here' }).click();
  await page.getByText('CAU-FER 1 from CAU 132').waitFor();
  await shot('faults-line');
  await page.getByRole('button', { name: 'Options' }).click();
  await page.getByRole('combobox', { name: 'Method' }).click();
  await page.getByRole('option', { name: 'on the load flow' }).click();
  await page.getByRole('tab', { name: 'Voltages' }).click();
  await page.getByText('Voltages to earth during the fault').waitFor();
  await shot('faults-voltages');
  await page.getByRole('combobox', { name: 'Method' }).click();
  await page.getByRole('option', { name: 'IEC 60909-0' }).click();
  await page.getByText('3-phase', { exact: true }).click();
  await stage('Grading');
  await page.getByRole('slider').first().waitFor();
  await shot('grading');
  await page.getByRole('slider', { name: /51 multiplier/ }).focus();
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('ArrowUp');
  await shot('grading-edited');
  await page.getByRole('button', { name: 'Discard' }).click();
  await stage('Sheets');
  await page.getByRole('table', { name: 'Settings' }).waitFor();
  await shot('sheets');
  await page.getByRole('button', { name: 'Dark' }).click();
  await stage('Grading');
  await page.getByRole('button', { name: /findings$/ }).click();
  await shot('grading-dark-findings');
}
