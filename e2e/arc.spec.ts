/** Arc energy on the desk: what decides, a setting that brings a place under the limit, what an arc burns in, labels and report. */
import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { elementId } from '../core/src/model/fields';
import { find, settingsOf } from '../core/src/model/network';
import { importProject, model, openDesk, saved, symbol, toStage } from './desk';

const id = elementId;

test('a place above the limit until the relay that clears it is set faster; its working; the other edition', async ({
  page,
  request,
}) => {
  const project = await importProject(request);
  await openDesk(page, project, 'arc');
  const bench = page.getByRole('region', { name: 'Arc energy' });
  const table = bench.getByRole('table', { name: 'Arc energy' });
  const row = table.getByRole('row', { name: /^BRA 0\.4, line side of BRA F41/ });
  await expect(row).toContainText('BRA Q32 relay, 51');
  await expect(row).toContainText('42.5');
  await row.click();
  const card = page.getByRole('region', { name: 'Arc at BRA 0.4, line side of BRA F41' });
  await expect(card).toContainText('No work on it energised');
  await card
    .getByRole('table', { name: 'By condition' })
    .getByRole('row', { name: /^Night, coupler open reduced/ })
    .click();
  await expect(card.getByRole('document', { name: 'Working' })).toContainText('IEEE 1584-2018, 4.4');
  // The chart on which the relay stands that ends it.
  await card.getByRole('button', { name: 'Brackwater low-voltage board' }).click();
  await expect(page.getByRole('combobox', { name: 'Chart' })).toHaveValue('Brackwater low-voltage board');
  await toStage(page, 'Arc');
  await bench.getByRole('checkbox', { name: 'other edition beside' }).check();
  await expect(table.getByRole('columnheader', { name: 'other edition' })).toBeVisible();
  await expect(row).toContainText('59.2');

  // The slowest setting of the relay in front that brings it below, and still waits for the board.
  const proposal = card.getByRole('region', { name: 'Setting for an energy' });
  await proposal.getByRole('button', { name: 'Propose' }).click();
  await expect(proposal.getByRole('status')).toContainText(/time multiplier 0\.26 → 0\.24/);
  await proposal.getByRole('button', { name: 'Store' }).click();
  await saved(page);
  await expect(row).toContainText('39.4');
  await expect(card).toContainText('Wear: arc-rated suit with hood');
  // Far below there is none, and it says why.
  const wanted = proposal.getByRole('textbox', { name: 'Energy wanted' });
  await wanted.fill('20');
  await wanted.press('Enter');
  await proposal.getByRole('button', { name: 'Propose' }).click();
  await expect(proposal.getByRole('status')).toContainText('would no longer wait for BRA F41 relay');
});

test('energies on a grading chart follow a curve under trial', async ({ page, request }) => {
  const project = await importProject(request);
  await openDesk(page, project, 'grading');
  await page.getByRole('combobox', { name: 'Chart' }).click();
  await page.getByRole('option', { name: 'Brackwater low-voltage board' }).click();
  await page.getByRole('button', { name: /^Lines/ }).click();
  await page.getByRole('combobox', { name: 'Lines of' }).click();
  await page.getByRole('option', { name: 'BRA 0.4', exact: true }).click();
  await page.getByRole('checkbox', { name: 'BRA 0.4 40 cal/cm²' }).check();
  await page.keyboard.press('Escape');
  await saved(page);
  const strip = page.getByRole('table', { name: 'Arc energy on the chart' });
  const row = strip.getByRole('row', { name: /^BRA 0\.4, line side of BRA F41/ });
  await expect(row).toContainText('42.5 cal/cm²');
  await expect(row).toContainText('above the limit');
  const devices = page.getByRole('list', { name: 'Devices on the chart' });
  await devices.getByRole('button', { name: 'BRA Q32 relay', exact: true }).click();
  await page.getByRole('slider', { name: 'BRA Q32 relay 51 time multiplier' }).focus();
  await page.keyboard.press('PageDown');
  await expect(row).toContainText(/tried: \d+(\.\d+)? cal\/cm²/);
  await expect(row).not.toContainText('tried: 42.5');
});

test('what an arc burns in is given at the busbar; nonsense is refused; places are filtered; labels and report', async ({
  page,
  request,
}) => {
  const project = await importProject(request);
  await openDesk(page, project, 'arc');
  const bench = page.getByRole('region', { name: 'Arc energy' });
  const table = bench.getByRole('table', { name: 'Arc energy' });
  // The project's own table of clothing, while no place is looked into.
  const clothing = page.getByRole('table', { name: 'Clothing by energy' });
  await clothing.getByRole('textbox', { name: 'Clothing' }).first().fill('long sleeves');
  await clothing.getByRole('textbox', { name: 'Clothing' }).first().press('Enter');
  await saved(page);
  expect(settingsOf(await model(page, request, project)).arc.clothing[0]).toEqual({
    upToCal: 1.2,
    wear: 'long sleeves',
  });
  await symbol(page, 'BRA 3.3').click();
  const form = page.getByRole('region', { name: 'Place of the arc' });
  const before = await table.getByRole('row', { name: /^BRA 3\.3/ }).textContent();
  const distance = form.getByRole('textbox', { name: 'Working distance' });
  await distance.fill('near');
  await distance.press('Enter');
  await expect(form).toContainText(/not a number|cannot be read|number/);
  await distance.fill('600');
  await distance.press('Enter');
  await saved(page);
  await expect(table.getByRole('row', { name: /^BRA 3\.3/ })).not.toHaveText(before!);
  expect(find(await model(page, request, project), 'bus', id('bra-3-3'))!.arc).toMatchObject({ distanceMm: 600 });
  await form.getByRole('combobox', { name: 'Electrodes' }).click();
  await page.getByRole('option', { name: /HCB/ }).click();
  await expect(table.getByRole('row', { name: /^BRA 3\.3/ })).toContainText('as remembered');

  await bench.getByRole('combobox', { name: 'Places' }).click();
  await page.getByRole('option', { name: 'above the limit' }).click();
  await expect(table.getByRole('row', { name: /^BRA 3\.3/ })).toHaveCount(0);
  await bench.getByRole('textbox', { name: 'Filter the places' }).fill('BRA');
  await expect(table.getByRole('row', { name: /^BRA 33/ })).toBeVisible();
  await bench.getByRole('button', { name: /^Labels \(\d+\)$/ }).click();
  const [labels] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: /^Save \d+ as PDF$/ }).click(),
  ]);
  expect(labels.suggestedFilename()).toMatch(/arc labels\.pdf$/);
  expect(
    readFileSync((await labels.path())!)
      .subarray(0, 5)
      .toString(),
  ).toBe('%PDF-');
  await page.keyboard.press('Escape');
  await bench.getByRole('button', { name: 'Report' }).click();
  const [report] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'PDF' }).click(),
  ]);
  expect(report.suggestedFilename()).toMatch(/arc energy\.pdf$/);
});
