import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test, type APIRequestContext, type Browser, type Page } from '@playwright/test';
import { prepareDatabase, startApp } from '../scripts/lib/app.mjs';
import { startMariadb } from '../scripts/lib/mariadb.mjs';
import { freePort } from '../scripts/lib/ports.mjs';
import { bigNetwork } from '../scripts/bigNetwork';
import { writeProject } from '../core/src/formats/project/project';
import { ofKind, type Network } from '../core/src/model/network';
import { faultLevel, importProject, model, openDesk, saved, symbol, toStage } from './desk';

/** An application and a database of its own: what is killed here must not take the other tests along. */
async function ownApplication() {
  const dir = mkdtempSync(join(tmpdir(), 'mesura-killed-'));
  // Debian's database user must be able to enter.
  chmodSync(dir, 0o755);
  const database = await startMariadb(dir);
  prepareDatabase(database, { demo: false });
  const app = await startApp({ port: await freePort(), databaseUrl: database.url, quiet: true });
  return {
    url: app.url,
    killDatabase: () => process.kill(database.pid, 'SIGKILL'),
    startDatabase: () => startMariadb(dir),
    end: async () => {
      await app.stop();
      await (await startMariadb(dir)).stop();
      rmSync(dir, { recursive: true, force: true });
    },
  };
}

test('the database is killed while one works: nothing typed is lost, also over a reload', async ({ browser }) => {
  const own = await ownApplication();
  const context = await browser.newContext({ baseURL: own.url });
  try {
    await killedWhileWorking(await context.newPage(), context.request, own);
  } finally {
    await context.close();
    await own.end();
  }
});

async function killedWhileWorking(
  page: Page,
  request: APIRequestContext,
  { killDatabase, startDatabase }: Awaited<ReturnType<typeof ownApplication>>,
) {
  const id = await importProject(request);
  await openDesk(page, id);
  killDatabase();

  await symbol(page, 'BRA T1').click();
  const uk = page.getByRole('textbox', { name: 'Short-circuit voltage uk in %' });
  await uk.fill('10');
  await uk.press('Enter');
  await expect(page.getByRole('alert').filter({ hasText: 'Not saved' })).toContainText('The database does not answer');
  await expect(page.getByRole('status', { name: 'Saving' })).toHaveText(/^not saved/);
  const power = page.getByRole('textbox', { name: 'Rated power in MVA' });
  await power.fill('16');
  await power.press('Enter');

  await startDatabase();
  await expect(page.getByRole('status', { name: 'Saving' })).toHaveText(/^saved/, { timeout: 30_000 });
  await page.reload();
  await symbol(page, 'BRA T1').click();
  await expect(uk).toHaveValue('10');
  await expect(power).toHaveValue('16');
}

test('the server cannot be reached and the page is reloaded: the change waits in the browser', async ({
  page,
  request,
}) => {
  const id = await importProject(request);
  await openDesk(page, id);
  await page.route('**/changes', (route) => (route.request().method() === 'POST' ? route.abort() : route.continue()));
  await symbol(page, 'BRA T1').click();
  const uk = page.getByRole('textbox', { name: 'Short-circuit voltage uk in %' });
  await uk.fill('11');
  await uk.press('Enter');
  await expect(page.getByRole('alert').filter({ hasText: 'The server cannot be reached' })).toBeVisible();
  page.on('dialog', (dialog) => void dialog.accept());
  await page.unroute('**/changes');
  await page.reload();
  await saved(page);
  await symbol(page, 'BRA T1').click();
  await expect(uk).toHaveValue('11');
  const stored = (await (await request.get(`/api/projects/${id}`)).json()) as {
    elements: { name: string; ukPercent: number }[];
  };
  expect(stored.elements.find((element) => element.name === 'BRA T1')!.ukPercent).toBe(11);
});

test('a note that is being written is there after a reload', async ({ page, request }) => {
  await openDesk(page, await importProject(request));
  await symbol(page, 'BRA T1').click();
  await page.getByRole('textbox', { name: 'Note' }).fill('Neutral resistor measured\nin March');
  // Not left, not stored by hand.
  await page.reload();
  await symbol(page, 'BRA T1').click();
  await expect(page.getByRole('textbox', { name: 'Note' })).toHaveValue('Neutral resistor measured\nin March');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(page.getByRole('textbox', { name: 'Note' })).not.toHaveValue(/March/);
});

