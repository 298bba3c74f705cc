import { execFileSync } from 'node:child_process';
import { expect, test } from '@playwright/test';
import { centerOf, drag, faultLevel, importProject, saved, symbol, toStage } from './desk';

test('the whole story: from a transformer to an issued setting sheet', async ({ page, request }) => {
  const foreign: string[] = [];
  page.on('request', (sent) => {
    const url = new URL(sent.url());
    if (!['127.0.0.1', ''].includes(url.hostname)) foreign.push(sent.url());
  });
  const errors: string[] = [];
  page.on('pageerror', (error) => errors.push(error.message));

  // Open from the list of projects.
  const id = await importProject(request);
  await page.goto('/');
  await page.locator(`a[href="/p/${id}"]`).click();
  await expect(page.getByRole('status', { name: 'Calculation state' })).toHaveText(/^current/);

  // Change the short-circuit voltage of a transformer; fault levels follow.
  await toStage(page, 'Faults');
  const before = await faultLevel(page, 'BRA 11 A');
  expect(before).toBeCloseTo(15, 2);
  await toStage(page, 'Network');
  await symbol(page, 'BRA T1').click();
  const uk = page.getByRole('textbox', { name: 'Short-circuit voltage uk in %' });
  await expect(uk).toHaveValue('8.6');
  await uk.fill('12,9 %');
  await uk.press('Enter');
  await saved(page);
  await toStage(page, 'Faults');
  await expect.poll(() => faultLevel(page, 'BRA 11 A')).toBeLessThan(before - 0.5);
  const weaker = await faultLevel(page, 'BRA 11 A');

  // Where it comes from, and the working.
  await page.getByRole('row', { name: /^BRA 11 A / }).click();
  const card = page.getByRole('article', { name: 'Card of BRA 11 A' });
  await expect(card.getByRole('button', { name: 'BRA T1', exact: true })).toBeVisible();
  await card.getByRole('tab', { name: 'Working' }).click();
  await expect(card.getByText('12.9', { exact: true }).first()).toBeVisible();
  await expect(card.getByText('IEC 60909-0, 6.3.3').first()).toBeVisible();

  // Undo, and it is as before, also after a reload.
  await page.getByRole('button', { name: /^Undo: BRA T1/ }).click();
  await expect.poll(() => faultLevel(page, 'BRA 11 A')).toBe(before);
  await saved(page);
  await page.reload();
  await expect.poll(() => faultLevel(page, 'BRA 11 A')).toBe(before);
  // The undone step can still be redone after the reload, and undone again.
  await page.keyboard.press('Control+y');
  await expect.poll(() => faultLevel(page, 'BRA 11 A')).toBe(weaker);
  await page.keyboard.press('Control+z');
  await expect.poll(() => faultLevel(page, 'BRA 11 A')).toBe(before);

  // Grading: one pair is short; its upstream curve is dragged upward until it holds.
  await toStage(page, 'Grading');
  const pair = page.getByRole('table', { name: 'Pairs' }).getByRole('row', { name: /BRA Q32 → BRA Q21/ });
  await expect(pair).toContainText('0.077 s below');
  await pair.click();
  await page
    .getByRole('list', { name: 'Devices on the chart' })
    .getByRole('button', { name: 'BRA Q21 relay', exact: true })
    .click();
  const grip = page.getByRole('slider', { name: 'BRA Q21 relay 51 time multiplier' });
  const start = await centerOf(grip);
  await drag(page, start, { x: start.x, y: start.y - 20 });
  await expect(pair).toContainText('OK');
  await expect(page.getByText('edited, not stored').first()).toBeVisible();
  const multiplier = Number(await page.getByRole('textbox', { name: '51 time multiplier' }).inputValue());
  expect(multiplier).toBeGreaterThan(0.07);
  expect(Math.round(multiplier * 100)).toBeCloseTo(multiplier * 100, 9);

  // Not stored yet: a reload keeps the trial, the project keeps the old setting.
  await page.reload();
  await expect(pair).toContainText('OK');
  await page.getByRole('button', { name: 'Store', exact: true }).click();
  await saved(page);
  await expect(page.getByText('edited, not stored')).toHaveCount(0);

  // Sheet: prepared, checked, approved, downloaded, read.
  await toStage(page, 'Sheets');
  const row = page.getByRole('table', { name: 'Register' }).getByRole('row', { name: /BRA Q21 relay/ });
  await row.click();
  await expect(page.getByRole('table', { name: 'Settings' })).toContainText(String(multiplier));
  const sign = async (verb: string, by: string, reason?: string) => {
    await page.getByRole('article').getByRole('button', { name: verb, exact: true }).click();
    const dialog = page.getByRole('dialog');
    if (reason) await dialog.getByRole('textbox', { name: 'Reason of this revision' }).fill(reason);
    await dialog.getByRole('textbox', { name: 'Signed by' }).fill(by);
    await dialog.getByRole('button', { name: verb, exact: true }).click();
    await expect(dialog).toHaveCount(0);
  };
  await sign('Prepare', 'Astrid Vale', 'Graded with the pump feeder');
  await expect(row).toContainText('prepared');
  await sign('Check', 'Bo Harrow');
  await sign('Approve and issue', 'Cleo Marsh');
  await expect(row).toContainText('issued, up to date');
  await page.getByRole('radiogroup', { name: 'Which state of the sheet' }).getByText('Revision 1').click();
  const revision = page.getByRole('link', { name: 'Revision 1' });
  await expect(revision).toBeVisible();
  const [download] = await Promise.all([page.waitForEvent('download'), revision.click()]);
  expect(download.suggestedFilename()).toBe('BRA Q21 relay rev 1.pdf');
  const text = execFileSync('pdftotext', ['-layout', (await download.path())!, '-'], { encoding: 'utf8' });
  for (const expected of [
    'Setting sheet BRA Q21 relay',
    'Revision 1',
    'Graded with the pump feeder',
    String(multiplier),
    '880 A',
    'BRA CT21, 800/1 A',
    'OK',
    'Astrid Vale',
    'not signed in',
    '1 of ',
  ])
    expect(text, expected).toContain(expected);

  // What was true when it was issued and no longer holds is told.
  await toStage(page, 'Network');
  await symbol(page, 'BRA T1').click();
  await uk.fill('9');
  await uk.press('Enter');
  await saved(page);
  await toStage(page, 'Sheets');
  await expect(row).toContainText(/figures moved|no longer hold/);

  expect(foreign, 'requests that leave the machine').toEqual([]);
  expect(errors).toEqual([]);
});
