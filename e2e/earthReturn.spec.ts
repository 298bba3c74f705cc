/** Currents through earth on the desk: from the drawing to the split factor, the profiles and the report; towers, cables, earthings, studies without a network. */
import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { elementId } from '../core/src/model/fields';
import { find, ofKind } from '../core/src/model/network';
import { blank, importProject, model, openDesk, saved, symbol, toStage } from './desk';

const id = elementId;

test('a station from the drawing to its profiles, what if, working, files and report', async ({ page, request }) => {
  const project = await importProject(request);
  await openDesk(page, project, 'earthReturn');
  await expect(page.getByRole('status', { name: 'Earth return, in short' })).toContainText('6 places');
  const table = page.getByRole('table', { name: 'Stations', exact: true });
  await expect(table.getByRole('row', { name: /^MAR 132/ })).toContainText('TOL Q02 relay');
  // By a click on the drawing, or by the table.
  await symbol(page, 'MAR 132').click();
  await expect(page.getByRole('region', { name: 'Earth fault at MAR 132' })).toContainText('0.455 s');
  await table.getByRole('row', { name: /^FER 132/ }).click();
  const card = page.getByRole('region', { name: 'Earth fault at FER 132' });
  const split = card.getByRole('status', { name: 'Split factor' });
  await expect(split).toContainText(/42\.\d+ %/);
  await expect(card).toContainText('touch voltages to be shown');

  // A worse grid takes less of it, and the figures follow the slider.
  await card.getByRole('button', { name: 'Hold' }).click();
  await card.getByRole('button', { name: 'What if …' }).click();
  const slider = card.getByRole('slider', { name: 'Earthing of FER' });
  await slider.focus();
  for (let k = 0; k < 30; k++) await slider.press('ArrowRight');
  await expect(split).toContainText(/3[0-6]\.\d+ %/);
  await card.getByRole('button', { name: 'As stored' }).click();
  await expect(split).toContainText(/42\.\d+ %/);

  // Two lines through the station, read by keys.
  await card.getByRole('combobox', { name: 'Line to the left, through the station' }).click();
  await page.getByRole('option', { name: 'FER-MAR' }).click();
  const plot = card.getByRole('img', { name: 'Potentials along CAU-FER 1, CAU-FER 2 and FER-MAR' });
  await plot.focus();
  await plot.press('ArrowRight');
  await expect(card.getByRole('status', { name: 'Values at the pointer' })).toContainText(/km .* FER-MAR \d/);
  await card.getByText('Wire currents').click();
  await expect(card.getByRole('img', { name: /^Wire currents along/ })).toBeVisible();
  const box = (await card.getByRole('img', { name: /^Wire currents along/ }).boundingBox())!;
  await page.mouse.move(box.x + 0.6 * box.width, box.y + 80);
  await page.mouse.down();
  await page.mouse.move(box.x + 0.8 * box.width, box.y + 80, { steps: 4 });
  await page.mouse.up();
  await card.getByRole('button', { name: 'Whole line' }).click();

  await card.getByRole('button', { name: 'Show the working' }).click();
  await expect(card.getByRole('document', { name: 'Working' })).toContainText('By closed forms, each line endless');
  await card.getByRole('button', { name: 'Profiles' }).click();
  const [csv] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'All profiles (CSV)' }).click(),
  ]);
  const lines = readFileSync((await csv.path())!, 'utf8')
    .trim()
    .split('\n');
  expect(lines[0]).toContain('potential V');
  expect(lines.length).toBeGreaterThan(200);
  for (const [item, ending] of [
    ['PDF', 'pdf'],
    ['Workbook (XLSX)', 'xlsx'],
  ]) {
    await page.getByRole('button', { name: 'Report' }).click();
    const [report] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('menuitem', { name: item }).click(),
    ]);
    expect(report.suggestedFilename()).toMatch(new RegExp(`current returning through earth\\.${ending}$`));
    expect(readFileSync((await report.path())!).length).toBeGreaterThan(5000);
  }
});

