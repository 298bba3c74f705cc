/** Three people in three browsers: accounts, a sheet from its preparation to the relay and back. A server of its own, at which people sign in. */
import { execFileSync, spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer, type AddressInfo, type Server } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test, type Browser, type Page } from '@playwright/test';
import { SimulatedRelay } from '../scripts/lib/simulatedRelay';
import { demoText } from './desk';

const root = join(import.meta.dirname, '..');
const password = 'quince lattice over brine';
let dir: string;
let url: string;
let server: ChildProcess;
let relays: Server;
let relay: SimulatedRelay;
let relayPort: number;

const listening = (on: Server) =>
  new Promise<number>((resolve) => on.listen(0, '127.0.0.1', () => resolve((on.address() as AddressInfo).port)));

const environment = (over: NodeJS.ProcessEnv) => ({
  ...process.env,
  MESURA_DATABASE_URL: '',
  MESURA_DATA_DIR: dir,
  ...over,
});

test.beforeAll(async () => {
  test.setTimeout(180_000);
  dir = mkdtempSync(join(tmpdir(), 'mesura-people-'));
  spawnSync('chmod', ['755', dir]);
  relays = createServer();
  relay = new SimulatedRelay();
  relay.listen(relays);
  relayPort = await listening(relays);
  const free = createServer();
  const port = await listening(free);
  await new Promise((resolve) => free.close(resolve));
  url = `http://127.0.0.1:${port}`;
  server = spawn(process.execPath, [join(root, 'scripts/start.mjs')], {
    env: environment({ PORT: String(port), MESURA_ACCOUNTS: 'required', MESURA_RELAY_PORTS: String(relayPort) }),
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  await new Promise<void>((resolve, reject) => {
    let said = '';
    const heard = (data: Buffer) => {
      said += String(data);
      if (said.includes('people sign in')) resolve();
    };
    server.stdout!.on('data', heard);
    server.stderr!.on('data', heard);
    server.on('exit', () => reject(new Error(said)));
  });
});
test.afterAll(async () => {
  const ended = new Promise((resolve) => server.on('exit', resolve));
  server.kill('SIGTERM');
  await ended;
  relays.close();
  rmSync(dir, { recursive: true, force: true });
});

const terminal = (...args: string[]): string =>
  execFileSync(process.execPath, [join(root, 'scripts/account.mjs'), ...args], {
    env: environment({}),
    encoding: 'utf8',
  });

/** Sets the password by an invitation, and signs in. */
async function join_(browser: Browser, link: string, name: string): Promise<Page> {
  const page = await (await browser.newContext({ baseURL: url, viewport: { width: 1280, height: 800 } })).newPage();
  await page.goto(link);
  await page.getByLabel('New password').fill(password);
  await page.getByLabel('Once more').fill(password);
  await page.getByRole('button', { name: 'Set the password' }).click();
  await signIn(page, name);
  return page;
}

async function signIn(page: Page, name: string): Promise<void> {
  await page.waitForURL(/sign-in/);
  await page.getByLabel('Name').fill(name);
  await page.getByLabel('Password', { exact: false }).first().fill(password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('heading', { name: 'Projects' })).toBeVisible();
}

/** Opens the sheet of a device at the desk. */
async function openSheet(page: Page, id: string, name: string) {
  await page.goto(`/p/${id}?stage=sheets`);
  const row = page.getByRole('table', { name: 'Register' }).getByRole('row', { name: new RegExp(name) });
  await row.click();
  await expect(page.getByRole('table', { name: 'Settings' })).toBeVisible();
  return row;
}

async function dialog(page: Page, verb: string, words?: string): Promise<void> {
  const box = page.getByRole('dialog');
  await expect(box.getByText(/^Signed by /)).toBeVisible();
  if (words !== undefined) await box.getByRole('textbox').first().fill(words);
  await box.getByRole('button', { name: verb, exact: true }).click();
  await expect(box).toHaveCount(0);
}

test('three people take a sheet from its preparation to the relay and back', async ({ browser }) => {
  test.setTimeout(300_000);
  // Nobody is there yet: whoever comes is told how the first account is made.
  const visitor = await (await browser.newContext({ baseURL: url })).newPage();
  await visitor.goto('/');
  await expect(visitor.getByText('npm run account -- add NAME --administrator')).toBeVisible();
  expect((await visitor.request.get('/api/projects')).status()).toBe(401);

  const link = /http:\S+/.exec(terminal('add', 'astrid', '--called', 'Astrid Vale', '--administrator'))![0];
  const astrid = await join_(browser, link, 'astrid');
  // The invitation counts once.
  await visitor.goto(link);
  await expect(visitor.getByText('This invitation does not count any more')).toBeVisible();

  // She adds two colleagues, and gives each a role in her project.
  await astrid.goto('/people');
  const links: string[] = [];
  for (const [name, called] of [
    ['bo', 'Bo Harrow'],
    ['cleo', 'Cleo Marsh'],
  ]) {
    await astrid.getByLabel('Signs in as').fill(name);
    await astrid.getByLabel('Name beside the work').fill(called);
    await astrid.getByRole('button', { name: 'Add and invite' }).click();
    await expect(astrid.getByText(`Invitation for ${name}`)).toBeVisible();
    links.push((await astrid.getByLabel('Invitation', { exact: true }).textContent())!);
  }
  const bo = await join_(browser, links[0], 'bo');
  const cleo = await join_(browser, links[1], 'cleo');
  const answer = await astrid.request.post('/api/projects/import', {
    data: demoText,
    headers: { 'content-type': 'application/json', origin: url },
  });
  const { id } = (await answer.json()) as { id: string };
  // Who does not belong to it is not even told that it is there.
  expect((await bo.request.get(`/api/projects/${id}`)).status()).toBe(404);
  await bo.goto(`/p/${id}`);
  await expect(bo.getByRole('region', { name: 'One-line diagram' })).toHaveCount(0);
  await astrid.goto('/');
  await astrid
    .getByRole('button', { name: /Actions|More|Sorrel Island/ })
    .first()
    .click();
  await astrid.getByRole('menuitem', { name: 'People and roles' }).click();
  for (const [name, called, role] of [
    ['bo', 'Bo Harrow', 'checker'],
    ['cleo', 'Cleo Marsh', 'approver'],
  ]) {
    await astrid.getByLabel('Add by the name that is signed in with').fill(name);
    await astrid.getByRole('button', { name: 'Add as viewer' }).click();
    await astrid.getByRole('checkbox', { name: `${called}: ${role}` }).click();
    await expect(astrid.getByRole('checkbox', { name: `${called}: ${role}` })).toBeChecked();
  }
  await astrid.keyboard.press('Escape');

  // Prepared by one …
  const hers = await openSheet(astrid, id, 'BRA Q32 relay');
  const card = (page: Page) => page.getByRole('article', { name: 'Sheet of BRA Q32 relay' });
  await card(astrid).getByRole('button', { name: 'Prepare', exact: true }).click();
  await dialog(astrid, 'Prepare', 'First issue');
  await expect(hers).toContainText('prepared');
  // … who cannot check it herself, and says so before she tries: she may everything in her project.
  const life = (page: Page) => page.getByRole('group', { name: 'Life of the sheet' });
  await expect(life(astrid).getByRole('button', { name: 'Check', exact: true })).toBeDisabled();

  // … rejected by another with a comment on a value: he may not change anything himself.
  const his = await openSheet(bo, id, 'BRA Q32 relay');
  await expect(card(bo).getByRole('button', { name: 'Prepare', exact: true })).toHaveCount(0);
  await bo.getByRole('button', { name: 'Comment on 51 Time multiplier' }).click();
  await dialog(bo, 'Comment', 'Agreed were 0.28');
  await expect(life(bo).getByRole('button', { name: 'Check', exact: true })).toBeDisabled();
  await life(bo).getByRole('button', { name: 'Reject', exact: true }).click();
  await dialog(bo, 'Reject', 'Time multiplier of 51');
  await expect(his).toContainText('rejected');

  // … corrected: the change is in the history under her name.
  await astrid.reload();
  await openSheet(astrid, id, 'BRA Q32 relay');
  await expect(life(astrid).getByText('Rejected by Bo Harrow')).toBeVisible();
  await expect(astrid.getByRole('list', { name: 'Comments' })).toContainText('51 time multiplier: Agreed were 0.28');
  const project = (await (await astrid.request.get(`/api/projects/${id}`)).json()) as {
    revision: number;
    elements: { id: string; functions?: Record<string, unknown>[] }[];
  };
  const q32 = project.elements.find((element) => element.id === 'bra-q32-relay')!;
  const changed = {
    ...q32,
    functions: q32.functions!.map((fn, k) => (k === 0 ? { ...fn, timeMultiplier: 0.28 } : fn)),
  };
  const batch = {
    batchId: 'three-people-1',
    baseRevision: project.revision,
    label: 'as agreed',
    origin: 'edit',
    author: 'somebody else',
    changes: [{ op: 'update', element: changed }],
  };
  const change = (page: Page) =>
    page.request.post(`/api/projects/${id}/changes`, { data: batch, headers: { origin: url } });
  expect((await change(bo)).status()).toBe(403);
  expect((await change(astrid)).status()).toBe(200);
  const { entries } = (await (await bo.request.get(`/api/projects/${id}/history`)).json()) as {
    entries: { author: string }[];
  };
  expect(entries[0].author).toBe('Astrid Vale');
  await openSheet(astrid, id, 'BRA Q32 relay');
  await card(astrid).getByRole('button', { name: 'Prepare', exact: true }).click();
  await dialog(astrid, 'Prepare', 'Time multiplier as agreed');

  // … checked, approved and so issued, printed.
  await bo.reload();
  await openSheet(bo, id, 'BRA Q32 relay');
  await life(bo).getByRole('button', { name: 'Check', exact: true }).click();
  await dialog(bo, 'Check');
  const theirs = await openSheet(cleo, id, 'BRA Q32 relay');
  await life(cleo).getByRole('button', { name: 'Approve and issue', exact: true }).click();
  await dialog(cleo, 'Approve and issue');
  await expect(theirs).toContainText('issued, up to date');
  await cleo.getByRole('radiogroup', { name: 'Which state of the sheet' }).getByText('Revision 1').click();
  const [download] = await Promise.all([
    cleo.waitForEvent('download'),
    cleo.getByRole('link', { name: 'Revision 1' }).click(),
  ]);
  const text = execFileSync('pdftotext', ['-layout', (await download.path())!, '-'], { encoding: 'utf8' });
  for (const expected of ['Astrid Vale', 'Bo Harrow', 'Cleo Marsh', 'signed in', '0.28', 'Time multiplier as agreed'])
    expect(text, expected).toContain(expected);
  expect(text).not.toContain('not signed in');

  // … sent to the relay, read back as issued.
  await astrid.reload();
  await openSheet(astrid, id, 'BRA Q32 relay');
  await astrid.getByRole('radiogroup', { name: 'Which state of the sheet' }).getByText('In the relay').click();
  await astrid.getByLabel('Simulated relay, port').fill(String(relayPort));
  await astrid.getByRole('button', { name: 'Send revision 1' }).click();
  await expect(astrid.getByText(/Sent and read back/)).toContainText('as issued');

  // It deviates: found when it is read, and a finding until somebody answers for it.
  const held =
    relay
      .told()
      .split('\n')
      .findIndex((line) => /= 0\.28/.test(line)) + 1;
  expect(held).toBeGreaterThan(0);
  relay.deviate(held, 10);
  await astrid.getByRole('button', { name: 'Read and compare' }).click();
  const compared = astrid
    .getByRole('table', { name: 'Compared values' })
    .getByRole('row', { name: /51 time multiplier/ });
  await expect(compared).toContainText('0.308');
  await expect(compared).toContainText('deviates');
  await expect(compared.getByRole('button', { name: 'Accept' })).toBeVisible();
  await bo.goto(`/p/${id}?stage=sheets`);
  await bo.getByRole('button', { name: /findings$/ }).click();
  await expect(bo.getByText(/BRA Q32 relay: read on .* a value deviates from revision 1/).first()).toBeVisible();
  await openSheet(bo, id, 'BRA Q32 relay');
  await bo.getByRole('radiogroup', { name: 'Which state of the sheet' }).getByText('In the relay').click();
  const seen = bo.getByRole('table', { name: 'Compared values' }).getByRole('row', { name: /51 time multiplier/ });
  await seen.getByRole('button', { name: 'Accept' }).click();
  await dialog(bo, 'Accept', 'Until the next outage');
  await expect(seen).toContainText('accepted by Bo Harrow');

  // All of it stands in the audit log of the project.
  const audit = await (await astrid.request.get(`/api/projects/${id}/audit?as=csv`)).text();
  for (const expected of [
    'Cleo Marsh,sheetStep',
    'Bo Harrow,deviationAccepted',
    'Astrid Vale,valuesSent',
    'rejected: Time multiplier of 51',
  ])
    expect(audit, expected).toContain(expected);

  // A session that is ended elsewhere leads to signing in; what was typed meanwhile is kept.
  await astrid.goto('/account');
  await expect(astrid.getByText('this one')).toBeVisible();

  // A token for programs: made, used, ended.
  const tokens = astrid.getByRole('region', { name: 'Tokens for programs' });
  await tokens.getByRole('textbox', { name: 'What it is for' }).fill('Nightly check');
  await tokens.getByRole('button', { name: 'Make a token' }).click();
  const token = await tokens.getByLabel('Token', { exact: true }).textContent();
  const asProgram = (path: string) => fetch(`${url}/api/v1${path}`, { headers: { authorization: `Bearer ${token}` } });
  expect((await asProgram(`/projects/${id}`)).status).toBe(200);
  expect((await asProgram('/projects')).status).toBe(200);
  await tokens.getByRole('button', { name: 'End Nightly check' }).click();
  await expect(tokens.getByRole('table')).toBeHidden();
  const ended = await asProgram('/projects');
  expect([ended.status, ended.headers.get('content-type')]).toEqual([401, 'application/problem+json']);

  await astrid.getByRole('button', { name: /^Signed in as/ }).click();
  await astrid.getByRole('menuitem', { name: 'Sign out' }).click();
  await astrid.waitForURL(/sign-in/);
  await astrid.goto(`/p/${id}`);
  await astrid.waitForURL(/sign-in\?to=/);
});
