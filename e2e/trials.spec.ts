/** A fault put by a click and played; a curve dragged until the verdict changes; the search, and its worst finding opened. */
import { expect, test, type Page } from '@playwright/test';
import { elementId } from '../core/src/model/fields';
import { find, ofKind } from '../core/src/model/network';
import type { OvercurrentFunction } from '../core/src/protection/overcurrent/schema';
import { drag, importProject, model, openDesk, saved, symbol, toStage } from './desk';

const id = elementId;
const bench = (page: Page) => page.getByRole('region', { name: 'Trials' });

test('a fault by a click: events with their causes, step by step; a curve dragged changes the verdict; kept as a test', async ({
  page,
  request,
}) => {
  const project = await importProject(request);
  await openDesk(page, project, 'trials');
  await expect(bench(page)).toContainText('the fault is put there');
  await symbol(page, 'FER-BRA 1').click();
  await expect(bench(page).getByRole('heading', { name: 'FER-BRA 1 at 50 %' })).toBeVisible();
  const verdict = bench(page).getByText(/cleared after/);
  await expect(verdict).toContainText('selective');
  const events = bench(page).getByRole('table', { name: 'Events' });
  await expect(events.getByRole('row', { name: /^0 fault begins/ })).toBeVisible();
  await expect(events.getByRole('row', { name: /FER Q31 opens FER Q31 relay: 51 trips/ })).toBeVisible();
  // Event by event: the time moves on, and what trips stands there.
  await bench(page).getByRole('button', { name: 'One event on' }).click();
  await expect(bench(page).getByRole('slider')).not.toHaveAttribute('aria-valuenow', '0');
  await bench(page).getByRole('radio', { name: 'Timeline' }).locator('xpath=..').click();
  await expect(bench(page).getByRole('img', { name: 'Timeline of devices and breakers' })).toContainText('FER Q31');
  await bench(page).getByRole('radio', { name: 'Curves' }).locator('xpath=..').click();
  const curve = bench(page).locator('path[data-curve^="fer-q31-relay "]').first();
  const place = await curve.evaluate((node) => {
    const path = node as unknown as SVGPathElement;
    const at = path.getPointAtLength(0.75 * path.getTotalLength());
    const matrix = path.getScreenCTM()!;
    return { x: at.x * matrix.a + matrix.e, y: at.y * matrix.d + matrix.f };
  });
  // Far up: the relay at the transformer comes first.
  await drag(page, place, { x: place.x, y: place.y - 170 });
  await expect(verdict).toContainText(/wrong breaker|too much lost|too slow/);
  const multiplier = async () =>
    (find(await model(page, request, project), 'relay', id('fer-q31-relay'))!.functions[0] as OvercurrentFunction)
      .timeMultiplier;
  expect(await multiplier()).toBeGreaterThan(0.5);
  await page.keyboard.press('Control+z');
  await expect(verdict).toContainText('selective');
  expect(await multiplier()).toBeCloseTo(0.24, 9);
  await bench(page).getByRole('button', { name: 'Keep as a test' }).click();
  await saved(page);
  const kept = ofKind(await model(page, request, project), 'trial');
  expect(kept.map(({ name }) => name)).toContain('3ph fault, FER-BRA 1 at 50 %');
  await bench(page).getByRole('radio', { name: 'Kept trials' }).locator('xpath=..').click();
  const table = bench(page).getByRole('table', { name: 'Kept trials' });
  await expect(table.getByRole('row', { name: /^3ph fault, FER-BRA 1 at 50 % .*selective/ })).toBeVisible();
  await expect(table.getByRole('row', { name: /FER-BRA 2: its two ends only .*wrong breaker/ })).toBeVisible();
  // A breaker that fails is cleared further up, or not at all.
  await table.getByRole('row', { name: /^3ph fault/ }).click();
  await bench(page).getByRole('button', { name: 'Play', exact: true }).click();
  await bench(page)
    .getByRole('textbox', { name: 'Breakers that fail' })
    .or(bench(page).getByRole('combobox', { name: 'Breakers that fail' }))
    .first()
    .click();
  await page.getByRole('option', { name: 'FER Q31', exact: true }).click();
  await page.keyboard.press('Escape');
  await bench(page).getByRole('radio', { name: 'Events' }).locator('xpath=..').click();
  await expect(events.getByRole('row', { name: /FER Q31 fails to open/ })).toBeVisible();
});

