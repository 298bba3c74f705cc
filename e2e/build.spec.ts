/** The tools of the drawing, the card, the findings and the history, each as a user meets it. */
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { writeProject } from '../core/src/formats/project';
import { blankElements } from '../core/src/model/defaults';
import type { Element, ElementOf } from '../core/src/model/element';
import { networkOf, ofKind } from '../core/src/model/network';
import { buildTopology } from '../core/src/model/topology';
import { bigNetwork } from '../scripts/bigNetwork';
import { centerOf, drag, importProject, openDesk, saved, symbol, toStage } from './desk';

type Request = Parameters<typeof importProject>[0];
const blank = (request: Request) =>
  importProject(request, writeProject({ name: 'Blank', notes: '', elements: blankElements() }));
const model = async (page: Page, request: Request, id: string) => {
  await saved(page);
  return networkOf(((await (await request.get(`/api/projects/${id}`)).json()) as { elements: Element[] }).elements);
};
const press = async (page: Page, keys: string[]) => {
  for (const key of keys) await page.keyboard.press(key);
};
/** A new project with a bus and one motor feeder, drawn by keys; returns its id. */
async function drawnFeeder(page: Page, request: Request): Promise<string> {
  const id = await blank(request);
  await openDesk(page, id);
  await press(page, ['b', 'ArrowUp', 'Enter', 'Enter', 'k', 'l', 'm', 'Enter']);
  await saved(page);
  return id;
}

