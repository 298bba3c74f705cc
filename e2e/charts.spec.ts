/** Everything else that a grading chart does: both quantities, other plots, flags, caliper, guests, states, gallery, print; pairs and directions of the network. */
import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { elementId } from '../core/src/model/fields';
import { find, ofKind, settingsOf } from '../core/src/model/network';
import { blank, centerOf, drag, importProject, model, openDesk, press, saved, symbol, toStage } from './desk';

const id = elementId;
const chartSvg = (page: Page) => page.getByRole('group', { name: 'Time–current chart' });
const curve = (page: Page, name: string) => chartSvg(page).locator(`path[data-curve="${name}"]`);
const segment = (page: Page, group: string, name: string) =>
  page.getByRole('radiogroup', { name: group }).getByText(name, { exact: true }).click();
const choose = async (page: Page, name: string) => {
  await page.getByRole('combobox', { name: 'Chart' }).click();
  await page.getByRole('option', { name }).click();
};

test('phase and earth together, other plots, multiples of a pickup, flags of one’s own', async ({ page, request }) => {
  const project = await importProject(request);
  await openDesk(page, project, 'grading');
  await expect(curve(page, 'BRA Q21')).not.toHaveCount(0);
  await segment(page, 'Kind of faults', 'Both');
  await expect(curve(page, 'BRA Q21 3I0')).toHaveCount(1);
  const pairs = page.getByRole('table', { name: 'Pairs', exact: true });
  await expect(pairs.getByRole('row', { name: /BRA Q32 → BRA Q21, phase/ })).toHaveCount(1);
  await expect(pairs.getByRole('row', { name: /BRA Q32 → BRA Q21, 3I0/ })).toHaveCount(1);
  await segment(page, 'Kind of faults', 'Phase');

  await page.getByRole('combobox', { name: 'Referred to' }).click();
  await page.getByRole('option', { name: 'BRA Q11 relay' }).click();
  await expect(chartSvg(page).getByText('primary current in multiples of the pickup of BRA Q11')).toBeVisible();
  await expect(chartSvg(page).getByText('1 ×', { exact: true })).toBeVisible();
  await page.getByRole('combobox', { name: 'Referred to' }).click();
  await page.getByRole('option', { name: 'at 11 kV' }).click();

  await page.getByRole('button', { name: 'Look' }).click();
  const own = page.getByRole('group', { name: 'Own flags' });
  await own.getByRole('textbox', { name: 'Text of the flag' }).fill('arc furnace');
  await own.getByRole('textbox', { name: 'Current of the flag' }).fill('lots');
  await own.getByRole('button', { name: 'Add flag' }).click();
  await expect(own.getByRole('alert')).toContainText('above 0 A');
  await own.getByRole('textbox', { name: 'Current of the flag' }).fill('0.85k');
  await own.getByRole('button', { name: 'Add flag' }).click();
  await expect(chartSvg(page).getByText('arc furnace 850 A')).toBeVisible();
  await page.getByRole('checkbox', { name: /^first half-cycle/ }).check();
  await expect(chartSvg(page).getByText(/^first cycle BRA Q21/)).toBeVisible();
  await page.getByRole('group', { name: 'Colours and dashes' }).getByRole('button', { name: 'BRA Q21 relay' }).click();
  await page.getByRole('button', { name: 'BRA Q21 relay dash 1' }).click();
  await page.keyboard.press('Escape');

  await segment(page, 'Shows', 'Let-through');
  await expect(chartSvg(page).getByText(/energy let through$/)).toBeVisible();
  await choose(page, 'Brackwater low-voltage board');
  await segment(page, 'Shows', 'Let-through');
  await expect(curve(page, 'Dosing cable k²S²')).toHaveCount(1);
  await segment(page, 'Shows', 'Cut-off');
  await expect(curve(page, 'BRA F52')).toHaveCount(1);
  await expect(page.getByRole('list', { name: 'Not confirmed' })).toContainText('BRA F52');

  const charts = ofKind(await model(page, request, project), 'gradingChart');
  expect(charts.find((chart) => chart.id === 'chart-phase')).toMatchObject({
    mode: 'phase',
    multiplesOf: null,
    shows: 'energy',
    flags: ['maximum', 'minimum', 'firstCycle'],
    ownFlags: [{ text: 'arc furnace', currentA: 850 }],
    looks: [{ device: 'bra-q21-relay', dash: 0 }],
  });
});

