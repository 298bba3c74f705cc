import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { demoText } from './desk';

test('projects: new, rename, duplicate, export, import, delete and undo', async ({ page }) => {
  const name = `Quern ${Date.now()}`;
  await page.goto('/');
  await expect(page.getByRole('article', { name: 'Sorrel Island', exact: true }).first()).toBeVisible();
  await page.getByRole('button', { name: 'New project' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill(name);
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/p\/[a-z0-9]{12}/);
  await expect(page.getByText('Project settings').first()).toBeVisible();
  await page.getByRole('link', { name: 'Mesura: to the projects' }).click();

  // Each menu by its own name: the one of the step before may still be fading out.
  const more = async (of: string, item: string) => {
    await page.getByRole('button', { name: `More for ${of}`, exact: true }).click();
    const menu = page.getByRole('menu', { name: `More for ${of}`, exact: true });
    await menu.getByRole('menuitem', { name: item }).click();
  };
  await more(name, 'Rename');
  await page.getByRole('textbox', { name: 'Name' }).fill(`${name} renamed`);
  await page.keyboard.press('Enter');
  const renamed = page.getByRole('article', { name: `${name} renamed`, exact: true });
  await expect(renamed).toBeVisible();

  await more(`${name} renamed`, 'Duplicate');
  const copy = page.getByRole('article', { name: `${name} renamed (copy)`, exact: true });
  await expect(copy).toBeVisible();

  await more(`${name} renamed (copy)`, 'Delete');
  await expect(copy).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(copy).toBeVisible();

  const [download] = await Promise.all([page.waitForEvent('download'), more(`${name} renamed`, 'Export file')]);
  expect(JSON.parse(readFileSync((await download.path())!, 'utf8'))).toMatchObject({
    format: 'mesura-project',
    name: `${name} renamed`,
  });
});

test('importing: a good file arrives, a bad one says what is wrong and where', async ({ page }) => {
  await page.goto('/');
  await expect(page.getByRole('button', { name: 'Import file' })).toBeEnabled();
  const choose = (text: string) =>
    page
      .locator('input[type=file]')
      .setInputFiles({ name: 'island.json', mimeType: 'application/json', buffer: Buffer.from(text) });
  await choose(demoText.replace('"name": "Sorrel Island"', '"name": "Imported island"'));
  await expect(page.getByRole('article', { name: 'Imported island' })).toBeVisible();
  await choose(demoText.replace('"ukPercent":12.4', '"ukPercent":-1'));
  await expect(page.getByText('This file cannot be read as a project.')).toBeVisible();
  await expect(page.getByText(/ukPercent: must be above 0 % \(FER T1\)/)).toBeVisible();
  await choose('PK\u0003\u0004 not json at all');
  await expect(page.getByText(/this is not JSON/)).toBeVisible();
});

test('a project that does not exist says so', async ({ page }) => {
  await page.goto('/p/nosuchthing1');
  await expect(page.getByText('This project does not exist, or was deleted.')).toBeVisible();
});
