/** Differential protection on the desk: the table, the plane held by its rings, ends linked, current transformers. */
import { expect, test, type Page } from '@playwright/test';
import type { Element } from '../core/src/model/element';
import { elementId } from '../core/src/model/fields';
import { find } from '../core/src/model/network';
import type { DifferentialFunction } from '../core/src/protection/differential/schema';
import { centerOf, demoText, drag, importProject, model, openDesk, saved } from './desk';

const id = elementId;
const bench = (page: Page) => page.getByRole('region', { name: 'Differential' });
const functionOf = async (page: Page, request: Parameters<typeof model>[1], project: string, relay: string) =>
  find(await model(page, request, project), 'relay', id(relay))!.functions.find(
    (fn): fn is DifferentialFunction => fn.family === 'differential',
  )!;

test('what is seen inside and borne outside; the pickup moved by its ring and by steps', async ({ page, request }) => {
  const project = await importProject(request);
  await openDesk(page, project, 'differential');
  const table = bench(page).getByRole('table', { name: 'Differential functions' });
  await expect(table.getByRole('row', { name: /^FER T1 relay 87T FER T1 3\.07/ })).toContainText('OK');
  await table.getByRole('row', { name: /^FER T1 relay/ }).click();
  const plane = bench(page).getByRole('img', { name: 'Operating over restraining current' });
  await expect(plane.locator('circle[aria-label="Pickup"]')).toBeVisible();
  await expect(bench(page).getByText(/largest through-fault: .* × threshold/)).toBeVisible();
  const ring = await centerOf(plane.locator('circle[aria-label="Pickup"]'));
  await drag(page, ring, { x: ring.x + 1, y: ring.y - 60 });
  await saved(page);
  const moved = (await functionOf(page, request, project, 'fer-t1-relay')).pickup;
  expect(moved).toBeGreaterThan(0.4);
  await bench(page).getByRole('button', { name: 'Pickup: one step down' }).click();
  await saved(page);
  expect((await functionOf(page, request, project, 'fer-t1-relay')).pickup).toBeCloseTo(moved - 0.01, 9);
});

test('ends of a line are linked, both relays name each other, and sides are fitted', async ({ page, request }) => {
  const { elements, ...rest } = JSON.parse(demoText) as { elements: Element[] };
  const apart = elements.map((element): Element => {
    if (element.kind !== 'relay' || !['cau-q01-relay', 'fer-q01-relay'].includes(element.id)) return element;
    const functions = element.functions.flatMap((fn): (typeof element)['functions'] => {
      if (fn.family !== 'differential') return [fn];
      return element.id === 'cau-q01-relay' ? [{ ...fn, partners: [], sides: fn.sides.slice(0, 1) }] : [];
    });
    return { ...element, functions };
  });
  const project = await importProject(request, JSON.stringify({ ...rest, elements: apart }));
  await openDesk(page, project, 'differential');
  await expect(
    bench(page)
      .getByRole('table', { name: 'Differential functions' })
      .getByRole('row', { name: /^CAU Q01 relay 87L .*one side only/ }),
  ).toBeVisible();
  await bench(page).getByRole('radio', { name: 'Sides' }).locator('xpath=..').click();
  const ends = bench(page).getByRole('table', { name: 'Relays that could be the other end' });
  const first = ends.getByRole('row').nth(1);
  await expect(first).toContainText('FER Q01 relay');
  await expect(first).toContainText('faces this end');
  await first.getByRole('button', { name: 'Link' }).click();
  await saved(page);
  await bench(page).getByRole('button', { name: 'Fit to the network' }).click();
  await saved(page);
  const [own, there] = [
    await functionOf(page, request, project, 'cau-q01-relay'),
    await functionOf(page, request, project, 'fer-q01-relay'),
  ];
  expect(own.partners).toEqual(['fer-q01-relay']);
  expect(there.partners).toEqual(['cau-q01-relay']);
  expect(own.sides).toHaveLength(2);
  await bench(page).getByRole('radio', { name: 'Current transformers' }).locator('xpath=..').click();
  await expect(
    bench(page)
      .getByRole('table', { name: 'Current transformers' })
      .getByRole('row', { name: /CAU CT01 .*87L.*too small/ }),
  ).toBeVisible();
});