test('the search goes on beside other work, groups what goes wrong, and its worst finding plays', async ({
  page,
  request,
}) => {
  const project = await importProject(request);
  await openDesk(page, project, 'trials');
  await bench(page).getByRole('radio', { name: 'Search' }).locator('xpath=..').click();
  const places = bench(page).getByRole('textbox', { name: 'Places along each line' });
  await places.fill('1');
  await places.press('Tab');
  await bench(page).getByRole('button', { name: 'Search', exact: true }).click();
  // Elsewhere meanwhile, and back.
  await toStage(page, 'Faults');
  await expect(page.getByRole('row', { name: /^FER 132 / })).toBeVisible();
  await toStage(page, 'Trials');
  await expect(bench(page).getByText(/\d+ faults played, \d+ not as they should be/)).toBeVisible({ timeout: 60_000 });
  const groups = bench(page).getByRole('table', { name: 'What goes wrong' });
  await expect(groups.getByRole('row', { name: /wrong breaker .*BRA Q02/ }).first()).toBeVisible();
  await groups.getByRole('row').nth(1).click();
  await bench(page).getByRole('table', { name: 'Faults of this cause' }).getByRole('row').nth(1).click();
  await expect(bench(page).getByText('not cleared', { exact: true })).toBeVisible();
});

test('a record of the currents goes to a test set', async ({ page, request }) => {
  await openDesk(page, await importProject(request), 'trials');
  await symbol(page, 'FER-BRA 1').click();
  await bench(page).getByRole('radio', { name: 'Waveforms' }).locator('xpath=..').click();
  const files: string[] = [];
  page.on('download', (download) => files.push(download.suggestedFilename()));
  await bench(page).getByRole('button', { name: 'COMTRADE record' }).click();
  await expect.poll(() => files.map((name) => name.split('.')[1]).sort()).toEqual(['cfg', 'dat']);
});

test('a record is laid beside the trial, and both come to the same where it is the trial’s own', async ({
  page,
  request,
}) => {
  await openDesk(page, await importProject(request), 'trials');
  await symbol(page, 'FER-BRA 1').click();
  await bench(page).getByRole('radio', { name: 'Waveforms' }).locator('xpath=..').click();
  const paths: string[] = [];
  page.on('download', async (download) => {
    const path = test.info().outputPath(download.suggestedFilename());
    await download.saveAs(path);
    paths.push(path);
  });
  await bench(page).getByRole('button', { name: 'COMTRADE record' }).click();
  await expect.poll(() => paths.length).toBe(2);
  const give = async (files: string[]) => {
    const chooser = page.waitForEvent('filechooser');
    await bench(page).getByRole('button', { name: 'Put a record beside' }).click();
    await (await chooser).setFiles(files);
  };
  await give(paths.filter((path) => path.endsWith('.cfg')));
  await expect(bench(page).getByRole('alert')).toContainText(
    'Choose the configuration (.cfg) and the data (.dat) together',
  );
  await give(paths);
  const points = bench(page).getByRole('table', { name: 'Operating points' });
  await expect(points).toBeVisible();
  // Some way into the fault: a whole cycle of it lies before.
  const moment = bench(page).getByRole('slider', { name: 'Time', exact: true });
  for (let k = 0; k < 60; k++) await moment.press('ArrowRight');
  for (const of of ['I L1', 'I L2', 'I L3']) {
    const cells = await points
      .getByRole('row', { name: new RegExp(`^${of}`) })
      .getByRole('cell')
      .allTextContents();
    const [trial, record] = cells.slice(1).map((text) => Number.parseFloat(text));
    expect(trial, of).toBeGreaterThan(0);
    // Both are sampled, at different rates.
    expect(Math.abs(record / trial - 1), of).toBeLessThan(0.01);
  }
});
