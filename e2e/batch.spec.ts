/** Batches and scripts on the desk, and the same studies asked for by programs. */
import { execFile } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { expect, test, type Page } from '@playwright/test';
import { importProject, openDesk, saved, toStage } from './desk';

const root = join(import.meta.dirname, '..');
const bench = (page: Page) => page.getByRole('region', { name: 'Batch' });
const answers = (page: Page) => bench(page).getByRole('region', { name: 'Answers' });

test('a batch is put together, run, and compared with the run before', async ({ page, request }) => {
  const id = await importProject(request);
  await openDesk(page, id, 'batch');
  await bench(page).getByRole('button', { name: 'New batch' }).click();
  await bench(page).getByRole('button', { name: 'Add a run' }).click();
  const run = bench(page).getByRole('article', { name: 'Run 1' });
  await run.getByRole('combobox', { name: 'Places' }).fill('BRA 11 A');
  await page.getByRole('option', { name: 'BRA 11 A', exact: true }).click();
  await page.keyboard.press('Escape');
  await run.getByRole('combobox', { name: 'Values' }).fill('BRA T1.ukPercent=8,10');
  await page.keyboard.press('Enter');
  await run.getByRole('combobox', { name: 'More options' }).fill('kind');
  await page.getByRole('option', { name: /^kind:/ }).click();
  await expect(run.getByRole('combobox', { name: 'kind' })).toHaveValue('3ph');
  await run.getByRole('combobox', { name: 'kind' }).click();
  await page.getByRole('option', { name: 'all' }).click();
  await saved(page);
  await bench(page).getByRole('button', { name: 'Run all' }).click();
  const table = answers(page).getByRole('table');
  // Two values, four kinds of fault.
  await expect(table.getByRole('row')).toHaveCount(9);
  await expect(run.getByText('done')).toBeVisible();

  // Another value in the network: the same batch tells what became other, also after a reload.
  await page.reload();
  await toStage(page, 'Batch');
  await bench(page).getByRole('combobox', { name: 'Values' }).press('Backspace');
  await bench(page).getByRole('combobox', { name: 'Values' }).fill('BRA T1.ukPercent=8,11');
  await page.keyboard.press('Enter');
  await saved(page);
  await bench(page).getByRole('button', { name: 'Run all' }).click();
  await expect(answers(page).getByRole('status')).toContainText('changed, new or gone');
  await answers(page).getByText('Changed', { exact: true }).click();
  await expect(table.getByRole('columnheader', { name: 'percent' })).toBeVisible();
  const download = page.waitForEvent('download');
  await answers(page).getByRole('button', { name: 'Save' }).click();
  await page.getByRole('menuitem', { name: 'CSV' }).click();
  const text = readFileSync(await (await download).path(), 'utf8');
  expect(text).toMatch(/^what,run,/);
  expect(text).toMatch(/^changed,1 faults,.*ik_A/m);

  // Nonsense is said at the run, and the others are none the worse.
  await bench(page).getByRole('combobox', { name: 'Values' }).fill('nobody.x=1');
  await page.keyboard.press('Enter');
  await bench(page).getByRole('button', { name: 'Run all' }).click();
  await expect(run.getByText(/no element is called as "nobody.x" begins/)).toBeVisible();
});

