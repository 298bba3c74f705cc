/** The Faults stage: every method, places along lines, outages, fault impedances, currents and voltages everywhere. */
import { expect, test, type Page } from '@playwright/test';
import { faultLevel, importProject, openDesk, saved, symbol, toStage } from './desk';

const pickOption = async (page: Page, field: string, option: string | RegExp) => {
  await page.getByRole('combobox', { name: field, exact: true }).click();
  await page.getByRole('option', { name: option }).click();
};

test('along a line, at an open end, with an impedance, without an element', async ({ page, request }) => {
  await openDesk(page, await importProject(request), 'faults');
  const near = await faultLevel(page, 'FER 132');
  await page.getByText('1-phase', { exact: true }).click();
  await page.getByRole('button', { name: 'Options' }).click();
  await pickOption(page, 'On a line', 'CAU-FER 1');
  await expect.poll(() => faultLevel(page, 'CAU-FER 1 at 50 %')).toBeCloseTo(8.214, 2);

  const card = page.getByRole('article', { name: 'Card of CAU-FER 1 at 50 %' });
  await expect(card.getByRole('button', { name: 'CAU-FER 1 from CAU 132' })).toBeVisible();
  await expect(card.getByRole('button', { name: 'CAU-FER 1 from FER 132' })).toBeVisible();
  await card.getByRole('tab', { name: 'Working' }).click();
  await expect(card.getByRole('document', { name: 'Working' })).toContainText('with the mutual impedances');

  const along = page.getByRole('textbox', { name: 'From end 1 in %' });
  await along.fill('250');
  await along.press('Enter');
  await expect(page.getByText('must be at most 99.9 %')).toBeVisible();
  await along.fill('90');
  await along.press('Enter');
  await expect.poll(() => faultLevel(page, 'CAU-FER 1 at 90 %')).toBeLessThan(8.3);
  await pickOption(page, 'Where', 'end 2, breaker open');
  await expect.poll(() => faultLevel(page, 'CAU-FER 1, end 2 open')).toBeLessThan(8);

  const solid = await faultLevel(page, 'FER 132');
  await page.getByRole('textbox', { name: 'R to earth' }).fill('10');
  await page.keyboard.press('Enter');
  await expect.poll(() => faultLevel(page, 'FER 132')).toBeLessThan(solid - 1);
  await page.getByRole('textbox', { name: 'R to earth' }).fill('0');
  await page.keyboard.press('Enter');
  await expect.poll(() => faultLevel(page, 'FER 132')).toBe(solid);

  await page.getByText('3-phase', { exact: true }).click();
  await expect.poll(() => faultLevel(page, 'FER 132')).toBe(near);
  await pickOption(page, 'Out of service', 'CAU-FER 2');
  await expect.poll(() => faultLevel(page, 'FER 132')).toBeLessThan(0.8 * near);
  await expect(page.getByText(/without CAU-FER 2/)).toBeVisible();
});

test('methods: duties after IEEE C37.010, faults on the load flow, breaking and thermal currents', async ({
  page,
  request,
}) => {
  await openDesk(page, await importProject(request), 'faults');
  const iec = await faultLevel(page, 'BRA 11 A');
  await page.getByRole('button', { name: 'Options' }).click();
  await page.getByRole('switch', { name: 'Show Ib, idc, Ik, Ith' }).setChecked(true, { force: true });
  for (const head of ['Ib kA', 'idc kA', 'Ik kA', 'Ith kA'])
    await expect(page.getByRole('columnheader', { name: head })).toBeVisible();

  await pickOption(page, 'Method', 'IEEE C37.010');
  for (const head of ['Isym kA', 'Iasym kA', 'MF', 'Iint kA'])
    await expect(page.getByRole('columnheader', { name: head })).toBeVisible();
  await expect.poll(() => faultLevel(page, 'BRA 11 A')).toBeLessThan(iec);
  await expect(page.getByText('2-phase-earth', { exact: true })).toHaveCount(0);
  await page.getByRole('row', { name: /^BRA 11 A / }).click();
  const card = page.getByRole('article', { name: 'Card of BRA 11 A' });
  await card.getByRole('tab', { name: 'Working' }).click();
  await expect(card.getByRole('document', { name: 'Working' })).toContainText('X and R apart');

  await pickOption(page, 'Method', 'superposition on the load flow');
  await expect(page.getByText('From the load flow, maximum sources; no voltage or correction factors')).toBeVisible();
  await expect.poll(() => faultLevel(page, 'BRA 11 A')).toBeGreaterThan(10);
  await card.getByRole('tab', { name: 'Currents' }).click();
  await expect(card.getByRole('row', { name: /^BRA G1 BRA 11 A/ })).toBeVisible();
  await card.getByRole('tab', { name: 'Voltages' }).click();
  await expect(card.getByRole('row', { name: /^BRA 11 A 11 0 0 0/ })).toBeVisible();
  await card.getByText('Components').click();
  await expect(card.getByRole('columnheader', { name: 'U2 kV' })).toBeVisible();
});

test('a coupling is changed, a tower made and a line takes its data', async ({ page, request }) => {
  await openDesk(page, await importProject(request), 'faults');
  await page.getByText('1-phase', { exact: true }).click();
  const coupled = await faultLevel(page, 'FER 132');
  await toStage(page, 'Network');
  await page.getByRole('button', { name: 'CAU-FER', exact: true }).click();
  const mutual = page.getByRole('group', { name: 'X0m' }).getByRole('textbox');
  await mutual.fill('0.1');
  await mutual.press('Enter');
  await saved(page);
  await toStage(page, 'Faults');
  await expect.poll(() => faultLevel(page, 'FER 132')).toBeGreaterThan(coupled + 0.2);

  await toStage(page, 'Network');
  await page.keyboard.press('Escape');
  await page.locator('.react-flow__pane').click({ position: { x: 5, y: 400 } });
  await page.getByRole('button', { name: 'Tower', exact: true }).click();
  await expect(page.getByRole('heading', { name: /Tower 1/ })).toBeVisible();
  await page.getByRole('textbox', { name: 'Height m, conductor 1' }).fill('18');
  await page.getByRole('textbox', { name: 'Height m, conductor 1' }).press('Tab');
  await saved(page);
  await symbol(page, 'FER-MAR').click();
  await pickOption(page, 'Data', 'from a tower');
  await expect(page.getByText('choose a tower')).toBeVisible();
  await pickOption(page, 'Tower', 'Tower 1');
  await expect(page.getByText(/Z1 .* Z0 .*Ω\/km/)).toBeVisible();
  await saved(page);
});