/** Another person: a browser of their own. */
const another = async (browser: Browser, id: string) => {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await openDesk(page, id);
  return page;
};
const ukOf = (network: Network, name: string): number =>
  ofKind(network, 'transformer').find((each) => each.name === name)!.ukPercent;
const setUk = async (where: Page, value: string) => {
  await symbol(where, 'BRA T1').click();
  const uk = where.getByRole('textbox', { name: 'Short-circuit voltage uk in %' });
  await uk.fill(value);
  await uk.press('Enter');
  return uk;
};

test('two people change the same element while one of them is cut off: both versions are shown, and one is chosen', async ({
  page,
  request,
  browser,
}) => {
  const id = await importProject(request);
  await openDesk(page, id);
  const other = await another(browser, id);
  await other.context().setOffline(true);
  await setUk(page, '7');
  await saved(page);
  const uk = await setUk(other, '6');
  await expect(other.getByRole('alert').filter({ hasText: 'Not saved' })).toBeVisible();
  await other.context().setOffline(false);
  const told = other.getByRole('alert').filter({ hasText: 'BRA T1 has been changed meanwhile' });
  await expect(told).toBeVisible();
  await told.getByRole('button', { name: 'Compare both versions' }).click();
  const versions = other.getByRole('dialog');
  await expect(versions.getByRole('row', { name: /BRA T1/ })).toContainText(/uk in %: stored 7 · yours 6/);
  await versions.getByRole('button', { name: 'Drop mine, load what is stored' }).click();
  await expect(uk).toHaveValue('7');
  await expect(other.getByRole('alert').filter({ hasText: 'Not saved' })).toHaveCount(0);
});

test('people see each other’s changes as they come, where the others are, and undo their own', async ({
  page,
  request,
  browser,
}) => {
  const id = await importProject(request);
  await openDesk(page, id);
  const [second, third] = [await another(browser, id), await another(browser, id)];
  for (const each of [page, second, third])
    await expect(each.getByRole('group', { name: 'Also here' }).getByRole('button')).toHaveCount(2);
  for (const [k, each] of [page, second, third].entries())
    await each.evaluate(
      (name) => localStorage.setItem('mesura.who', name),
      ['Astrid Vale', 'Bo Harrow', 'Cleo Marsh'][k],
    );

  await setUk(page, '7');
  await saved(page);
  for (const each of [second, third]) {
    await symbol(each, 'BRA T1').click();
    await expect(each.getByRole('textbox', { name: 'Short-circuit voltage uk in %' })).toHaveValue('7');
  }
  // Where the others are; a click goes there.
  await toStage(page, 'Grading');
  const astrid = second.getByRole('button', { name: /^Go to Astrid Vale: Grading · BRA T1/ });
  await astrid.click();
  await expect(
    second.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: 'Grading' }),
  ).toHaveAttribute('aria-current', /.+/);

  // Each takes back what is theirs.
  await toStage(third, 'Network');
  await symbol(third, 'BRA T2').click();
  await third.getByRole('textbox', { name: 'Short-circuit voltage uk in %' }).fill('9');
  await third.getByRole('textbox', { name: 'Short-circuit voltage uk in %' }).press('Enter');
  await saved(third);
  await expect.poll(async () => ukOf(await model(page, request, id), 'BRA T2')).toBe(9);
  await page.getByRole('button', { name: /^Undo/ }).click();
  await saved(page);
  const after = await model(page, request, id);
  expect([ukOf(after, 'BRA T1') !== 7, ukOf(after, 'BRA T2')]).toEqual([true, 9]);
  await expect(second.getByRole('button', { name: 'Nothing to undo' })).toBeDisabled();

  // Who leaves is not there any more.
  await third.context().close();
  await expect(page.getByRole('group', { name: 'Also here' }).getByRole('button')).toHaveCount(1);
});