test('the caliper measures between any two curves, and is kept as a note', async ({ page, request }) => {
  const project = await importProject(request);
  await openDesk(page, project, 'grading');
  await page.getByRole('textbox', { name: 'Current asked about' }).fill('3k');
  await page.keyboard.press('Enter');
  const caliper = page.getByRole('group', { name: 'Caliper' });
  await caliper.getByLabel('Caliper from').selectOption({ label: 'FER Q31' });
  await caliper.getByLabel('Caliper to').selectOption({ label: 'FER Q31' });
  await expect(caliper).toContainText('Choose two different curves.');
  await caliper.getByLabel('Caliper to').selectOption({ label: 'BRA Q21' });
  await expect(caliper.getByRole('status')).toContainText(
    /^BRA Q21 cleared by 0\.\d+ s, FER Q31 from [\d.]+ s: [\d.]+ s/,
  );
  await caliper.getByRole('button', { name: 'Keep caliper as a note' }).click();
  await expect(page.getByRole('button', { name: /^Remove note BRA Q21 to FER Q31: / })).toBeVisible();
});

test('a guest in the place of a device is judged beside it, dragged by key, and swapped in', async ({
  page,
  request,
}) => {
  const project = await importProject(request);
  await openDesk(page, project, 'grading');
  await page.getByRole('button', { name: 'Guests' }).click();
  await page.getByLabel('Kind of guest').selectOption({ label: 'BRA Q21 relay' });
  await page.getByRole('button', { name: 'Add guest' }).click();
  await page.keyboard.press('Escape');
  await expect(curve(page, 'BRA Q21 other (guest)')).toHaveCount(1);
  const beside = page.getByRole('row', { name: /BRA Q32 → BRA Q21 with BRA Q21 other/ });
  await expect(beside).toContainText('not met');
  const time = page.getByRole('slider', { name: 'BRA Q21 other 51 time multiplier' });
  await expect(time).toHaveAttribute('aria-valuenow', '0.07');
  await time.focus();
  for (let k = 0; k < 3; k++) await time.press('ArrowUp');
  await expect(beside).toContainText('OK');
  // The device itself is as it was.
  await expect(page.getByRole('row', { name: /BRA Q32 → BRA Q21 5/ })).toContainText('not met');
  await page.getByRole('button', { name: 'Guests (1)' }).click();
  await page.getByRole('button', { name: 'Swap in' }).click();
  await page.keyboard.press('Escape');
  await expect(curve(page, 'BRA Q21 other (guest)')).toHaveCount(0);
  await expect(page.getByRole('row', { name: /BRA Q32 → BRA Q21 / })).toContainText('OK');
  const relay = find(await model(page, request, project), 'relay', id('bra-q21-relay'))!;
  expect(relay.functions[0]).toMatchObject({ timeMultiplier: 0.1 });
  await page.keyboard.press('Control+z');
  await expect(curve(page, 'BRA Q21 other (guest)')).toHaveCount(1);
});

