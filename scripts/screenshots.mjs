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
    prepareDatabase(database);
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

/** Some sheets at different points of their life, so that the register shows what it is for. */
async function signed(page, url) {
  const project = /\/p\/([a-z0-9]+)/.exec(page.url())[1];
  const post = async (data) =>
    (await page.request.post(`${url}/api/projects/${project}/sheets`, { data, headers: { origin: url } })).json();
  const { revision } = await (await page.request.get(`${url}/api/projects/${project}`)).json();
  const subjects = ['bra-f41-relay', 'bra-q32-relay', 'bra-q21-relay', 'bra-q11-relay'].map((id) => ({
    kind: 'device',
    id,
  }));
  const { prepared } = await post({
    do: 'prepare',
    subjects,
    revision,
    reason: 'Second transformer at Brackwater',
    as: 'Astrid Vale',
  });
  const [f41, q32, q21] = prepared.map(({ run }) => run);
  const step = (run, what, seq, as, more = {}) => post({ do: 'step', run, step: what, seq, as, ...more });
  for (const run of [f41, q32]) {
    await step(run, 'checked', 1, 'Bo Harrow');
    await step(run, 'approved', 2, 'Cleo Marsh');
  }
  const relay = (await (await page.request.get(`${url}/api/projects/${project}`)).json()).elements.find(
    ({ id }) => id === 'bra-q21-relay',
  );
  const about = `${relay.functions[0].id}.timeMultiplier`;
  await step(q21, 'comment', 1, 'Bo Harrow', { text: 'Does it leave 0.3 s to the pump feeder?', about });
}

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
  await stage('Boards');
  await page.getByRole('row', { name: /^BRA 11 / }).click();
  await page.getByRole('button', { name: /^BRA Q33 12 kV/ }).click();
  await page.getByText(/types fit/).waitFor();
  await shot('boards');
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
  await page.getByText('1-phase', { exact: true }).click();
  await page.getByRole('button', { name: 'Options' }).click();
  await page.getByRole('combobox', { name: 'On a line' }).click();
  await page.getByRole('option', { name: 'CAU-FER 1' }).click();
  await page.getByRole('tab', { name: 'Faults here' }).click();
  await page.getByText('CAU-FER 1 from CAU 132').waitFor();
  await page.getByRole('button', { name: 'Options' }).click();
  await page.getByRole('tab', { name: 'Along the line' }).click();
  await page.getByRole('slider', { name: /along CAU-FER 1/ }).scrollIntoViewIfNeeded();
  await page.getByText('3-phase', { exact: true }).click();
  await page.getByRole('row', { name: /^BRA 11 A / }).click();
  await stage('D.c.');
  await page.getByRole('tab', { name: 'Fernhill 110 V' }).click();
  await page.getByRole('row', { name: /^FER DC 2/ }).click();
  await page.getByRole('img', { name: 'Short-circuit current over time' }).waitFor();
  await shot('direct');
  await page.getByRole('tab', { name: 'First page' }).click();
  await stage('Earth return');
  await page.getByRole('row', { name: /^FER 132/ }).click();
  await page.getByRole('combobox', { name: 'Line to the left, through the station' }).click();
  await page.getByRole('option', { name: 'FER-MAR' }).click();
  await page.getByRole('button', { name: 'Copy as a study' }).scrollIntoViewIfNeeded();
  await page.getByRole('table', { name: 'Stations of the fault' }).scrollIntoViewIfNeeded();
  await shot('earth-return');
  await stage('Circuits');
  await page.getByRole('gridcell', { name: 'Flocculation pump' }).click();
  await page.getByRole('button', { name: 'Propose', exact: true }).click();
  await page.getByText(/it may be .* long/).waitFor();
  await shot('circuits');
  await page.getByRole('tab', { name: 'First page' }).click();
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
  await stage('Reach');
  await page.getByRole('row', { name: /^FER FER-MAR 2/ }).click();
  await page.getByRole('radiogroup', { name: 'View' }).getByText('R–X plane').click();
  await page.getByRole('checkbox', { name: 'swing' }).check();
  await page.getByRole('slider', { name: 'Place of the fault along the way' }).focus();
  for (let k = 0; k < 4; k++) await page.keyboard.press('PageUp');
  await page.getByText(/, on FER-MAR: L1L2/).waitFor();
  await shot('reach');
  await page.getByRole('radiogroup', { name: 'View' }).getByText('Package').click();
  await page.getByRole('button', { name: 'Begin the package of FER-MAR' }).click();
  await page.getByRole('combobox', { name: 'Scheme' }).click();
  await page.getByRole('option', { name: 'permissive overreach' }).click();
  await page.getByRole('row', { name: /Zone 2, reach of earth loops/ }).click();
  await page.getByRole('article', { name: 'Zone 2, reach of earth loops at FER' }).waitFor();
  await shot('package');
  await stage('Differential');
  await page.getByRole('row', { name: /^FER T1 relay/ }).click();
  await page.getByText(/largest through-fault: /).waitFor();
  await shot('differential');
  await stage('Trials');
  await page.locator('.react-flow__node[aria-label="FER-BRA 2"]').click();
  await page.getByRole('table', { name: 'Events' }).waitFor();
  await page.getByRole('radiogroup', { name: 'Picture' }).getByText('Timeline').click();
  await page.getByRole('slider').focus();
  await page.keyboard.press('End');
  for (let k = 0; k < 2; k++) await page.keyboard.press('PageDown');
  await shot('trials');
  await stage('Arc');
  await page.getByRole('row', { name: /^BRA 0.4, line side/ }).click();
  await page.getByRole('table', { name: 'By condition' }).waitFor();
  await shot('arc');
  await stage('Sheets');
  await signed(page, url);
  await page.reload();
  await page
    .getByRole('row', { name: /^Tick BRA Q21 relay|BRA Q21 relay/ })
    .first()
    .click();
  await page.getByRole('group', { name: 'Life of the sheet' }).waitFor();
  await page.getByRole('table', { name: 'Settings' }).waitFor();
  await page.getByRole('table', { name: 'Register' }).getByText('issued, up to date').first().waitFor();
  await shot('sheets');
  await stage('Batch');
  await page.getByText('Scripts', { exact: true }).click();
  await page.getByRole('button', { name: 'From an example' }).click();
  await page.getByRole('menuitem', { name: 'Fault resistance' }).click();
  await page.getByRole('button', { name: 'Run', exact: true }).click();
  await page.getByRole('img', { name: 'Earth fault at BRA 11 A' }).scrollIntoViewIfNeeded();
  await shot('batch');
}
