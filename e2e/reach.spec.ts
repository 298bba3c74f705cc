/** Reaches by rule at the ends of the 132 kV ring: seen, decided by what, taken by one zone and whole; in the plane of impedance and along a route. */
import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import type { Element } from '../core/src/model/element';
import { elementId } from '../core/src/model/fields';
import { find } from '../core/src/model/network';
import type { DistanceFunction } from '../core/src/protection/distance/schema';
import { withDistanceRelay } from '../core/src/test/distance';
import { centerOf, demoText, drag, importProject, model, openDesk, saved, symbol } from './desk';

const id = elementId;

function withDistance(): string {
  const project = JSON.parse(demoText) as { elements: Element[] };
  return JSON.stringify({ ...project, elements: withDistanceRelay(project.elements) });
}

test('zones by rule: what decided is marked, one zone is taken, then all; earlier settings stay', async ({
  page,
  request,
}) => {
  const project = await importProject(request, withDistance());
  await openDesk(page, project, 'reach');
  const table = page.getByRole('table', { name: 'Reaches' });
  await expect(page.getByRole('status').filter({ hasText: 'line ends' })).toHaveText(
    '11 line ends, 1 with distance protection',
  );
  await page.getByRole('combobox', { name: 'Station', exact: true }).click();
  await page.getByRole('option', { name: 'FER', exact: true }).click();
  await expect(table).not.toContainText('TOL-CAU');
  await table.getByRole('row', { name: /^FER FER-MAR 3 22\.74/ }).click();
  const third = page.getByRole('article', { name: 'Zone 3 of FER, FER-MAR' });
  await expect(third).toContainText('own + 1.2 * longestNext');
  await expect(third).toContainText('longestNext = 7.918 Ω, MAR-QUE + QUE-TOL');
  // What decided it is selected on the drawing.
  await expect(page.getByText('FER-MAR, MAR-QUE, QUE-TOL').or(page.getByText('3 selected'))).toBeVisible();
  await table.getByRole('row', { name: /^FER FER-MAR 2 15\.89/ }).click();
  await page.getByRole('button', { name: 'Take zone 2' }).click();
  await saved(page);
  const stored = async () =>
    find(await model(page, request, project), 'relay', id('fer-q03-relay'))!.functions[0] as DistanceFunction;
  const one = await stored();
  // 800/1 A over 132/0.11 kV leaves two thirds of the ohms.
  expect(one.zones.map(({ reachOhm }) => reachOhm)).toEqual([5, 10.59, 12]);
  await page.getByRole('button', { name: 'Take all', exact: true }).click();
  await expect(page.getByText('The reaches are stored')).toBeVisible();
  await saved(page);
  const all = await stored();
  expect(all.zones.map(({ reachOhm, delayS }) => [reachOhm, delayS])).toEqual([
    [7.5, 0],
    [10.59, 0.35],
    [15.16, 0.7],
  ]);
  expect(all.k0).toBeCloseTo(0.661, 3);
  await expect(table.getByRole('row', { name: /^FER FER-MAR 1 .* 7\.500 11\.25/ })).toBeVisible();
});

test('the plane of impedance follows a fault by the keyboard; a route tells where zones end', async ({
  page,
  request,
}) => {
  await openDesk(page, await importProject(request, withDistance()), 'reach');
  await page
    .getByRole('table', { name: 'Reaches' })
    .getByRole('row', { name: /^FER FER-MAR 1/ })
    .click();
  await page.getByRole('radiogroup', { name: 'View' }).getByText('R–X plane').click();
  await expect(page.getByRole('group', { name: /^Zones of FER, FER-MAR/ })).toBeVisible();
  const told = page.getByRole('status').filter({ hasText: / km, on / });
  await expect(told).toContainText(/on FER-MAR: L1L2 .*, L2L3 .*, L3L1/);
  const place = page.getByRole('slider', { name: 'Place of the fault along the way' });
  await place.focus();
  for (let k = 0; k < 3; k++) await place.press('End');
  await expect(told).toContainText('on QUE-TOL');
  await page.getByRole('combobox', { name: 'Kind of fault' }).click();
  await page.getByRole('option', { name: '1-phase' }).click();
  await expect(told).toContainText(/on QUE-TOL: L1E/);
  await page.getByRole('radiogroup', { name: 'View' }).getByText('Route').click();
  const route = page.getByRole('table', { name: 'Zones along FER-MAR – MAR-QUE – QUE-TOL' });
  // Stored zones of the relay, those of the rulebook where there is none.
  await expect(route.getByRole('row', { name: /FER, FER-MAR/ })).toContainText('zone 1: 0–17.9 km, 0 s');
  await expect(route.getByRole('row', { name: /MAR, MAR-QUE/ })).toContainText('zone 1: 31.6–40.3 km');
  await page.getByRole('radiogroup', { name: 'View' }).getByText('Coverage').click();
  // A single relay with zones of 5, 8 and 12 ohms: what it does not see at once it sees later.
  const counts = page.getByRole('table', { name: 'Faults by how they are cleared' });
  await expect(counts.getByRole('row', { name: /^ ?not at all 0/ })).toBeVisible();
  await expect(page.getByRole('img', { name: '3-phase faults along the line' })).toBeVisible();
});