test('a script is written, run, told its mistake, cancelled; what it changed is taken as one step', async ({
  page,
  request,
}) => {
  const id = await importProject(request);
  await openDesk(page, id, 'batch');
  await bench(page).getByText('Scripts', { exact: true }).click();
  await bench(page).getByRole('button', { name: 'From an example' }).click();
  await page.getByRole('menuitem', { name: 'Fault levels over ten states' }).click();
  await bench(page).getByRole('button', { name: 'Run', exact: true }).click();
  const said = bench(page).getByRole('region', { name: 'What the script says' });
  await expect(said.getByRole('row', { name: /^BRA 11 A/ })).toBeVisible({ timeout: 60_000 });
  const download = page.waitForEvent('download');
  await said.getByRole('button', { name: 'fault-levels.xlsx' }).click();
  expect(
    readFileSync(await (await download).path())
      .subarray(0, 2)
      .toString(),
  ).toBe('PK');

  await bench(page).getByRole('button', { name: 'New script' }).click();
  const editor = bench(page).getByRole('textbox', { name: 'Text of the script' });
  const write = async (text: string) => {
    await editor.click();
    await page.keyboard.press('Control+a');
    await page.keyboard.insertText(text);
  };
  await write("project.set('BRA T1.ukPercent', 12.5);\nprint('done');");
  await page.keyboard.press('Control+Enter');
  await expect(said.getByText('done', { exact: true })).toBeVisible();
  await said.getByRole('button', { name: 'Take over, as one step' }).click();
  await saved(page);
  const uk = async () =>
    (
      (await (await request.get(`/api/projects/${id}`)).json()) as { elements: { name?: string; ukPercent?: number }[] }
    ).elements.find(({ name }) => name === 'BRA T1')!.ukPercent;
  expect(await uk()).toBe(12.5);
  await page.getByRole('button', { name: /^Undo/ }).click();
  await saved(page);
  expect(await uk()).not.toBe(12.5);

  await write('\n\nnothing();');
  await bench(page).getByRole('button', { name: 'Run', exact: true }).click();
  await expect(said.getByRole('alert')).toContainText('It broke off in line 3');
  // Nothing of the page is within its reach.
  await write("print([typeof document, typeof fetch, typeof postMessage, typeof indexedDB].join(' '));");
  await bench(page).getByRole('button', { name: 'Run', exact: true }).click();
  await expect(said.getByText('undefined undefined undefined undefined')).toBeVisible();

  await write('for (;;) {}');
  await bench(page).getByRole('button', { name: 'Run', exact: true }).click();
  await bench(page).getByRole('button', { name: 'Cancel' }).click();
  await expect(bench(page).getByRole('button', { name: 'Run', exact: true })).toBeVisible();
  // The desk goes on, and a script runs on while somebody works elsewhere.
  await write("for (let k = 0; k < 4; k++) project.study('verify');\nprint('meanwhile');");
  await bench(page).getByRole('button', { name: 'Run', exact: true }).click();
  await toStage(page, 'Faults');
  await expect(page.getByRole('row', { name: /^FER 132 / })).toBeVisible();
  await toStage(page, 'Batch');
  await expect(said.getByText('meanwhile')).toBeVisible({ timeout: 60_000 });
  // Kept in the project: it is there again after a reload.
  await saved(page);
  await page.reload();
  await toStage(page, 'Batch');
  await bench(page).getByText('Scripts', { exact: true }).click();
  await expect(bench(page).getByRole('combobox', { name: 'Which script' })).toHaveValue('Fault levels over ten states');
});

test('programs ask the same over HTTP, and the terminal at the running server', async ({ page, request, baseURL }) => {
  const id = await importProject(request);
  const begun = await request.post(`/api/v1/projects/${id}/studies/faults`, {
    headers: { prefer: 'wait=60' },
    data: { options: { at: ['BRA 11 A'] }, format: 'csv' },
  });
  expect(begun.status()).toBe(200);
  const job = (await begun.json()) as { id: string; state: string };
  expect(job.state).toBe('done');
  const csv = await (await request.get(`/api/v1/jobs/${job.id}/result`)).text();
  const asked = promisify(execFile)(
    process.execPath,
    [
      'scripts/run-tsx.mjs',
      'cli/src/main.ts',
      'faults',
      '--server',
      baseURL!,
      '--project',
      id,
      '--at',
      'BRA 11 A',
      '--format',
      'csv',
    ],
    { cwd: root },
  );
  expect((await asked).stdout).toBe(csv);
  const wrong = await request.post(`/api/v1/projects/${id}/studies/faults`, {
    data: { options: { kind: 'nonsense' } },
  });
  expect(wrong.status()).toBe(422);
  expect(wrong.headers()['content-type']).toContain('application/problem+json');
  expect(await wrong.json()).toMatchObject({
    code: 'study.options',
    status: 422,
    problems: [{ message: expect.any(String) as unknown }],
  });

  await page.goto('/programs');
  await expect(page.getByRole('heading', { name: 'For programs' })).toBeVisible();
  await page.locator('#studyFaults summary').click();
  await expect(page.locator('#studyFaults').getByRole('row', { name: /options\.kind .*3ph \| 2ph/ })).toBeVisible();
});
