/** Conditions from end to end: duplicated, changed on the drawing, compared, their causes read, undone, and still there after a reload. */
import { expect, test, type Page } from '@playwright/test';
import { faultLevel, importProject, openDesk, saved, symbol, toStage } from './desk';

const choose = async (page: Page, select: string, option: string) => {
  await page.getByRole('combobox', { name: select }).click();
  await page.getByRole('option', { name: option, exact: true }).click();
};

test('a condition is duplicated, a coupler opened in it on the drawing, compared, undone and kept', async ({
  page,
  request,
}) => {
  await openDesk(page, await importProject(request), 'conditions');
  const list = page.getByRole('table', { name: 'Conditions', exact: true });
  await list.getByRole('row', { name: /^Maximum sources/ }).click();
  await expect(page.getByText('the network as drawn. Duplicate it')).toBeVisible();
  await page.getByRole('button', { name: 'Duplicate' }).click();
  const own = list.getByRole('row', { name: /^Maximum sources 2/ });
  await expect(own).toBeVisible();
  await expect(page.getByRole('combobox', { name: 'Condition' })).toHaveValue('Maximum sources 2');

  // The coupler is opened in the condition only; the network as drawn stays.
  await symbol(page, 'BRA Q30').click();
  await expect(own).toContainText('BRA Q30 open');
  const name = page.getByRole('textbox', { name: 'Name' });
  await name.fill('Coupler open');
  await name.press('Enter');
  await saved(page);
  await toStage(page, 'Faults');
  const apart = await faultLevel(page, 'BRA 11 A');

  // Against the network as drawn, and what made the difference.
  await page.getByRole('button', { name: 'Compare' }).click();
  await choose(page, 'Compared with', 'Maximum sources');
  const row = page
    .getByRole('table', { name: 'Differences of the fault currents' })
    .getByRole('row', { name: /^BRA 11 A/ });
  await row.click();
  const [before, now, difference] = await Promise.all([2, 3, 4].map((k) => row.getByRole('cell').nth(k).textContent()));
  expect(Number(now)).toBeCloseTo(apart, 3);
  expect(Number(before)).toBeGreaterThan(Number(now));
  const causes = page.getByRole('table', { name: 'Causes of the difference' });
  await expect(causes.getByRole('row', { name: /^BRA Q30 open/ })).toContainText(difference!);
  await expect(causes.getByRole('row', { name: /^together/ })).toContainText(difference!);
  await page.getByRole('button', { name: 'Compare' }).click();

  // Undo takes back the name and the click; redo brings them again.
  await toStage(page, 'Conditions');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(own).toContainText('none yet');
  await page.keyboard.press('Control+y');
  await page.keyboard.press('Control+y');
  await expect(list.getByRole('row', { name: /^Coupler open/ })).toContainText('BRA Q30 open');
  await saved(page);

  await page.reload();
  await expect(page.getByRole('status', { name: 'Calculation state' })).toHaveText(/^current/);
  await page
    .getByRole('table', { name: 'Conditions', exact: true })
    .getByRole('row', { name: /^Coupler open/ })
    .click();
  await page.getByRole('button', { name: 'Take back: BRA Q30 open' }).click();
  await expect(
    page.getByRole('table', { name: 'Conditions', exact: true }).getByRole('row', { name: /^Coupler open/ }),
  ).toContainText('none yet');
  await page.getByRole('button', { name: 'Delete Coupler open' }).click();
  await expect(page.getByRole('combobox', { name: 'Condition' })).toHaveValue('Maximum sources');
});

test('checks: what is not met opens its working; a kept run says what got worse', async ({ page, request }) => {
  await openDesk(page, await importProject(request), 'findings');
  const table = page.getByRole('table', { name: 'Checks' });
  // Not met and marginal ones, below a row of heads.
  const rows = table.getByRole('row').filter({ has: page.getByRole('cell') });
  await expect.poll(() => rows.count()).toBeGreaterThan(20);
  await expect(rows.filter({ hasText: /not met|warning/ })).toHaveCount(await rows.count());
  await table.getByRole('row', { name: /^not met Brackwater low voltage .*phase faults/ }).click();
  const card = page.getByRole('article', { name: /^Check Margin/ });
  await expect(card).toContainText('Decided in Night, coupler open');
  await expect(card.getByRole('document', { name: 'Working' })).toContainText('IEC 60255-151, Annex A');
  await page.getByRole('button', { name: 'Keep this run' }).click();

  await toStage(page, 'Network');
  await symbol(page, 'BRA Q21 relay').click();
  const multiplier = page.getByRole('textbox', { name: '51 time multiplier' });
  await multiplier.fill('0.2');
  await multiplier.press('Enter');
  await toStage(page, 'Findings');
  await page.getByText('Changed', { exact: true }).click();
  await expect(table.getByRole('row', { name: /BRA Q21 relay → BRA Q11 relay/ }).first()).toContainText(
    'worse: not met',
  );
  await expect(table.getByRole('row', { name: /BRA Q32 relay → BRA Q21 relay, phase/ }).first()).toContainText(
    'better: OK',
  );
  await page.getByText('All', { exact: true }).click();
  await page.getByRole('textbox', { name: 'Filter the checks' }).fill('sensitivity q11');
  await expect.poll(() => rows.count()).toBeLessThan(20);
  await expect(rows.filter({ hasText: /Q11/ })).toHaveCount(await rows.count());
  expect(await rows.count()).toBeGreaterThan(0);
});