test('a package: begun, a value by hand with its reason, settings taken, statements agreed to and open again, PDF and workbook', async ({
  page,
  request,
}) => {
  const project = await importProject(request);
  await openDesk(page, project, 'reach');
  const view = page.getByRole('radiogroup', { name: 'View' });
  await page
    .getByRole('table', { name: 'Reaches' })
    .getByRole('row', { name: /^FER FER-MAR 1/ })
    .click();
  await view.getByText('Package').click();
  await page.getByRole('button', { name: 'Begin the package of FER-MAR' }).click();
  const pack = page.getByRole('region', { name: 'Line package FER-MAR, 132 kV' });
  await pack.getByRole('combobox', { name: 'Scheme' }).click();
  await page.getByRole('option', { name: 'permissive overreach' }).click();
  const table = pack.getByRole('table', { name: 'Elements at FER' });
  await expect(table.getByRole('row', { name: /Overreaching zone, reach/ })).toBeVisible();
  // An undelayed stage that would not see faults close in is not used, and says why.
  await table.getByRole('row', { name: /Phase overcurrent without delay/ }).click();
  const card = pack.getByRole('article', { name: 'Phase overcurrent without delay, pickup at FER' });
  await expect(card).toContainText('three-phase at the far busbar, Maximum sources, MAR-QUE out');
  await expect(card).toContainText('not met: Line, undelayed: sees faults close in');
  await table.getByRole('row', { name: /^21 Zone 2, reach \d/ }).click();
  const second = pack.getByRole('article', { name: 'Zone 2, reach at FER' });
  const field = second.getByRole('textbox', { name: 'Zone 2, reach in Ω' });
  await field.fill('nonsense');
  await field.press('Enter');
  await expect(second).toContainText(/not a number|number/i);
  await field.fill('16.5');
  await field.press('Enter');
  await expect(second).toContainText('give the reason first');
  await second.getByRole('textbox', { name: 'Reason' }).fill('infeed at Marrow Head');
  await field.fill('16.5');
  await field.press('Enter');
  await expect(table.getByRole('row', { name: /^21 Zone 2, reach by hand 16\.50/ })).toBeVisible();
  await pack.getByRole('button', { name: 'Set FER Q03 relay' }).click();
  await expect(page.getByText('The settings are in FER Q03 relay')).toBeVisible();
  const relay = find(await model(page, request, project), 'relay', id('fer-q03-relay'))!;
  const fn = relay.functions[0] as DistanceFunction;
  expect(fn.zones.find(({ name }) => name === '2')!.reachOhm).toBe(11);
  expect(fn.zones.some(({ name }) => name === 'overreach')).toBe(true);
  expect(relay.functions.length).toBeGreaterThan(1);
  await pack.getByText('Loadability').click();
  await expect(
    pack.getByRole('table', { name: 'Proof at FER' }).getByRole('row', { name: /Zone 3 .* yes$/ }),
  ).toBeVisible();
  await pack.getByRole('radiogroup', { name: 'Part of the package' }).getByText('Statements').click();
  await pack.getByRole('button', { name: /^Agree to the \d+ that hold/ }).click();
  await expect(
    pack
      .getByRole('table', { name: 'Statements' })
      .getByText(/^agreed /)
      .first(),
  ).toBeVisible();
  const save = async (format: string) => {
    await pack.getByRole('button', { name: 'Document' }).click();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('menuitem', { name: format }).click(),
    ]);
    return { name: download.suggestedFilename(), bytes: readFileSync((await download.path())!) };
  };
  const pdf = await save('PDF');
  expect(pdf.name).toMatch(/^Sorrel Island.*, FER-MAR, 132 kV, \d{4}-\d\d-\d\d\.pdf$/);
  expect(pdf.bytes.subarray(0, 5).toString('latin1')).toBe('%PDF-');
  expect(pdf.bytes.length).toBeGreaterThan(40_000);
  const workbook = await save('Workbook (XLSX)');
  expect(workbook.bytes.subarray(0, 2).toString('latin1')).toBe('PK');
  // The network moves on: what it touches is open again, here and among the findings.
  await page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: 'Network' }).click();
  await symbol(page, 'MAR-QUE').click();
  const length = page.getByRole('textbox', { name: 'Length in km' });
  await length.fill('9.9');
  await length.press('Enter');
  await saved(page);
  await page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: 'Reach' }).click();
  await view.getByText('Package').click();
  await page.getByRole('combobox', { name: 'Line end' }).click();
  await page.getByRole('option', { name: 'FER, FER-MAR' }).click();
  await expect(pack.getByText(/^\d+ open again$/)).toBeVisible();
});