test('copied from one project and pasted into another, with connections and fresh names', async ({
  page,
  request,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await drawnFeeder(page, request);
  await press(page, ['Control+a', 'Control+c']);
  const other = await blank(request);
  await openDesk(page, other);
  await press(page, ['Control+v', 'Control+v']);
  const network = await model(page, request, other);
  expect(ofKind(network, 'asynchronousMotor').map(({ name }) => name)).toEqual(['M1', 'M2']);
  expect(ofKind(network, 'connection')).toHaveLength(6);
  const topology = buildTopology(network);
  for (const [k, bus] of ofKind(network, 'bus').entries())
    expect(topology.nodeAt(bus.id, 0)).toBe(topology.nodeAt(ofKind(network, 'switch')[k].id, 1));
});

test('a symbol placed on a run goes into it; deleted, the run closes again', async ({ page, request }) => {
  const id = await drawnFeeder(page, request);
  await page.keyboard.press('0');
  const [line, motor] = [await centerOf(symbol(page, 'L1')), await centerOf(symbol(page, 'M1'))];
  const before = await model(page, request, id);
  // A little room first, then a current transformer on the run between line and motor.
  await drag(page, motor, { x: motor.x, y: motor.y + 60 });
  await page.getByRole('button', { name: 'Place current transformer', exact: true }).click();
  const lower = await centerOf(symbol(page, 'M1'));
  await page.mouse.click(line.x, (line.y + 42 + lower.y - 28) / 2);
  const network = await model(page, request, id);
  const topology = buildTopology(network);
  const [ct] = ofKind(network, 'currentTransformer');
  const [m] = ofKind(network, 'asynchronousMotor');
  expect(topology.nodeAt(ct.id, 1)).toBe(topology.nodeAt(m.id, 0));
  expect(topology.nodeAt(ct.id, 0)).toBe(topology.nodeAt(ofKind(network, 'line')[0].id, 1));
  await page.keyboard.press('Delete');
  const healed = await model(page, request, id);
  expect(ofKind(healed, 'connection')).toHaveLength(ofKind(before, 'connection').length);
  expect(buildTopology(healed).nodeAt(m.id, 0)).toBe(buildTopology(healed).nodeAt(ofKind(healed, 'line')[0].id, 1));

  // Placed beside, then dragged onto the run: the same.
  await page.getByRole('button', { name: 'Place current transformer', exact: true }).click();
  await page.mouse.click(line.x + 150, lower.y);
  const beside = await centerOf(symbol(page, 'CT1'));
  await drag(page, beside, { x: line.x + 4, y: (line.y + 42 + lower.y - 28) / 2 });
  const dropped = await model(page, request, id);
  const again = buildTopology(dropped);
  expect(again.nodeAt(ofKind(dropped, 'currentTransformer')[0].id, 1)).toBe(again.nodeAt(m.id, 0));
});

test('clicks on busbars one after the other choose them, and connect nothing', async ({ page, request }) => {
  const id = await importProject(request);
  await openDesk(page, id);
  const before = ofKind(await model(page, request, id), 'connection').length;
  for (const name of ['BRA 11 A', 'BRA 11 B', 'CAU 132', 'BRA 11 A']) {
    await symbol(page, name).click();
    await expect(page.getByRole('heading', { name: new RegExp(`^${name} `) })).toBeVisible();
    await expect(page.getByText('these buses')).toHaveCount(0);
  }
  expect(ofKind(await model(page, request, id), 'connection')).toHaveLength(before);
});

test('by mouse: a busbar lengthened, moved, symbols chosen with a box and aligned, a note, layers, the map', async ({
  page,
  request,
}) => {
  const id = await drawnFeeder(page, request);
  const first = async () => ofKind(await model(page, request, id), 'bus')[0];
  const before = await first();
  await symbol(page, 'Bus 1').click();
  const end = await centerOf(symbol(page, 'Bus 1').locator('.react-flow__resize-control'));
  await drag(page, end, { x: end.x + 60, y: end.y });
  const longer = await first();
  expect(longer.length).toBeGreaterThan(before.length + 30);
  expect(longer.length % 10).toBe(0);
  // Selected, its bar moves it; what hangs on it stays where it is.
  const bar = await centerOf(symbol(page, 'Bus 1'));
  await drag(page, bar, { x: bar.x, y: bar.y - 40 });
  expect((await first()).y).toBeLessThan(longer.y);

  // Pulled out of line, then put back by command.
  const motor = await centerOf(symbol(page, 'M1'));
  await drag(page, motor, { x: motor.x + 45, y: motor.y + 20 });
  const line = await centerOf(symbol(page, 'L1'));
  await page.keyboard.down('Shift');
  await drag(page, { x: line.x - 60, y: line.y - 38 }, { x: line.x + 120, y: line.y + 150 });
  await page.keyboard.up('Shift');
  await expect(page.getByRole('heading', { name: /2 elements selected/ })).toBeVisible();
  await page.getByRole('button', { name: 'Align centres' }).click();
  const aligned = await model(page, request, id);
  expect(ofKind(aligned, 'asynchronousMotor')[0].x).toBe(ofKind(aligned, 'line')[0].x);

  await page.getByRole('button', { name: 'Place note' }).click();
  const box = (await page.getByRole('region', { name: 'One-line diagram' }).boundingBox())!;
  await page.mouse.click(box.x + 60, box.y + 560);
  const text = page.getByRole('textbox', { name: 'Text' });
  await text.fill('Spare way\nfor a second pump');
  await page.keyboard.press('Escape');
  expect(ofKind(await model(page, request, id), 'textNote')).toMatchObject([{ text: 'Spare way\nfor a second pump' }]);

  // A double click goes to the data.
  await symbol(page, 'M1').dblclick();
  await expect(page.getByRole('textbox', { name: 'Name' })).toBeFocused();
  await page.keyboard.press('Escape');

  const labels = async () => Number(await page.locator('canvas[data-labels]').getAttribute('data-labels'));
  const shown = await labels();
  await page.getByRole('button', { name: 'Layers' }).click();
  await page.getByRole('menuitem', { name: 'Names: shown' }).click();
  await page.getByRole('menuitem', { name: 'Ratings: shown' }).click();
  await expect.poll(labels).toBeLessThan(shown);
  await page.getByRole('menuitem', { name: 'Ratings: hidden' }).click();
  await page.getByRole('menuitem', { name: 'Names: hidden' }).click();
  await expect.poll(labels).toBe(shown);

  // The map of a large page: a click there goes there.
  await openDesk(page, await importProject(request));
  for (let k = 0; k < 8; k++) await page.getByRole('button', { name: 'Closer' }).click();
  const map = page.getByRole('img', { name: 'Overview of the page' });
  const at = (await map.boundingBox())!;
  const visible = async () => symbol(page, 'CAU 132').boundingBox();
  await page.mouse.click(at.x + at.width / 2, at.y + at.height - 12);
  expect((await visible())!.y).toBeLessThan(box.y);
  await page.mouse.click(at.x + at.width / 2, at.y + 8);
  const top = (await visible())!.y;
  expect(top).toBeGreaterThan(box.y);
  expect(top).toBeLessThan(box.y + box.height);
});

test('pages: what is moved to another page is linked, and a click on the link goes there', async ({
  page,
  request,
}) => {
  const id = await drawnFeeder(page, request);
  await page.keyboard.press('Control+k');
  await page.keyboard.type('Add page');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('tab', { name: 'Page 1' })).toHaveAttribute('aria-selected', 'true');
  await expect(symbol(page, 'M1')).toHaveCount(0);
  await page.getByRole('tab', { name: 'First page' }).click();
  await expect(page.getByRole('heading', { name: 'Project settings' })).toBeVisible();
  await symbol(page, 'M1').click();
  await page.getByRole('button', { name: 'More for pages' }).click();
  await page.getByRole('menuitem', { name: 'Page 1', exact: true }).click();
  await expect(page.getByRole('tab', { name: 'Page 1' })).toHaveAttribute('aria-selected', 'true');
  const motor = await centerOf(symbol(page, 'M1'));
  const box = (await symbol(page, 'M1').boundingBox())!;
  // The pennant stands above the terminal.
  await page.mouse.click(motor.x, box.y - box.height * 0.6);
  await expect(page.getByRole('tab', { name: 'First page' })).toHaveAttribute('aria-selected', 'true');
  await expect(page.getByRole('heading', { name: /^L1/ })).toBeVisible();
  // The search turns to pages, and to what stands on another.
  await page.keyboard.press('Control+k');
  await page.keyboard.type('Page 1');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('tab', { name: 'Page 1' })).toHaveAttribute('aria-selected', 'true');
  await page.keyboard.press('Control+k');
  await page.keyboard.type('Q1');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('tab', { name: 'First page' })).toHaveAttribute('aria-selected', 'true');
  const breaker = await centerOf(symbol(page, 'Q1'));
  const pane = (await page.getByRole('region', { name: 'One-line diagram' }).boundingBox())!;
  expect(Math.abs(breaker.x - pane.x - pane.width / 2)).toBeLessThan(20);
  const network = await model(page, request, id);
  const topology = buildTopology(network);
  expect(topology.nodeAt(ofKind(network, 'asynchronousMotor')[0].id, 0)).toBe(
    topology.nodeAt(ofKind(network, 'line')[0].id, 1),
  );
});

