/** Grading from nothing to a chart: a supply path taken, lines of what is protected, questions, a fuse walked through its sizes, files. */
import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { find, ofKind } from '../core/src/model/network';
import { elementId } from '../core/src/model/fields';
import { demoText, importProject, model, openDesk, saved, symbol } from './desk';

const withoutCharts = () => {
  const file = JSON.parse(demoText) as { elements: { kind: string }[] };
  return JSON.stringify({ ...file, elements: file.elements.filter(({ kind }) => kind !== 'gradingChart') });
};
const curve = (page: Page, name: string) =>
  page.getByRole('group', { name: 'Time–current chart' }).locator(`path[data-curve="${name}"]`);

test('a chart is offered, taken, read, and kept', async ({ page, request }) => {
  const id = await importProject(request, withoutCharts());
  await openDesk(page, id, 'grading');

  // Of everything that backs something up; that of the selection first.
  const paths = page.getByRole('list', { name: 'Supply paths' });
  const whole = 'PEN F2 › PEN R1 › PEN Q11 › FER Q33 › FER Q21';
  await expect(paths.getByRole('button', { name: whole })).toBeVisible();
  await symbol(page, 'PEN R1').click();
  await expect(paths.getByRole('button').first()).toHaveText(/^PEN R1 › PEN Q11 › FER Q33 › FER Q21/);
  await paths.getByRole('button', { name: whole }).click();
  const pairs = page.getByRole('table', { name: 'Pairs' });
  await expect(pairs.getByRole('row', { name: /PEN F2 → PEN R1/ })).toContainText('OK');
  await expect(pairs.getByRole('row', { name: /PEN R1 → PEN Q11/ })).toContainText('OK');
  await expect(curve(page, 'PEN F2')).not.toHaveCount(0);

  // A transformer on the drawing brings what it bears and its inrush.
  await symbol(page, 'Pole 2').click();
  await expect(curve(page, 'Pole 2 withstand')).toHaveCount(1);
  await expect(curve(page, 'Pole 2 inrush (typical)')).toHaveCount(1);
  await page.getByRole('button', { name: 'Lines (2)' }).click();
  await page.getByRole('checkbox', { name: 'Pole 2 inrush' }).uncheck();
  await expect(curve(page, 'Pole 2 inrush (typical)')).toHaveCount(0);
  await page.keyboard.press('Escape');

  // What each does at a current, in the order of the devices; kept as a note.
  await page.getByRole('textbox', { name: 'Current asked about' }).fill('600');
  await page.keyboard.press('Enter');
  const times = page.getByRole('table', { name: 'Times at 600 A' });
  const clears = async (name: string) =>
    Number(
      (await times
        .getByRole('row', { name: new RegExp(`^${name}`) })
        .getByRole('cell')
        .nth(3)
        .textContent())!.replace(' s', ''),
    );
  expect(await clears('PEN F2')).toBeLessThan(await clears('PEN R1'));
  await expect(times.getByRole('row', { name: /^FER Q21/ })).toContainText('–');
  await page.getByRole('button', { name: 'Keep as a note' }).click();
  await page.getByRole('textbox', { name: 'Time asked about' }).fill('0.5 s');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('list', { name: 'Currents at 0.500 s' })).toContainText(/PEN F2: \d/);
  await page.getByRole('textbox', { name: 'Time asked about' }).fill('nonsense');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/not a number/i).first()).toBeVisible();
  await page.keyboard.press('Escape');

  await saved(page);
  await page.reload();
  await expect(page.getByRole('button', { name: /^Remove note PEN F2/ })).toBeVisible();
  await expect(curve(page, 'Pole 2 withstand')).toHaveCount(1);
  const stored = ofKind(await model(page, request, id), 'gradingChart');
  expect(stored).toHaveLength(1);
  expect(stored[0]).toMatchObject({ referenceKv: 11, limits: [{ element: 'pole-2', line: 'withstand' }] });
  expect(stored[0].notes[0].currentA).toBe(600);
});

test('a fuse walks through the sizes that are made, and the margin with it', async ({ page, request }) => {
  const id = await importProject(request, withoutCharts());
  await openDesk(page, id, 'grading');
  await page
    .getByRole('list', { name: 'Supply paths' })
    .getByRole('button', { name: /^PEN F2/ })
    .click();
  await page
    .getByRole('list', { name: 'Devices on the chart' })
    .getByRole('button', { name: 'PEN F2', exact: true })
    .click();
  const pair = page.getByRole('table', { name: 'Pairs' }).getByRole('row', { name: /PEN F2 → PEN R1/ });
  const margin = async () => Number((await pair.getByRole('cell').nth(2).textContent())!.replace(' s', ''));
  await expect(pair).toContainText('OK');
  const before = await margin();
  const size = page.getByRole('slider', { name: /^PEN F2 25 A K rated current/ });
  await size.press('ArrowRight');
  const next = page.getByRole('slider', { name: /^PEN F2 30 A K rated current/ });
  await expect(next).toHaveAttribute('aria-valuenow', '30');
  // The chart follows the keys, not the other way round: what is drawn comes a moment later.
  await expect.poll(margin).toBeLessThan(before);
  // Far up: the link outlasts the recloser.
  for (let k = 0; k < 8; k++) await page.getByRole('slider', { name: /^PEN F2 .* rated current/ }).press('ArrowRight');
  await expect(pair).not.toContainText('OK');
  await page.getByRole('textbox', { name: /rated current/ }).fill('33');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Not made in this size; nearest 30.')).toBeVisible();
  await page.getByRole('textbox', { name: /rated current/ }).fill('20');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Store', exact: true }).click();
  expect(find(await model(page, request, id), 'switch', elementId('pen-f2'))!.functions[0]).toMatchObject({
    linkA: 20,
  });
});