test('two pages of one browser keep what each has not sent; what a closed one left is sent by the next', async ({
  page,
  request,
  context,
}) => {
  const id = await importProject(request);
  await openDesk(page, id);
  const left = await context.newPage();
  await openDesk(left, id);
  await left.route('**/changes', (route) => (route.request().method() === 'POST' ? route.abort() : route.continue()));
  await symbol(left, 'BRA T1').click();
  const uk = left.getByRole('textbox', { name: 'Short-circuit voltage uk in %' });
  await uk.fill('11');
  await uk.press('Enter');
  await expect(left.getByRole('alert').filter({ hasText: 'The server cannot be reached' })).toBeVisible();
  // The other page stores its own, is read anew, and lets alone what belongs to a page that is open.
  await symbol(page, 'BRA T2').click();
  const other = page.getByRole('textbox', { name: 'Short-circuit voltage uk in %' });
  await other.fill('9');
  await other.press('Enter');
  await saved(page);
  await page.reload();
  await saved(page);
  const stored = async (name: string) =>
    (
      (await (await request.get(`/api/projects/${id}`)).json()) as { elements: { name: string; ukPercent: number }[] }
    ).elements.find((element) => element.name === name)!.ukPercent;
  expect([await stored('BRA T1'), await stored('BRA T2')]).toEqual([8.6, 9]);
  await left.close();
  await page.reload();
  await saved(page);
  await expect.poll(() => stored('BRA T1')).toBe(11);
});

test('a network of 500 buses opens, calculates and can be changed', async ({ page, request }) => {
  const id = await importProject(request, writeProject({ name: 'Large', notes: '', elements: bigNetwork(500) }));
  await openDesk(page, id, 'faults');
  // A long table is drawn as far as it is in view; what is selected comes into view.
  await expect(page.getByRole('table')).toHaveAttribute('aria-rowcount', '501');
  expect(await page.getByRole('table').getByRole('row').count()).toBeLessThan(120);
  await page.keyboard.press('Control+k');
  await page.getByRole('textbox', { name: 'Find or do' }).fill('B499');
  await page.keyboard.press('Enter');
  const before = await faultLevel(page, 'B499');
  expect(before).toBeGreaterThan(0);
  await toStage(page, 'Network');
  await page.keyboard.press('Control+k');
  await page.getByRole('textbox', { name: 'Find or do' }).fill('Source');
  await page.keyboard.press('Enter');
  const level = page.getByRole('group', { name: 'Maximum sources: Ik″' }).getByRole('textbox');
  await level.fill('5');
  await level.press('Enter');
  await saved(page);
  await toStage(page, 'Faults');
  await page.keyboard.press('Control+k');
  await page.getByRole('textbox', { name: 'Find or do' }).fill('B499');
  await page.keyboard.press('Enter');
  await expect.poll(() => faultLevel(page, 'B499')).toBeLessThan(before);
});

test('hostile requests are answered with a plain refusal', async ({ request }) => {
  const id = await importProject(request);
  const post = (path: string, data: string, headers: Record<string, string> = {}) =>
    request.post(path, { data: Buffer.from(data), headers: { 'content-type': 'application/json', ...headers } });
  const expected: [string, string, number][] = [
    ['/api/projects', '{', 400],
    ['/api/projects', '{}', 422],
    ['/api/projects', '"x"', 422],
    ['/api/projects/import', '[[[[[[', 422],
    [`/api/projects/${id}/changes`, 'null', 422],
    [`/api/projects/${id}/changes`, '{"batchId":"x","changes":"all"}', 422],
    [
      `/api/projects/${id}/sheets`,
      '{"do":"prepare","subjects":[{"kind":"device","id":"../../etc/passwd"}],"revision":1}',
      422,
    ],
    [`/api/projects/${id}/sheets`, '{"do":"prepare","subjects":[{"kind":"device","id":"bra-t1"}],"revision":1}', 404],
    ['/api/projects/%27%20OR%201=1/changes', '{}', 404],
    ['/api/projects/nosuchthing1/restore', '', 404],
  ];
  for (const [path, body, status] of expected) {
    const answer = await post(path, body);
    expect(answer.status(), `${path} ${body}`).toBe(status);
    const { error } = (await answer.json()) as { error: { message: string } };
    expect(error.message).not.toMatch(/Error|stack|SELECT| at /);
  }
  expect((await post('/api/projects', '{"name":"x"}', { origin: 'http://elsewhere.example' })).status()).toBe(403);
  expect((await request.get(`/api/projects/${id}/sheets/999999/pdf`)).status()).toBe(404);
});