test('a feeder by mouse alone: its keys are clicked, tools go on with it; the view follows what is drawn', async ({
  page,
  request,
}) => {
  const id = await blank(request);
  await openDesk(page, id);
  const drawing = (await page.getByRole('region', { name: 'One-line diagram' }).boundingBox())!;
  await page.getByRole('button', { name: 'Place bus', exact: true }).click();
  await page.mouse.click(drawing.x + 200, drawing.y + 430);
  await page.getByRole('button', { name: 'Draw a feeder from here (Enter)' }).click();
  const key = (name: string) => page.getByRole('button', { name, exact: true });
  for (const name of ['K breaker', 'C current transformer', 'L line or cable', 'T transformer', '⌫ take back'])
    await key(name).click();
  await page.getByRole('button', { name: 'Place transformer', exact: true }).click();
  await key('B bus').click();
  await key('M motor').click();
  // What comes after a motor is refused in words, and nothing of the rest is lost.
  await key('O load').click();
  await expect(page.getByText('M1 ends this feeder')).toBeVisible();
  await key('⌫ take back').click();
  await key('Enter done').click();
  const network = await model(page, request, id);
  expect([...network.elements.values()].flatMap((each) => ('turn' in each ? [each.name] : []))).toEqual([
    'Bus 1',
    'Q1',
    'CT1',
    'L1',
    'T1',
    'Bus 2',
    'M1',
  ]);
  // Begun near the lower edge, it ends in view, clear of the tools.
  const motor = (await symbol(page, 'M1').boundingBox())!;
  expect(motor.y + motor.height).toBeLessThan(drawing.y + drawing.height - 50);
  expect((await symbol(page, 'Bus 1').boundingBox())!.y).toBeLessThan(drawing.y + 430);
});

