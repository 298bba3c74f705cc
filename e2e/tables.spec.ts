/** Tables and equipment: cells typed and pasted, one step to undo; a type with a misfit told before it is chosen. */
import { expect, test } from '@playwright/test';
import { importProject, openDesk, saved, symbol, toStage } from './desk';

test('a table is edited in place, a block pasted in one step, and nonsense is refused with its place', async ({
  page,
  request,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await openDesk(page, await importProject(request), 'tables');
  await page.getByRole('combobox', { name: 'Kind of element' }).click();
  await page.getByRole('option', { name: /^Line or cable/ }).click();
  const grid = page.getByRole('grid', { name: 'Line or cable' });
  const cell = (line: string, column: number) =>
    grid
      .getByRole('row', { name: new RegExp(`^${line} `) })
      .getByRole('gridcell')
      .nth(column);
  const length = 2;
  await expect(cell('CAU-FER 1', length)).toHaveText('24.3');

  // By keyboard: typing replaces, Enter stores and goes down.
  await cell('CAU-FER 1', length).click();
  await page.keyboard.type('25,5 km');
  await page.keyboard.press('Enter');
  await expect(cell('CAU-FER 1', length)).toHaveText('25.5');
  await page.keyboard.type('far');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert', { name: 'Not taken' })).toContainText(
    'CAU-FER 2, length: This is not a number.',
  );
  await page.keyboard.press('Escape');
  await expect(cell('CAU-FER 2', length)).toHaveText('24.3');

  // Two lengths from a spreadsheet, one of them nonsense; then one value into a block.
  await page.evaluate(() => navigator.clipboard.writeText('7.5\nnonsense\n8,25'));
  await cell('FER-BRA 1', length).click();
  await page.keyboard.press('Control+v');
  await expect(cell('FER-BRA 1', length)).toHaveText('7.5');
  await expect(cell('FER-BRA 2', length)).toHaveText('6.4');
  await expect(cell('Dosing cable', length)).toHaveText('8.25');
  await expect(page.getByRole('alert', { name: 'Not taken' })).toContainText('FER-BRA 2, length');
  await page.keyboard.press('Control+z');
  await expect(cell('FER-BRA 1', length)).toHaveText('6.4');
  await expect(cell('Dosing cable', length)).toHaveText('0.038');
  await expect(cell('CAU-FER 1', length)).toHaveText('25.5');

  // A block goes out as it stands; the row is the line on the drawing.
  await cell('CAU-FER 1', 0).click();
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('Control+c');
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe('CAU-FER 1\toverhead\t25.5');
  await expect(page.getByText('CAU-FER 1', { exact: true }).first()).toBeVisible();
  await saved(page);
});

test('a type that does not fit says why before it is chosen, and which size would', async ({ page, request }) => {
  await openDesk(page, await importProject(request), 'equipment');
  await symbol(page, 'BRA Q21').click();
  await expect(page.getByText(/^For BRA Q21: 11 kV, 627\.6 A \(BRA T1\)/)).toBeVisible();
  const search = page.getByRole('textbox', { name: 'Search the types' });
  await search.fill('7.2 630 16');
  const types = page.getByRole('table', { name: 'Types' });
  await types.getByRole('row', { name: /^Breaker 7.2 kV, 630 A, 16 kA/ }).click();
  const card = page.getByRole('article', { name: /^Type Breaker 7.2 kV/ });
  await expect(card).toContainText('does not fit rated voltage 7.2 kV, network 11 kV Next standard size: 12 kV.');
  await page.getByRole('checkbox', { name: 'fitting only' }).check();
  await search.fill('breaker 12 1250 25');
  await types.getByRole('row', { name: /^Breaker 12 kV, 1250 A, 25 kA/ }).click();
  await page.getByRole('button', { name: 'Use for BRA Q21' }).click();
  await saved(page);
  await toStage(page, 'Network');
  await expect(page.getByRole('textbox', { name: 'Rated breaking current in kA' })).toHaveValue('25');
  await expect(page.getByRole('textbox', { name: 'Rated voltage in kV' })).toHaveValue('12');

  // What is changed afterwards stands as a value of its own, and can go back to the type's.
  const breaking = page.getByRole('textbox', { name: 'Rated breaking current in kA' });
  await breaking.fill('31.5');
  await breaking.press('Enter');
  const own = page.getByText(
    /^Type: Breaker 12 kV, 1250 A, 25 kA · own values: Rated breaking current \(type: 25 kA\)/,
  );
  await expect(own).toBeVisible();
  await page.getByRole('button', { name: 'Take those of the type' }).click();
  await expect(own).toHaveCount(0);
  await expect(breaking).toHaveValue('25');
});
