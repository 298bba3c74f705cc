import { expect, test, type Page } from '@playwright/test';
import { writeProject } from '../core/src/formats/project/project';
import { blankElements } from '../core/src/model/defaults';
import { centerOf, drag, faultLevel, importProject, openDesk, saved, symbol, toStage } from './desk';

const blank = (name: string) => writeProject({ name, notes: '', elements: blankElements() });

async function place(page: Page, tool: string, x: number, y: number): Promise<void> {
  const box = (await page.getByRole('region', { name: 'One-line diagram' }).boundingBox())!;
  await page.getByRole('button', { name: `Place ${tool}`, exact: true }).click();
  await page.mouse.click(box.x + x, box.y + y);
}

const terminal = (page: Page, name: string, k: number) => symbol(page, name).locator(`[data-handleid="${k}"]`);

test('a feeder is drawn by hand: placed, connected, calculated, deleted, undone, and there after a reload', async ({
  page,
  request,
}) => {
  const id = await importProject(request, blank('By hand'));
  await openDesk(page, id);
  await place(page, 'network feeder', 250, 120);
  await expect(symbol(page, 'Feeder 1')).toBeVisible();
  await place(page, 'bus', 150, 300);
  await saved(page);
  const bus = await centerOf(symbol(page, 'Bus 1'));
  await drag(page, await centerOf(terminal(page, 'Feeder 1', 0)), { x: bus.x + 10, y: bus.y });
  await saved(page);
  await toStage(page, 'Faults');
  await expect.poll(() => faultLevel(page, 'Bus 1')).toBe(10);

  // The same terminal takes no second connection, and says why.
  await toStage(page, 'Network');
  await place(page, 'bus', 150, 450);
  await drag(page, await centerOf(terminal(page, 'Feeder 1', 0)), await centerOf(symbol(page, 'Bus 2')));
  await expect(page.getByText('this terminal of Feeder 1 is taken; branch off at a bus').first()).toBeVisible();

  // Delete takes the connection along; undo brings both back; all of it survives a reload.
  await symbol(page, 'Feeder 1').click();
  await page.keyboard.press('Delete');
  await expect(symbol(page, 'Feeder 1')).toHaveCount(0);
  await toStage(page, 'Faults');
  await expect(page.getByRole('row', { name: /^Bus 1 / })).toContainText('–');
  await page.keyboard.press('Control+z');
  await expect.poll(() => faultLevel(page, 'Bus 1')).toBe(10);
  await saved(page);
  await page.reload();
  await expect.poll(() => faultLevel(page, 'Bus 1')).toBe(10);
});

test('moving: by dragging and by arrow keys, in steps of the grid, one step to take back', async ({
  page,
  request,
}) => {
  await openDesk(page, await importProject(request));
  const before = await centerOf(symbol(page, 'BRA TL1'));
  await drag(page, before, { x: before.x + 40, y: before.y + 3 });
  await saved(page);
  expect((await centerOf(symbol(page, 'BRA TL1'))).x).toBeGreaterThan(before.x + 20);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => Math.round((await centerOf(symbol(page, 'BRA TL1'))).x)).toBe(Math.round(before.x));
  await symbol(page, 'BRA TL1').click();
  await symbol(page, 'BRA TL1').focus();
  await page.keyboard.press('ArrowRight');
  await expect.poll(async () => (await centerOf(symbol(page, 'BRA TL1'))).x).toBeGreaterThan(before.x + 2);
  await saved(page);
});

test('fields: nonsense is refused in place and kept, units are understood, names are unique', async ({
  page,
  request,
}) => {
  await openDesk(page, await importProject(request));
  await symbol(page, 'BRA TL1').click();
  const power = page.getByRole('textbox', { name: 'Rated power in MVA' });
  await power.fill('a lot');
  await expect(page.getByText('This is not a number.')).toBeVisible();
  await power.press('Enter');
  await expect(power).toHaveValue('a lot');
  await power.press('Escape');
  await expect(power).toHaveValue('1.6');
  await power.fill('-3');
  await power.press('Enter');
  await expect(page.getByText('Rated power must be above 0 MVA')).toBeVisible();
  await power.fill('2000 kVA');
  await power.press('Enter');
  await expect(power).toHaveValue('2');
  const name = page.getByRole('textbox', { name: 'Name' });
  await name.fill('bra t1');
  await name.press('Enter');
  await expect(page.getByText(/the name "bra t1" is already taken by a transformer/)).toBeVisible();
  const group = page.getByRole('textbox', { name: 'Vector group' });
  await group.fill('Dyn6');
  await group.press('Enter');
  await expect(page.getByText(/must be a vector group such as Dyn11/)).toBeVisible();
  await saved(page);
});

