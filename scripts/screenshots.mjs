/** `npm run screenshots`: each main view from the demo data at 1280x800 into docs/screenshots/, from a scratch database. */
import { mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { prepareDatabase, startApp } from './lib/app.mjs';
import { ensureBuild } from './lib/build.mjs';
import { meshFile } from './lib/mesh.mjs';
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
    prepareDatabase(database);
    ensureBuild();
    const app = await startApp({ port: await freePort(), databaseUrl: database.url, quiet: true });
    stops.push(app.stop);
    const browser = await chromium.launch({ executablePath: '/usr/bin/chromium' });
    stops.push(() => browser.close());
    mkdirSync(folder, { recursive: true });
    process.env.MESURA_MESH = meshFile(500, scratch);
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
  await page.getByRole('link', { name: 'Sorrel Island' }).click();
  await page.getByText(/^current · /).waitFor();
  await page.locator('.react-flow__node[aria-label="BRA T1"]').click();
  await shot('network');
  await stage('Tables');
  await page.getByRole('combobox', { name: 'Kind of element' }).click();
  await page.getByRole('option', { name: /^Line or cable/ }).click();
  await page.getByRole('gridcell').nth(2).click();
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Shift+ArrowDown');
  await shot('tables');
  await stage('Equipment');
  await page.locator('.react-flow__node[aria-label="BRA Q21"]').click();
  await page.getByRole('textbox', { name: 'Search the types' }).fill('breaker 630');
  await page.getByRole('row', { name: /^Breaker 7.2 kV, 630 A, 16 kA/ }).click();
  await page.getByText('Next standard size').first().waitFor();
  await shot('equipment');
  await stage('Conditions');
  await page.getByRole('row', { name: /^Night, coupler open/ }).click();
  await shot('conditions');
  await page.getByRole('combobox', { name: 'Condition' }).click();
  await page.getByRole('option', { name: 'Maximum sources' }).click();
  await stage('Load');
  await page.getByRole('row', { name: /^FER-PEN/ }).click();
  await page.getByRole('heading', { name: 'Load flow' }).scrollIntoViewIfNeeded();
  await shot('load');
  await page.getByRole('combobox', { name: 'Condition' }).click();
  await page.getByRole('option', { name: 'Night, coupler open' }).click();
  await stage('Faults');
  await page.getByRole('button', { name: 'Compare' }).click();
  await page.getByRole('row', { name: /^BRA 11 A / }).click();
  await page.getByRole('table', { name: 'Causes of the difference' }).waitFor();
  await shot('compare');
  await page.getByRole('button', { name: 'Compare' }).click();
  await stage('Findings');
  await page
    .getByRole('row', { name: /phase faults/ })
    .first()
    .click();
  await page.getByText('IEC 60255-151, Annex A').waitFor();
  await shot('findings');
  await page.getByRole('combobox', { name: 'Condition' }).click();
  await page.getByRole('option', { name: 'Maximum sources' }).click();
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
  await page.getByRole('button', { name: 'Options' }).click();
  await page.getByRole('tab', { name: 'Along the line' }).click();
  await page.getByRole('slider', { name: /along CAU-FER 1/ }).scrollIntoViewIfNeeded();
  await shot('faults-line');
  await page.getByText('3-phase', { exact: true }).click();
  await page.getByRole('row', { name: /^BRA 11 A / }).click();
  await page.getByRole('tab', { name: 'Over time' }).click();
  await page.getByRole('table', { name: 'Peak and contact parting' }).scrollIntoViewIfNeeded();
  await shot('over-time');
  await page.getByRole('tab', { name: 'Faults here' }).click();
  await stage('Ratings');
  await page.getByText('Breaking', { exact: true }).click();
  await page.getByRole('row', { name: /^not met BRA F51/ }).click();
  await page.getByText('reserve =').first().waitFor();
  await shot('ratings');
  await stage('Settings');
  await page.getByRole('radiogroup', { name: 'View' }).getByText('Proposal', { exact: true }).click();
  await page.getByRole('button', { name: 'Propose', exact: true }).click();
  await page.getByRole('row', { name: /BRA Q11 relay 51 Time multiplier/ }).click();
  await shot('settings');
  await stage('Grading');
  await page.getByRole('slider').first().waitFor();
  await shot('grading');
  await stage('Sheets');
  await page.getByRole('table', { name: 'Settings' }).waitFor();
  await shot('sheets');
  await stage('Network');
  await page.getByRole('button', { name: 'History: changes and versions' }).click();
  await page.getByRole('textbox', { name: /Name of the present state/ }).fill('sent to the network operator');
  await page.getByRole('button', { name: 'Name version' }).click();
  await page.keyboard.press('Escape');
  const uk = page.getByRole('textbox', { name: 'Short-circuit voltage uk in %' });
  await page.locator('.react-flow__node[aria-label="BRA T1"]').click();
  await uk.fill('8.8');
  await uk.press('Enter');
  await page.locator('.react-flow__node[aria-label="BRA TL1"]').click();
  await uk.fill('6');
  await uk.press('Enter');
  await page.getByRole('button', { name: 'History: changes and versions' }).click();
  await page.getByRole('combobox', { name: 'Compare' }).click();
  await page.getByRole('option', { name: /sent to/ }).click();
  await page.getByRole('table', { name: 'Differences' }).waitFor();
  await shot('history');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await page.getByRole('button', { name: 'Dark' }).click();
  await stage('Grading');
  await page.getByRole('button', { name: /findings$/ }).click();
  await shot('grading-dark-findings');
  await page.getByRole('button', { name: 'Light' }).click();
  await drawing(page, url, shot);
}

