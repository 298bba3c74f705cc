/** Low-voltage circuits on the desk: a list pasted, proposals taken, the schedule printed; boards by their front. */
import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { elementId } from '../core/src/model/fields';
import { find, ofKind } from '../core/src/model/network';
import { blank, importProject, model, openDesk, saved } from './desk';

const id = elementId;
const grid = (page: Page) => page.getByRole('grid', { name: 'Circuits' });
const row = (page: Page, name: string) => grid(page).getByRole('row').filter({ hasText: name });

async function report(page: Page, button: string, item: string): Promise<Buffer> {
  await page.getByRole('button', { name: button, exact: true }).click();
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('menuitem', { name: item }).click()]);
  return readFileSync((await file.path())!);
}

test('paste, propose, accept, print', async ({ page, request }) => {
  const project = await importProject(request);
  await openDesk(page, project, 'circuits');
  await expect(page.getByRole('status', { name: 'Circuits, in short' })).toContainText('12 circuits, 1 short');
  await expect(row(page, 'Flocculation pump')).toContainText('Cut-off time');

  // A list from a spreadsheet: one row cannot be read and is named, the others become circuits in one step.
  await page.getByRole('button', { name: 'Load list' }).click();
  const dialog = page.getByRole('dialog', { name: 'Load list for BRA DB1' });
  await dialog
    .getByRole('textbox', { name: /Copy the rows/ })
    .fill(
      [
        'Tag\tMotor kW\tkW\tcos phi\tPhase\tLength m\tProtection by',
        'Rinse pump\t4\t\t0.82\t3\t52\tgG 16',
        'Stair lights\t\t0.8\t1\tL2\t33\tB10',
        'Gate\t\t0.9\t1\tL3\t33\tC17',
      ].join('\n'),
    );
  await expect(dialog.getByRole('alert')).toContainText('Row 3, Protection by: Miniature breakers are made for');
  await expect(dialog.getByRole('combobox', { name: 'Tag is' })).toHaveValue('Name of the circuit');
  await dialog.getByRole('button', { name: 'Draw 2 circuits' }).click();
  await expect(page.getByRole('status', { name: 'Circuits, in short' })).toContainText('14 circuits');
  await saved(page);

  // Typed in place; nonsense stays in the cell and is refused in words.
  await row(page, 'Stair lights').getByRole('gridcell').nth(4).click();
  await page.keyboard.type('forty');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert', { name: 'Not taken' })).toContainText('This is not a number');
  await page.keyboard.press('Escape');
  await page.keyboard.type('44');
  await page.keyboard.press('Enter');
  await expect(row(page, 'Stair lights').getByRole('gridcell').nth(4)).toHaveText('44');

  // For the whole board: ticked is what is short, and nothing is stored before it is taken.
  await page.getByRole('button', { name: 'Propose for the board' }).click();
  const proposals = page.getByRole('region', { name: 'Proposals for the board' });
  const pump = proposals.getByRole('row').filter({ hasText: 'Flocculation pump' });
  await expect(pump).toContainText('4 mm², gG 20 A');
  await expect(pump).toContainText('2.5 mm² would not do: a fault at the load is not cut off in time.');
  await expect(pump.getByRole('checkbox')).toBeChecked();
  await expect(proposals.getByRole('row').filter({ hasText: 'Air handling' }).getByRole('checkbox')).not.toBeChecked();
  expect(find(await model(page, request, project), 'line', id('bra-w81'))!.sectionMm2).toBe(2.5);
  await proposals.getByRole('button', { name: /^Take \d+$/ }).click();
  await expect(row(page, 'Flocculation pump')).toContainText('holds');
  await saved(page);
  expect(find(await model(page, request, project), 'line', id('bra-w81'))).toMatchObject({
    sectionMm2: 4,
    r1OhmPerKm: 4.61,
  });
  await page.keyboard.press('Control+z');
  await expect(row(page, 'Flocculation pump')).toContainText('Cut-off time');

  // One circuit: what it has to meet, where it comes from, what would do.
  await row(page, 'Flocculation pump').getByRole('gridcell').first().click();
  const card = page.getByRole('region', { name: 'Circuit Flocculation pump' });
  await expect(card.getByRole('row').filter({ hasText: 'Disconnection in time' })).toContainText('IEC 60364-4-41');
  await card.getByRole('button', { name: 'Working' }).click();
  await expect(card.getByRole('document', { name: 'Working' })).toContainText('Zs');
  await card.getByRole('button', { name: 'Propose' }).click();
  await expect(card.getByRole('group', { name: 'Proposals' })).toContainText(/it may be 5\d\.\d+ m long/);

  expect((await report(page, 'Schedule', 'PDF')).subarray(0, 5).toString()).toBe('%PDF-');
  expect((await report(page, 'Schedule', 'Workbook (XLSX)')).subarray(0, 2).toString()).toBe('PK');
  const [labels] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Labels', exact: true }).click(),
  ]);
  expect(
    readFileSync((await labels.path())!)
      .subarray(0, 5)
      .toString(),
  ).toBe('%PDF-');

  // What was matched is remembered by its head.
  await page.getByRole('button', { name: 'Load list' }).click();
  await dialog.getByRole('textbox', { name: /Copy the rows/ }).fill('Tag\tProtection by\nX\tB6');
  await expect(dialog.getByRole('combobox', { name: 'Protection by is' })).toHaveValue('Device (C16, gG 25)');
});