test('a field is left by a box on the drawing, by the search, by Escape; what was typed is stored', async ({
  page,
  request,
}) => {
  const id = await importProject(request);
  await openDesk(page, id);
  const stored = async () => {
    await saved(page);
    const { elements } = (await (await request.get(`/api/projects/${id}`)).json()) as {
      elements: { name?: string; ukPercent?: number }[];
    };
    return elements.find(({ name }) => name === 'BRA T1')!.ukPercent;
  };
  const uk = page.getByRole('textbox', { name: 'Short-circuit voltage uk in %' });
  const drawing = (await page.getByRole('region', { name: 'One-line diagram' }).boundingBox())!;
  await symbol(page, 'BRA T1').click();
  await uk.fill('9.1');
  await page.keyboard.down('Shift');
  const corner = { x: drawing.x + drawing.width - 60, y: drawing.y + drawing.height - 130 };
  await drag(page, corner, { x: corner.x + 40, y: corner.y + 40 });
  await page.keyboard.up('Shift');
  await expect(page.getByRole('heading', { name: 'Project settings' })).toBeVisible();
  await expect.poll(stored).toBe(9.1);
  await symbol(page, 'BRA T1').click();
  await uk.fill('9.2');
  await page.keyboard.press('Control+k');
  await page.keyboard.type('BRA T2');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: /^BRA T2/ })).toBeVisible();
  await expect.poll(stored).toBe(9.2);
  // Escape takes back what was typed, then leaves the field, then the symbol.
  await uk.fill('1');
  await page.keyboard.press('Escape');
  await expect(uk).toHaveValue('8.6');
  await expect(uk).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(uk).not.toBeFocused();
  await expect(page.getByRole('heading', { name: /^BRA T2/ })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('heading', { name: 'Project settings' })).toBeVisible();
});

test('by keyboard alone: find an element, change it, go to its fault level', async ({ page, request }) => {
  await openDesk(page, await importProject(request));
  await page.keyboard.press('Control+k');
  await page.getByRole('textbox', { name: 'Find or do' }).fill('BRA TL1');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: /BRA TL1/ })).toBeVisible();
  const uk = page.getByRole('textbox', { name: 'Short-circuit voltage uk in %' });
  await uk.focus();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('4');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await uk.blur();
  await page.keyboard.press('6');
  await expect.poll(() => faultLevel(page, 'BRA 0.4')).toBeGreaterThan(40);
  await page.getByRole('row', { name: /^BRA 0.4 / }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('article', { name: 'Card of BRA 0.4' })).toBeVisible();
});

test('grading by keyboard: a grip steps as the device does; a proposal is taken over; discard goes back', async ({
  page,
  request,
}) => {
  await openDesk(page, await importProject(request), 'grading');
  const grip = page.getByRole('slider', { name: 'BRA Q21 relay 51 time multiplier' });
  await grip.focus();
  await page.keyboard.press('ArrowUp');
  await expect(grip).toHaveAttribute('aria-valuenow', '0.08');
  await page.getByRole('button', { name: 'Discard' }).click();
  await expect(grip).toHaveAttribute('aria-valuenow', '0.07');
  await page.getByRole('button', { name: 'time multiplier 0.09 meets the margin' }).click();
  await expect(
    page.getByRole('table', { name: 'Pairs' }).getByRole('row', { name: /BRA Q32 → BRA Q21/ }),
  ).toContainText('OK');
  const field = page.getByRole('textbox', { name: '51 time multiplier' });
  await field.fill('0.123');
  await field.press('Enter');
  await expect(page.getByText('Not an available setting (steps of 0.01); nearest 0.12.')).toBeVisible();
});

test('a device is put on a chart by clicking it on the drawing', async ({ page, request }) => {
  await openDesk(page, await importProject(request), 'grading');
  await page.getByRole('button', { name: 'More for this chart' }).click();
  await page.getByRole('menuitem', { name: 'New chart' }).click();
  const devices = page.getByRole('list', { name: 'Devices on the chart' });
  await expect(devices.getByRole('listitem')).toHaveCount(0);
  await symbol(page, 'BRA Q32 relay').click();
  await symbol(page, 'BRA CT21').click();
  await expect(devices.getByRole('listitem')).toHaveCount(2);
  await page.getByRole('combobox', { name: 'Downstream device' }).click();
  await page.getByRole('option', { name: 'BRA Q32' }).click();
  await page.getByRole('combobox', { name: 'Upstream device' }).click();
  await page.getByRole('option', { name: 'BRA Q21' }).click();
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(
    page.getByRole('table', { name: 'Pairs' }).getByRole('row', { name: /BRA Q32 → BRA Q21/ }),
  ).toContainText('0.077 s below');
});