test('earthings and towers are given on the stage; nonsense is refused; one undo takes back one step', async ({
  page,
  request,
}) => {
  const project = await importProject(request);
  await openDesk(page, project, 'earthReturn');
  await page.getByRole('button', { name: 'PEN 33', exact: true }).click();
  const earthing = page.getByRole('region', { name: 'Earthing of PEN' });
  await earthing.getByRole('combobox', { name: 'Resistance of PEN' }).click();
  await page.getByRole('option', { name: 'of a grid' }).click();
  await expect(earthing.getByRole('status', { name: 'Resistance of PEN, computed' })).toContainText('Ω');
  const length = earthing.getByRole('textbox', { name: 'Length in m', exact: true });
  await length.fill('wide');
  await length.press('Enter');
  await expect(earthing.getByText('This is not a number.')).toBeVisible();
  await length.fill('30');
  await length.press('Enter');
  await saved(page);
  expect(find(await model(page, request, project), 'bus', id('pen-33'))!.stationEarthing?.electrode).toMatchObject({
    kind: 'grid',
    lengthM: 30,
  });

  await page.getByRole('radiogroup', { name: 'Shown' }).getByText('Towers and cables').click();
  await page
    .getByRole('table', { name: 'Towers and cables' })
    .getByRole('row', { name: /^PEN-SKE/ })
    .click();
  const path = page.getByRole('region', { name: 'Path of PEN-SKE' });
  await path.getByRole('combobox', { name: 'Take over from' }).click();
  await page.getByRole('option', { name: 'FER-MAR' }).click();
  await expect(path.getByRole('status', { name: 'The path in short' })).toContainText('over 8.700 km');
  const footings = path.getByRole('textbox', { name: 'Footings one by one, Ω' }).first();
  await footings.fill('12, twelve');
  await footings.press('Enter');
  await expect(path.getByText('"twelve" is not a number')).toBeVisible();
  await footings.fill('12, 13, 14');
  await footings.press('Enter');
  const insulated = path.getByRole('textbox', { name: 'Shield wires insulated at towers' });
  await insulated.fill('900');
  await insulated.press('Enter');
  await expect(path.getByText(/there are towers 1 to/)).toBeVisible();
  await insulated.fill('3, 5-7');
  await insulated.press('Enter');
  await path.getByRole('button', { name: 'Further wire' }).first().click();
  await path.getByRole('combobox', { name: 'From the library, wire 1 of stretch 1' }).click();
  await page.getByRole('option', { name: 'Copper, stranded, 95 mm²' }).click();
  await saved(page);
  const stored = () =>
    model(page, request, project).then((network) => find(network, 'line', id('pen-ske'))!.returnPath);
  expect(await stored()).toMatchObject({ insulatedAt: [3, 5, 6, 7] });
  expect((await stored())!.stretches[0]).toMatchObject({
    footingsOhm: [12, 13, 14],
    wires: [{ name: 'counterpoise', sectionMm2: 95, rOhmPerKm: 0.193 }],
  });
  await page.getByRole('button', { name: /^Undo/ }).click();
  await saved(page);
  expect((await stored())!.stretches[0].wires[0].sectionMm2).toBe(50);

  await page.getByRole('radiogroup', { name: 'Shown' }).getByText('Faults along a line').click();
  await page.getByRole('combobox', { name: 'Line of the fault' }).click();
  await page.getByRole('option', { name: 'FER-MAR' }).click();
  const along = page.getByRole('table', { name: 'Faults along the line' });
  await along.getByRole('row', { name: /^5 / }).click();
  await expect(page.getByRole('region', { name: 'Earth fault at tower 5 of FER-MAR' })).toContainText(
    'Fault at tower 5 of FER-MAR',
  );
});

test('a study without a network, on an empty page', async ({ page, request }) => {
  const project = await blank(request);
  await openDesk(page, project, 'earthReturn');
  await page.getByRole('radiogroup', { name: 'Shown' }).getByText('Without network').click();
  await page.getByRole('button', { name: 'Study', exact: true }).click();
  const form = page.getByRole('region', { name: 'Study 1', exact: true });
  const card = page.getByRole('region', { name: 'Earth fault at Study 1' });
  // No arrangement of conductors yet: all of it goes into the grid.
  await expect(card.getByRole('status', { name: 'Split factor' })).toContainText('100');
  await form.getByRole('button', { name: 'Towers', exact: true }).click();
  await form.getByRole('button', { name: 'Further wire' }).click();
  await form.getByRole('combobox', { name: 'Lies, wire 1 of stretch 1' }).click();
  await page.getByRole('option', { name: 'in the air, joined to every tower' }).click();
  const height = form.getByRole('textbox', { name: 'Height, wire 1 of stretch 1 in m' });
  await height.fill('22');
  await height.press('Enter');
  await saved(page);
  const [study] = ofKind(await model(page, request, project), 'earthStudy');
  expect(study.lines[0].path.stretches[0].wires[0]).toMatchObject({ lies: 'joined', heightM: 22 });
  await toStage(page, 'Network');
  await toStage(page, 'Earth return');
  await expect(card.getByRole('status', { name: 'Split factor' })).not.toContainText('100');
});