test('a machine from its main switch: a board of a given current, circuits typed and filled down by keys', async ({
  page,
  request,
}) => {
  const project = await blank(request);
  await openDesk(page, project, 'circuits');
  await expect(page.getByText('The network has no busbar of low voltage.')).toBeVisible();
  await page.getByRole('button', { name: 'Board from a given current' }).click();
  await page.getByRole('textbox', { name: 'Largest prospective current' }).fill('8');
  await page.getByRole('textbox', { name: 'Smallest prospective current' }).fill('9');
  await page.getByRole('textbox', { name: 'Smallest prospective current' }).press('Tab');
  await expect(page.getByText('The smallest current is above the largest.')).toBeVisible();
  await page.getByRole('textbox', { name: 'Smallest prospective current' }).fill('5');
  await page.getByRole('textbox', { name: 'Smallest prospective current' }).press('Tab');
  await page.getByRole('button', { name: 'Draw the board' }).click();
  for (let k = 0; k < 3; k++) {
    await page.getByRole('button', { name: 'Circuit', exact: true }).click();
    await page.getByRole('menuitem', { name: 'for a motor' }).click();
    await expect(page.getByRole('status', { name: 'Circuits, in short' })).toContainText(`${k + 1} circuits`);
  }
  await saved(page);
  // The device of the first, then filled down over all three.
  await grid(page).getByRole('row').nth(1).getByRole('gridcell').nth(3).click();
  await page.keyboard.type('gG 25');
  await page.keyboard.press('Enter');
  await expect(grid(page).getByRole('row').nth(1)).toContainText('gG 25 A');
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Control+d');
  await expect(grid(page).getByText('gG 25 A')).toHaveCount(3);
  await saved(page);
  const network = await model(page, request, project);
  expect(ofKind(network, 'switch').filter(({ functions }) => functions[0]?.family === 'fuse')).toHaveLength(3);
  expect(ofKind(network, 'bus')[0].installation).toMatchObject({ rules: 'machine', system: 'TN-S' });
  // What is fixed at a machine may take 5 s.
  await expect(grid(page).getByRole('row').nth(1).getByRole('gridcell').nth(12)).toHaveText('5.0');
});

test('boards: how they feed each other, the front of one, types that fit first, the bill', async ({
  page,
  request,
}) => {
  const project = await importProject(request);
  await openDesk(page, project, 'boards');
  const list = page.getByRole('table', { name: 'Boards' });
  await expect(list.getByRole('row', { name: /^BRA DB1/ })).toContainText('BRA 0.4-2 (BRA WDB1)');
  await list.getByRole('row', { name: /^BRA 11 / }).click();
  const front = page.getByRole('group', { name: 'Front of BRA 11' });
  await expect(front.getByRole('group', { name: /^Panel / })).toHaveCount(10);
  await expect(page.getByRole('table', { name: 'Ratings of the busbars' })).toContainText('Peak current');
  await front.getByRole('button', { name: /^BRA Q33 12 kV/ }).click();
  const types = page.getByRole('region', { name: 'Types for BRA Q33' });
  await expect(types).toContainText(/\d+ of \d+ types fit/);
  const table = types.getByRole('table', { name: 'Types' });
  await expect(table.getByRole('row').nth(1)).toContainText('fits');
  await table.getByRole('row').nth(1).click();
  await types.getByRole('button', { name: 'Use for BRA Q33' }).click();
  await saved(page);
  expect(find(await model(page, request, project), 'switch', id('bra-q33'))).toHaveProperty('entry');
  const [bill] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Bill of material' }).click(),
  ]);
  expect(readFileSync((await bill.path())!, 'utf8')).toMatch(/^\uFEFF?Board,Kind,Type,Number,Names/);
});