test('variants stand side by side, one is taken over, and the chart says what has changed since', async ({
  page,
  request,
}) => {
  const project = await importProject(request);
  await openDesk(page, project, 'grading');
  const time = page.getByRole('slider', { name: 'BRA Q21 relay 51 time multiplier' });
  const keep = async (name: string) => {
    await page.getByRole('button', { name: /^States/ }).click();
    await page.getByRole('textbox', { name: 'Name of the state' }).fill(name);
    await page.getByRole('button', { name: 'Keep this state' }).click();
    await expect(page.getByRole('list', { name: 'States of the chart' })).toContainText(name);
    await page.keyboard.press('Escape');
  };
  await page.getByRole('row', { name: /BRA Q32 → BRA Q21/ }).click();
  await keep('as found');
  await time.focus();
  for (let k = 0; k < 2; k++) await time.press('ArrowUp');
  await keep('slower');
  await page.getByRole('button', { name: 'Discard' }).click();
  await expect(page.getByRole('status', { name: 'Compared state' })).toContainText('changed: BRA Q21 relay');
  await page.getByRole('button', { name: 'Show both' }).click();
  const table = page.getByRole('table', { name: 'Pairs', exact: true });
  for (const name of ['in as found', 'in slower'])
    await expect(table.getByRole('columnheader', { name })).toBeVisible();
  await page.getByRole('button', { name: 'States (2)' }).click();
  await page.getByRole('button', { name: 'Take over slower' }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('row', { name: /BRA Q32 → BRA Q21/ })).toContainText('OK');
  await page.getByRole('button', { name: 'Store', exact: true }).click();
  await expect(page.getByRole('status', { name: 'Compared state' })).toContainText('Set as in “slower”');
  await saved(page);
  await page.reload();
  await expect(page.getByRole('button', { name: 'States (2)' })).toBeVisible();
  expect(find(await model(page, request, project), 'relay', id('bra-q21-relay'))!.functions[0]).toMatchObject({
    timeMultiplier: 0.09,
  });
});

test('charts are arranged in the gallery and printed together', async ({ page, request }) => {
  const project = await importProject(request);
  await openDesk(page, project, 'grading');
  await segment(page, 'View', 'All charts');
  const gallery = page.getByRole('list', { name: 'Charts' });
  await expect(gallery.getByRole('listitem')).toHaveCount(7);
  await expect(gallery.getByRole('listitem').nth(0)).toContainText('1 not met');
  await gallery.getByRole('button', { name: 'Move Brackwater 11 kV, earth forward' }).click();
  await expect(gallery.getByRole('listitem').nth(0)).toContainText('Brackwater 11 kV, earth');
  for (const name of ['High-pressure pumps', 'Pennywell to Fernhill', 'FER-BRA, both ends'])
    await gallery.getByRole('checkbox', { name: `Print ${name}` }).uncheck();
  await saved(page);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Print 4 as PDF' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('Sorrel Island, grading charts.pdf');
  const pdf = readFileSync((await download.path())!, 'latin1');
  expect(pdf.slice(0, 5)).toBe('%PDF-');
  expect(pdf.match(/\/Type \/Page\b/g)!.length).toBe(8);
  await gallery.getByRole('button', { name: 'Open Brackwater 11 kV, earth' }).click();
  await expect(page.getByRole('combobox', { name: 'Chart' })).toHaveValue('Brackwater 11 kV, earth');
});

test('pairs of the network are left out with a reason; directions and what is protected are told', async ({
  page,
  request,
}) => {
  const project = await importProject(request);
  await openDesk(page, project, 'grading');
  await segment(page, 'View', 'All pairs');
  const table = page.getByRole('table', { name: 'Pairs of the network' });
  await table.getByRole('button', { name: 'Leave out BRA Q37 → BRA Q21, phase' }).click();
  await table.getByRole('button', { name: 'Leave out', exact: true }).click();
  await expect(table.getByText('A reason is needed here.')).toBeVisible();
  await table.getByRole('textbox', { name: /^Why BRA Q37/ }).fill('Section B is fed by T2.');
  await page.keyboard.press('Enter');
  await segment(page, 'Pairs shown', 'Left out');
  await expect(table.getByRole('row', { name: /BRA Q37 → BRA Q21/ })).toHaveCount(2);
  await expect(table).toContainText('Section B is fed by T2.');
  expect(settingsOf(await model(page, request, project)).pairRulings).toEqual([
    { downstream: 'bra-q37-relay', upstream: 'bra-q21-relay', graded: false, reason: 'Section B is fed by T2.' },
  ]);
  await table.getByRole('button', { name: 'As found: BRA Q37 → BRA Q21, phase' }).click();
  await expect(table.getByRole('row', { name: /BRA Q37 → BRA Q21/ })).toHaveCount(0);

  await segment(page, 'View', 'Directions');
  const directions = page.getByRole('table', { name: 'Directions' });
  await expect(directions.getByRole('row', { name: /^BRA Q21/ })).toContainText('needed');
  await expect(directions.getByRole('row', { name: /^BRA Q01/ })).toContainText('directional');
  await expect(directions.getByRole('row', { name: /^PEN R1/ })).toContainText('none needed');
  await segment(page, 'View', 'Protects');
  const protects = page.getByRole('table', { name: 'What each device protects' });
  await expect(protects.getByRole('row', { name: /^BRA Q32/ })).toContainText('BRA TL1');
});

