/** The card, the findings and the history, each as a user meets it. */
import { expect, test } from '@playwright/test';
import { ofKind } from '../core/src/model/network';
import { drawnFeeder, importProject, model, openDesk, press, saved, symbol } from './desk';

test('the card: derived values as typed, assumed values until confirmed, several changed at once', async ({
  page,
  request,
}) => {
  const id = await drawnFeeder(page, request);
  await page.keyboard.press('.');
  await symbol(page, 'M1').click();
  const derived = page.getByRole('region', { name: 'Derived values' });
  const power = page.getByRole('textbox', { name: 'Rated power (shaft) in MW' });
  await power.fill('0.5');
  // 0.5 MW / (0.96 · 0.88) = 0.5919 MVA; / (√3 · 11 kV) = 31.06 A
  await expect(derived).toContainText('31.06');
  await power.press('Escape');
  await expect(derived).toContainText('62.13');
  await expect(page.getByText('values are typical, nobody has confirmed them')).toBeVisible();
  await power.fill('0.75');
  await power.press('Enter');
  await page.getByRole('button', { name: 'Confirm Rated voltage' }).click();
  let motor = ofKind(await model(page, request, id), 'asynchronousMotor')[0];
  expect(motor.assumed).not.toContain('ratedMw');
  expect(motor.assumed).not.toContain('ratedKv');
  await symbol(page, 'M2').click({ modifiers: ['Control'] });
  await expect(page.getByRole('heading', { name: /2 elements selected/ })).toBeVisible();
  await expect(power).toHaveAttribute('placeholder', 'various');
  await power.fill('600k');
  await power.press('Enter');
  await page.getByRole('button', { name: 'Confirm all' }).click();
  const motors = ofKind(await model(page, request, id), 'asynchronousMotor');
  expect(motors.map(({ ratedMw }) => ratedMw)).toEqual([0.6, 0.6]);
  expect(motors.map(({ assumed }) => assumed)).toEqual([undefined, undefined]);
  await press(page, ['Control+z', 'Control+z']);
  motor = ofKind(await model(page, request, id), 'asynchronousMotor')[0];
  expect(motor.ratedMw).toBe(0.75);
});

test('findings: plain, with what to do; a rating that is too small takes the next size', async ({ page, request }) => {
  const id = await importProject(request);
  await openDesk(page, id);
  await symbol(page, 'BRA Q21').click();
  const breaking = page.getByRole('textbox', { name: 'Rated breaking current in kA' });
  await breaking.fill('1.5');
  await breaking.press('Enter');
  await page.getByRole('button', { name: /findings$/ }).click();
  const drawer = page.getByRole('region', { name: 'Findings' });
  await expect(drawer).toContainText('BRA Q21: breaking capacity 1.5 kA is below Ib');
  await expect(drawer).toContainText('Select a higher breaking capacity');
  await drawer.getByRole('button', { name: 'Take 12.5 kA' }).click();
  await expect(drawer).not.toContainText('BRA Q21: breaking capacity');
  const device = ofKind(await model(page, request, id), 'switch').find(({ name }) => name === 'BRA Q21')!;
  // The making current of its nameplate is more than goes with 12.5 kA: it stays.
  expect([device.breakingKa, device.makingKa]).toEqual([12.5, 50]);
  await drawer.getByRole('button', { name: /no relay trips/ }).click();
  await expect(page.getByRole('heading', { name: /elements selected/ })).toBeVisible();
});

test('history: who, what, when; a named version, what differs, and back to it as a new change', async ({
  page,
  request,
}) => {
  const id = await importProject(request);
  await openDesk(page, id);
  await page.getByRole('button', { name: /^You work as/ }).click();
  await page.getByRole('textbox', { name: 'You work as' }).fill('Ada Quill');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'History: changes and versions' }).click();
  const history = page.getByRole('dialog', { name: 'History' });
  await history.getByRole('textbox', { name: /Name of the present state/ }).fill('as imported');
  await history.getByRole('button', { name: 'Name version' }).click();
  await expect(history.getByRole('textbox', { name: /Name of the present state/ })).toHaveValue('');
  await page.keyboard.press('Escape');
  await symbol(page, 'BRA T1').click();
  const uk = page.getByRole('textbox', { name: 'Short-circuit voltage uk in %' });
  await uk.fill('9.9');
  await uk.press('Enter');
  await saved(page);
  await page.getByRole('button', { name: 'History: changes and versions' }).click();
  await expect(history.getByRole('listitem').first()).toContainText('BRA T1: Short-circuit voltage uk');
  await expect(history.getByRole('listitem').first()).toContainText('Ada Quill');
  await history.getByRole('combobox', { name: 'Compare' }).click();
  await page.getByRole('option', { name: 'as imported (1)' }).click();
  const table = history.getByRole('table', { name: 'Differences' });
  await expect(table.getByRole('row')).toHaveCount(1);
  await expect(table).toContainText('Short-circuit voltage uk in %: 8.6 → 9.9');
  await history.getByRole('button', { name: 'Restore revision 1' }).click();
  await expect(uk).toHaveValue('8.6');
  await saved(page);
  await page.reload();
  await symbol(page, 'BRA T1').click();
  await expect(uk).toHaveValue('8.6');
  await page.keyboard.press('Control+z');
  await expect(uk).toHaveValue('9.9');
});