test('a route: a zone by the keyboard and by the mouse, faults moved along it; the plane held by its rings; coverage of all lines', async ({
  page,
  request,
}) => {
  const project = await importProject(request);
  await openDesk(page, project, 'reach');
  const view = page.getByRole('radiogroup', { name: 'View' });
  const zone2 = async () =>
    (find(await model(page, request, project), 'relay', id('fer-q03-relay'))!.functions[0] as DistanceFunction)
      .zones[1];
  await page
    .getByRole('table', { name: 'Reaches' })
    .getByRole('row', { name: /^FER FER-MAR 2/ })
    .click();
  await view.getByText('Route').click();
  const there = page.getByRole('region', { name: 'Time over distance, there' });
  const handle = there.getByRole('button', { name: /^Zone 2 of FER Q03 relay/ });
  await handle.focus();
  // Faster than the figures follow.
  await handle.evaluate((circle) => {
    for (const key of ['ArrowRight', 'ArrowRight', 'ArrowRight', 'ArrowUp'])
      circle.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
  });
  await saved(page);
  expect(await zone2()).toMatchObject({ reachOhm: 10.62, delayS: 0.36 });
  const from = await centerOf(handle);
  await drag(page, from, { x: from.x + 20, y: from.y });
  const dragged = await zone2();
  expect(dragged.reachOhm).toBeGreaterThan(10.7);
  expect(dragged.delayS).toBeCloseTo(0.36, 1);
  await page.getByText('by faults').click();
  const along = page.getByRole('table', { name: 'Devices along the route' });
  await expect(along.getByRole('row', { name: /^FER Q03 relay distance/ })).toBeVisible();
  await view.getByText('R–X plane').click();
  const ring = page.getByRole('button', { name: /^Reach of zone 1, FER Q03 relay/ });
  await ring.focus();
  await ring.press('Shift+ArrowDown');
  await saved(page);
  const { zones } = find(await model(page, request, project), 'relay', id('fer-q03-relay'))!
    .functions[0] as DistanceFunction;
  expect(zones[0].reachOhm).toBe(7.4);
  await page.getByRole('checkbox', { name: 'swing' }).check();
  await expect(page.getByText(/dotted: a swing/)).toBeVisible();
  await view.getByText('Coverage').click();
  await page.getByRole('checkbox', { name: 'all lines' }).check();
  const lines = page.getByRole('table', { name: 'Coverage of all lines' });
  await lines.getByRole('row', { name: /^TOL-CAU/ }).click();
  await expect(page.getByRole('region', { name: 'Coverage of TOL-CAU' })).toBeVisible();
});

test('reaches in other units and of an area; a rule about a zone is read at a line end', async ({ page, request }) => {
  const project = await importProject(request);
  await openDesk(page, project, 'reach');
  const table = page.getByRole('table', { name: 'Reaches' });
  await page.getByRole('combobox', { name: 'Unit of impedances' }).click();
  await page.getByRole('option', { name: '% of line' }).click();
  await table.getByRole('row', { name: /^FER FER-MAR 1 85\.00 80\.00/ }).click();
  const card = page.getByRole('article', { name: 'Zone 1 of FER, FER-MAR' });
  const reach = card.getByRole('textbox', { name: 'Stored reach in %' });
  await reach.fill('80');
  await reach.press('Enter');
  await saved(page);
  const fn = find(await model(page, request, project), 'relay', id('fer-q03-relay'))!.functions[0] as DistanceFunction;
  // 80 % of 13.24 ohms, two thirds of it secondary.
  expect(fn.zones[0].reachOhm).toBe(7.06);
  // What decided is selected: the line is the area.
  await page.getByRole('button', { name: 'Only the line selected' }).click();
  await expect(table).not.toContainText('TOL-CAU');
  await page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: 'Settings' }).click();
  await page.getByText('Rulebook', { exact: true }).click();
  await page.getByRole('row', { name: /Zone 1, stays within the line/ }).click();
  const rule = page.getByRole('article', { name: 'Rule Zone 1, stays within the line' });
  await rule.getByRole('combobox', { name: 'Example line end' }).click();
  await page.getByRole('option', { name: 'FER, FER-MAR' }).click();
  await expect(rule).toContainText('11.25 Ω');
});