/** A plant drawn by keys on a blank project, and a page laid out automatically. */
async function drawing(page, url, shot) {
  const open = async (answer) => {
    const { id } = await answer.json();
    await page.goto(`${url}/p/${id}?stage=network`);
    await page.getByText(/^current · /).waitFor();
    return await page.getByRole('region', { name: 'One-line diagram' }).boundingBox();
  };
  const box = await open(await page.request.post(`${url}/api/projects`, { data: { name: 'Brackwater extension' } }));
  const press = async (keys) => {
    for (const key of keys) await page.keyboard.press(key);
  };
  const symbol = (name) => page.locator(`.react-flow__node[aria-label="${name}"]`);
  const fit = async () => {
    await page.keyboard.press('0');
    await page.waitForTimeout(300);
  };
  const divide = async (at) => {
    const divider = await page.getByRole('separator').first().boundingBox();
    await page.mouse.move(divider.x + divider.width / 2, divider.y + 300);
    await page.mouse.down();
    await page.mouse.move(at, divider.y + 300, { steps: 5 });
    await page.mouse.up();
    await fit();
  };
  await page.getByRole('button', { name: 'Templates' }).click();
  await page.getByRole('menuitem', { name: /Board of two sections/ }).click();
  await page.mouse.click(box.x + 60, box.y + 220);
  await page.keyboard.press('Escape');
  await fit();
  await symbol('Q1').click();
  await symbol('CT1').click();
  await press(['Enter', 'l', 't', 'b', 'k']);
  await press(['Enter']);
  await divide(850);
  // The second section gets a motor, a transformer and a measuring panel; the first one motor, before the coupler.
  for (const [bus, type] of [
    ['Bus 2', 'Motor'],
    ['Bus 2', 'Transformer'],
    ['Bus 2', 'Measuring'],
    ['Bus 1', 'Motor'],
  ]) {
    await symbol(bus).click();
    await page.getByRole('button', { name: 'Add a panel' }).click();
    await page.getByRole('menuitem', { name: type }).click();
    await page.waitForTimeout(200);
    await fit();
  }
  await symbol('T1').click();
  await shot('board');
  const text = readFileSync(process.env.MESURA_MESH, 'utf8');
  await open(
    await page.request.post(`${url}/api/projects/import`, {
      data: text,
      headers: { 'content-type': 'application/json' },
    }),
  );
  await page.keyboard.press('Control+k');
  await page.keyboard.type('Arrange the page');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Undo: Arrange the page (Ctrl+Z)' }).waitFor({ timeout: 60000 });
  await divide(1240);
  await shot('layout');
}