test('the chart goes out as picture and as points, and without its bands', async ({ page, request }) => {
  await openDesk(page, await importProject(request), 'grading');
  const menu = () => page.getByRole('button', { name: 'More for this chart' }).click();
  const save = async (name: string) => {
    await menu();
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('menuitem', { name }).click()]);
    return { name: download.suggestedFilename(), text: readFileSync((await download.path())!, 'latin1') };
  };
  await expect(curve(page, 'BRA Q21')).not.toHaveCount(0);
  const svg = await save('Save as SVG');
  expect(svg.name).toBe('Brackwater low voltage to Fernhill.svg');
  for (const part of ['<svg', 'BRA Q21', 'Sorrel Island', 'primary current referred to 11 kV'])
    expect(svg.text).toContain(part);
  const points = await save('Save points as CSV');
  expect(points.text).toContain('Curve,Edge,Current A,Time s');
  expect(points.text).toMatch(/BRA Q21,latest,/);
  expect((await save('Save as PNG')).text.slice(1, 4)).toBe('PNG');
  const areas = () => page.getByRole('group', { name: 'Time–current chart' }).locator('path[fill-opacity]').count();
  expect(await areas()).toBeGreaterThan(3);
  await page.getByRole('button', { name: 'Look' }).click();
  await page.getByRole('checkbox', { name: 'Bands' }).uncheck();
  await page.keyboard.press('Escape');
  await expect.poll(areas).toBe(0);
  await menu();
  await page.getByRole('menuitem', { name: 'Duplicate' }).click();
  await expect(page.getByRole('combobox', { name: 'Chart' })).toHaveValue(/^Brackwater low voltage to Fernhill \d/);
});

test('a curve of one’s own and a range by hand stay with the chart', async ({ page, request }) => {
  const id = await importProject(request);
  await openDesk(page, id, 'grading');
  await expect(curve(page, 'BRA Q21')).not.toHaveCount(0);
  await page.getByRole('button', { name: /^Lines/ }).click();
  const own = page.getByRole('group', { name: 'Own curves' });
  await own.getByRole('textbox', { name: 'Name of the curve' }).fill('Arc furnace');
  await own.getByRole('textbox', { name: 'Points of the curve' }).fill('600 ten');
  await own.getByRole('button', { name: 'Add curve' }).click();
  await expect(own.getByText(/^Line 1: /)).toBeVisible();
  await own.getByRole('textbox', { name: 'Points of the curve' }).fill('600 10\n1200 0.5');
  await own.getByRole('button', { name: 'Add curve' }).click();
  await expect(curve(page, 'Arc furnace')).toHaveCount(1);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Look' }).click();
  const range = page.getByRole('group', { name: 'Range of the chart' });
  await range.getByRole('textbox', { name: /^Currents to/ }).fill('20');
  await page.keyboard.press('Enter');
  await expect(range.getByText(/must span/)).toBeVisible();
  await range.getByRole('textbox', { name: /^Currents to/ }).fill('5000');
  await page.keyboard.press('Enter');
  await expect(range.getByRole('button', { name: 'Automatic' })).toBeVisible();
  const chart = ofKind(await model(page, request, id), 'gradingChart').find(({ name }) =>
    name.startsWith('Brackwater low'),
  )!;
  expect(chart.range).toMatchObject({ toA: 5000 });
  expect(chart.own).toEqual([
    {
      name: 'Arc furnace',
      kind: 'device',
      points: [
        [600, 10],
        [1200, 0.5],
      ],
    },
  ]);
  await range.getByRole('button', { name: 'Automatic' }).click();
  await page.keyboard.press('Escape');
  // Used again on another chart, at its own voltage.
  await page.getByRole('combobox', { name: 'Chart' }).click();
  await page.getByRole('option', { name: 'FER-BRA, both ends' }).click();
  await page.getByRole('button', { name: /^Lines/ }).click();
  await own.getByLabel('Curve of another chart').selectOption('Arc furnace');
  await expect(curve(page, 'Arc furnace')).toHaveCount(1);
  await page.keyboard.press('Escape');
  const pair = ofKind(await model(page, request, id), 'gradingChart').find((each) => each.id === 'chart-pair')!;
  expect(pair.own[0].points[0]).toEqual([200, 10]);
  await page.getByRole('combobox', { name: 'Chart' }).click();
  await page.getByRole('option', { name: 'Brackwater low voltage to Fernhill' }).click();
  await page.getByRole('button', { name: /^Lines/ }).click();
  await own.getByRole('button', { name: 'Remove curve Arc furnace' }).click();
  await expect(curve(page, 'Arc furnace')).toHaveCount(0);
});