test('a relay drawn in a feeder comes with its usual functions, assumed until somebody sets them', async ({
  page,
  request,
}) => {
  const project = await blank(request);
  await openDesk(page, project);
  await press(page, ['b', 'ArrowUp', 'Enter', 'Enter', 'k', 'c', 'r', 'l', 'm', 'Enter']);
  await saved(page);
  const drawn = async () => ofKind(await model(page, request, project), 'relay')[0];
  const codes = ({ functions }: Awaited<ReturnType<typeof drawn>>) =>
    functions.map((fn) => (fn.family === 'overcurrent' ? fn.code : fn.family));
  expect(codes(await drawn())).toEqual(['51', '50', '51N']);
  expect((await drawn()).assumed).toEqual(['functions']);
  await page.keyboard.press('Escape');
  await symbol(page, 'Relay 1').click();
  await expect(page.getByRole('heading', { name: /^Functions assumed/ })).toBeVisible();
  await page.getByRole('button', { name: '51 pickup one step up' }).click();
  await expect(page.getByRole('heading', { name: 'Functions', exact: true })).toBeVisible();
  expect((await drawn()).assumed).toBeUndefined();
});

test('a chart stands on the drawing beside what it covers, follows it, is sized, and opens', async ({
  page,
  request,
}) => {
  const project = await importProject(request);
  await openDesk(page, project, 'grading');
  await expect(curve(page, 'BRA Q21')).not.toHaveCount(0);
  await page.getByRole('button', { name: 'More for this chart' }).click();
  await page.getByRole('menuitem', { name: /^Put on the drawing/ }).click();
  const picture = page.getByRole('img', { name: 'Brackwater low voltage to Fernhill, 1 of 5 margins not met' });
  await expect(picture).toBeVisible();
  await expect(picture.getByText('BRA Q21', { exact: true })).toBeVisible();

  // What the chart says it says, too: the proposal puts the margin right.
  await page.getByRole('button', { name: 'time multiplier 0.09 meets the margin' }).click();
  await page.getByRole('button', { name: 'Store', exact: true }).click();
  await expect(page.getByRole('img', { name: 'Brackwater low voltage to Fernhill', exact: true })).toBeVisible();
  await choose(page, 'High-pressure pumps');
  await symbol(page, 'chart on the drawing').dblclick();
  await expect(page.getByRole('combobox', { name: 'Chart' })).toHaveValue('Brackwater low voltage to Fernhill');

  await toStage(page, 'Network');
  await symbol(page, 'chart on the drawing').click();
  await expect(
    page.getByRole('textbox', { name: 'Chart' }).or(page.getByRole('combobox', { name: 'Chart' })),
  ).toHaveValue('Brackwater low voltage to Fernhill');
  const before = ofKind(await model(page, request, project), 'chartPicture')[0];
  const corner = await centerOf(symbol(page, 'chart on the drawing').locator('.react-flow__resize-control'));
  await drag(page, corner, { x: corner.x + 40, y: corner.y + 30 });
  await saved(page);
  const sized = ofKind(await model(page, request, project), 'chartPicture')[0];
  expect(sized.width).toBeGreaterThan(before.width);
  expect(sized.height).toBeGreaterThan(before.height);
  expect([sized.x, sized.y]).toEqual([before.x, before.y]);
  await page.keyboard.press('Delete');
  await expect(symbol(page, 'chart on the drawing')).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(symbol(page, 'chart on the drawing')).toHaveCount(1);
});
