/** What assistive technology meets on the stages. */
import AxeBuilder from '@axe-core/playwright';
import { expect, test } from '@playwright/test';
import { importProject, openDesk, symbol, toStage } from './desk';

test('no serious hurdle for assistive technology on any stage', async ({ page, request }) => {
  test.slow();
  await openDesk(page, await importProject(request));
  const hurdles: string[] = [];
  const check = async (where: string) => {
    // The hundreds of like terminals on the drawing are looked at once.
    const builder = new AxeBuilder({ page });
    const { violations } = await (
      where.startsWith('Network with') ? builder : builder.exclude('.react-flow__nodes')
    ).analyze();
    for (const { id, impact, nodes } of violations)
      if (impact === 'serious' || impact === 'critical')
        hurdles.push(`${where}: ${id} ${nodes.map(({ html }) => html.slice(0, 160)).join(' | ')}`);
  };
  await symbol(page, 'BRA T1').click();
  await page.getByRole('button', { name: /findings$/ }).click();
  await check('Network with findings');
  await page.getByRole('button', { name: /findings$/ }).click();
  for (const stage of ['Faults', 'Grading', 'Sheets']) {
    await toStage(page, stage);
    await page.waitForTimeout(600);
    await check(stage);
  }
  await toStage(page, 'Network');
  await page.getByRole('button', { name: 'History: changes and versions' }).click();
  await expect(page.getByRole('dialog', { name: 'History' })).toBeVisible();
  await check('History');
  await page.keyboard.press('Escape');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await check('Keys');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Dark' }).click();
  await check('Network, dark');
  expect(hurdles).toEqual([]);
});
