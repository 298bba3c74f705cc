/** Reaches by rule at the ends of the 132 kV ring: seen, decided by what, taken by one zone and whole; in the plane of impedance and along a route. */
import { expect, test } from '@playwright/test';
import type { Element } from '../core/src/model/element';
import { elementId } from '../core/src/model/fields';
import { find } from '../core/src/model/network';
import type { DistanceFunction } from '../core/src/protection/distance/schema';
import { withDistanceRelay } from '../core/src/test/distance';
import { demoText, importProject, model, openDesk, saved } from './desk';

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
  await expect(table.getByRole('row', { name: /^FER FER-MAR 1 .* 7\.500 7\.060/ })).toBeVisible();
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
  await expect(page.getByRole('img', { name: /^Zones of FER, FER-MAR/ })).toBeVisible();
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
  await expect(route.getByRole('row', { name: /FER, FER-MAR/ })).toContainText('zone 1: 0–23.9 km, 0 s');
  await expect(route.getByRole('row', { name: /MAR, MAR-QUE/ })).toContainText('zone 1: 31.6–40.3 km');
  await page.getByRole('radiogroup', { name: 'View' }).getByText('Coverage').click();
  // A single relay with zones of 5, 8 and 12 ohms: what it does not see at once it sees later.
  const counts = page.getByRole('table', { name: 'Faults by how they are cleared' });
  await expect(counts.getByRole('row', { name: /^ ?not at all 0/ })).toBeVisible();
  await expect(page.getByRole('img', { name: '3-phase faults along the line' })).toBeVisible();
});