test('what is typed before the search has the focus is found and done all the same', async ({ page, request }) => {
  await openDesk(page, await importProject(request));
  // All in one task: nothing can take the focus in between.
  await page.evaluate(() => {
    const press = (key: string, more = {}) =>
      window.dispatchEvent(new KeyboardEvent('keydown', { key, cancelable: true, ...more }));
    press('k', { ctrlKey: true });
    for (const letter of 'Add page') press(letter);
    press('Enter');
  });
  await expect(page.getByRole('tab', { name: 'Page 1' })).toHaveAttribute('aria-selected', 'true');
  await expect(page.getByRole('textbox', { name: 'Find or do' })).toHaveCount(0);
});

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
  await expect(drawer).toContainText('BRA Q21 breaks 1.5 kA; Ik″ where it stands reaches');
  await expect(drawer).toContainText('Take a device that breaks more');
  await drawer.getByRole('button', { name: /^Take .* kA$/ }).click();
  await expect(drawer).not.toContainText('BRA Q21 breaks');
  const device = ofKind(await model(page, request, id), 'switch').find(({ name }) => name === 'BRA Q21')!;
  expect(device.breakingKa).toBeGreaterThanOrEqual(6.3);
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

test('a messy page of 500 buses is laid out, what is pinned stays, and one step takes it back', async ({
  page,
  request,
}) => {
  const elements = bigNetwork(500).map((element) =>
    element.id === 'b7' ? { ...element, pinned: true } : element.kind === 'line' ? { ...element, x: 0, y: 0 } : element,
  ) as Element[];
  const id = await importProject(request, writeProject({ name: 'Messy', notes: '', elements }));
  await openDesk(page, id);
  const offer = page.getByRole('status').filter({ hasText: 'Symbols lie on each other' });
  await expect(offer).toBeVisible();
  await page.getByRole('button', { name: 'Arrange the page', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Undo: Arrange the page (Ctrl+Z)' })).toBeVisible({ timeout: 60_000 });
  await expect(offer).toHaveCount(0);
  const network = await model(page, request, id);
  const at = (list: readonly Element[], name: string) =>
    list.find((element) => element.id === name) as ElementOf<'bus'>;
  const after = [...network.elements.values()];
  expect(at(after, 'b7')).toMatchObject({ x: at(elements, 'b7').x, y: at(elements, 'b7').y });
  const moved = ofKind(network, 'bus').filter(
    (bus) => bus.x !== at(elements, bus.id).x || bus.y !== at(elements, bus.id).y,
  );
  expect(moved.length).toBeGreaterThan(450);
  await page.keyboard.press('Control+z');
  const back = await model(page, request, id);
  for (const bus of ofKind(back, 'bus'))
    expect([bus.x, bus.y]).toEqual([at(elements, bus.id).x, at(elements, bus.id).y]);
});

test('on a large page what is painted is taken hold of: hovered, clicked, dragged', async ({ page, request }) => {
  const id = await importProject(request, writeProject({ name: 'Large', notes: '', elements: bigNetwork(500) }));
  await openDesk(page, id);
  await page.keyboard.press('Control+k');
  await page.keyboard.type('B17');
  await page.getByRole('button', { name: /^B17 Bus/ }).click();
  await expect(page.getByRole('heading', { name: /^B17/ })).toBeVisible();
  const before = ofKind(await model(page, request, id), 'bus').find(({ name }) => name === 'B17')!;
  // What is selected is moved by its bar; what is not starts a connection there.
  const at = await centerOf(symbol(page, 'B17'));
  await drag(page, { x: at.x - 20, y: at.y }, { x: at.x + 30, y: at.y + 40 });
  const after = ofKind(await model(page, request, id), 'bus').find(({ name }) => name === 'B17')!;
  expect([after.x > before.x, after.y > before.y]).toEqual([true, true]);
  await page.keyboard.press('Escape');
});

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
