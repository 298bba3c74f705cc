/** Load and ratings from end to end: what if loads drew more, outages, a motor that starts; a duty with its working, a proposal taken, reports, currents over time. */
import { expect, test, type Page } from '@playwright/test';
import { importProject, openDesk, saved, symbol } from './desk';

const view = (page: Page, group: string, name: string | RegExp) =>
  page.getByRole('radiogroup', { name: group }).getByText(name, { exact: true }).click();
const number = async (cell: Promise<string | null>) => Number((await cell)!.replace(/[^\d.−-]/g, '').replace('−', '-'));

test('the load flow: on the drawing and in tables, with loads scaled, with everything out once, with a motor that starts', async ({
  page,
  request,
}) => {
  await openDesk(page, await importProject(request), 'load');
  const branches = page.getByRole('table', { name: 'Branch flows' });
  const row = branches.getByRole('row', { name: /^TOL T1/ });
  const loading = () => number(row.getByRole('cell').nth(5).textContent());
  await expect(row).toBeVisible();
  const before = await loading();
  await expect(page.getByText(/losses .* MW/)).toBeVisible();

  // Half as much again at Tollgate town alone; then as in the project.
  await symbol(page, 'Tollgate town').click();
  await page.getByRole('textbox', { name: 'Load in percent' }).fill('150');
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByText('1 load differ from the project')).toBeVisible();
  await expect.poll(loading).toBeGreaterThan(1.4 * before);
  await page.getByRole('button', { name: 'As in the project' }).click();
  await expect.poll(loading).toBeCloseTo(before, 1);

  // A row is the element on the drawing.
  await row.click();
  await expect(page.getByRole('contentinfo')).toContainText('TOL T1');

  await view(page, 'View', 'Outages');
  const outages = page.getByRole('table', { name: 'Single outages' });
  await expect(outages.getByRole('row', { name: /^OK CAU-FER 1/ })).toBeVisible();
  await outages.getByRole('row', { name: /supply lost TOL T1/ }).click();
  await expect(page.getByRole('article', { name: 'Without TOL T1' })).toContainText('without supply');

  await view(page, 'View', 'Motor start');
  await expect(page.getByRole('status').filter({ hasText: 'Runs up in' })).toBeVisible();
  const dip = () =>
    number(
      page
        .getByRole('table', { name: 'Voltage dips' })
        .getByRole('row', { name: /^BRA 11 A/ })
        .getByRole('cell')
        .nth(4)
        .textContent(),
    );
  const direct = await dip();
  await page.getByRole('combobox', { name: 'Starting' }).click();
  await page.getByRole('option', { name: 'starting transformer 65 %' }).click();
  await expect.poll(dip).toBeLessThan(0.6 * direct);

  // Another condition, another flow.
  await page.getByRole('combobox', { name: 'Condition' }).click();
  await page.getByRole('option', { name: 'Night, coupler open' }).click();
  await view(page, 'View', 'Buses');
  await expect(page.getByRole('table', { name: 'Bus voltages' }).getByRole('row', { name: /^BRA 11 B/ })).toBeVisible();
});

test('ratings: a device that is short, its working, the proposal taken; what is not known; reports as files', async ({
  page,
  request,
}) => {
  await openDesk(page, await importProject(request), 'ratings');
  await view(page, 'Summary', 'Breaking');
  const table = page.getByRole('table', { name: 'Breaking, interrupting' });
  const short = table.getByRole('row', { name: /^not met BRA F51/ });
  await short.click();
  const card = page.getByRole('article', { name: 'Check Breaking capacity' });
  await expect(card).toContainText('BRA F51: breaking capacity 25 kA is below Ik″ 36.67 kA');
  await expect(card.getByRole('document', { name: 'Working' })).toContainText('reserve =');
  await card.getByRole('button', { name: /^Take 40 kA/ }).click();
  await expect(short).toHaveCount(0);
  await expect(table.getByRole('row', { name: /BRA F51 Icu/ })).toContainText('warning');
  await saved(page);

  // The whole current at the place asks for more than what flows through.
  await page.getByRole('checkbox', { name: 'only marginal and not met' }).check();
  await expect(table.getByRole('row', { name: /^OK/ })).toHaveCount(0);
  await page.getByRole('checkbox', { name: 'only marginal and not met' }).uncheck();

  await view(page, 'Summary', /^Not known/);
  await expect(page.getByRole('table', { name: 'Ratings that are not known' })).toContainText(
    'short-time withstand current',
  );

  for (const [item, start] of [
    ['PDF', '%PDF'],
    ['Workbook (XLSX)', 'PK'],
  ]) {
    await page.getByRole('button', { name: 'Report', exact: true }).click();
    const download = page.waitForEvent('download');
    await page.getByRole('menuitem', { name: item }).click();
    const stream = await (await download).createReadStream();
    const bytes: Buffer[] = [];
    for await (const part of stream) bytes.push(part as Buffer);
    expect(Buffer.concat(bytes).toString('latin1').startsWith(start)).toBe(true);
  }
  await page.getByRole('region', { name: 'One-line diagram' }).waitFor();
});

test('faults: currents over time with a record to take along, the figure on the drawing, a report of chosen places', async ({
  page,
  request,
}) => {
  await openDesk(page, await importProject(request), 'faults');
  await page.getByRole('row', { name: /^BRA 11 A/ }).click();
  await page.getByRole('tab', { name: 'Over time' }).click();
  const instants = page.getByRole('table', { name: 'Peak and contact parting' });
  const peak = () => number(instants.getByRole('row', { name: /^L1/ }).getByRole('cell').nth(1).textContent());
  await expect.poll(peak).toBeGreaterThan(35);
  // At the crest of the voltage L1 has hardly any offset.
  await page.getByRole('textbox', { name: 'Voltage angle °' }).fill('90');
  await expect.poll(async () => Math.abs(await peak())).toBeLessThan(25);
  const plot = page.getByRole('slider', { name: 'Read-out of the currents, milliseconds after the fault' });
  await plot.focus();
  await plot.press('PageUp');
  await expect(page.getByText(/^10\.00 ms: L1/)).toBeVisible();

  const files: string[] = [];
  page.on('download', (download) => files.push(download.suggestedFilename()));
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByRole('menuitem', { name: 'COMTRADE (two files)' }).click();
  await expect.poll(() => files).toEqual(['BRA 11 A over time.cfg', 'BRA 11 A over time.dat']);

  await view(page, 'Figure at buses', 'Ith');
  await expect(page.getByRole('columnheader', { name: 'Ith kA' })).toBeVisible();

  await page.getByRole('button', { name: 'Report', exact: true }).click();
  const dialog = page.getByRole('dialog', { name: 'Report of fault currents' });
  await dialog.getByRole('button', { name: 'Make it' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: 'PDF' }).click();
  expect((await download).suggestedFilename()).toMatch(/fault currents\.pdf$/);
});
