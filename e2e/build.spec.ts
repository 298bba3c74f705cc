/** The tools of the drawing, each as a user meets it. */
import { expect, test } from '@playwright/test';
import { writeProject } from '../core/src/formats/project/project';
import type { Element, ElementOf } from '../core/src/model/element';
import { ofKind } from '../core/src/model/network';
import { buildTopology } from '../core/src/model/topology';
import { bigNetwork } from '../scripts/bigNetwork';
import { blank, centerOf, drag, drawnFeeder, importProject, model, openDesk, press, symbol } from './desk';

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
  for (let k = 0; k < 8; k++) await page.getByRole('button', { name: 'Closer', exact: true }).click();
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

test('a board: panels change places by mouse and by keys, a panel added before the coupler makes room, the bar moves all', async ({
  page,
  request,
}) => {
  const id = await blank(request);
  await openDesk(page, id);
  const drawing = (await page.getByRole('region', { name: 'One-line diagram' }).boundingBox())!;
  await page.getByRole('button', { name: 'Templates' }).click();
  await page.getByRole('menuitem', { name: /Board of two sections/ }).click();
  await page.mouse.click(drawing.x + 60, drawing.y + 220);
  await press(page, ['Escape', '0']);
  const front = async () =>
    [...ofKind(await model(page, request, id), 'panel')].sort((p, q) => p.x - q.x).map(({ name }) => name);
  const start = ['Incoming 1', 'Outgoing 1', 'Outgoing 2', 'Coupler 1', 'Outgoing 3', 'Outgoing 4', 'Incoming 2'];
  expect(await front()).toEqual(start);
  const title = (await symbol(page, 'Outgoing 1').boundingBox())!;
  const grip = { x: title.x + title.width - 8, y: title.y + title.height / 2 };
  await drag(page, grip, { x: grip.x + 90, y: grip.y });
  const swapped = start.map((_, k) => start[[0, 2, 1, 3, 4, 5, 6][k]]);
  expect(await front()).toEqual(swapped);
  await page.keyboard.press('ArrowLeft');
  expect(await front()).toEqual(start);
  await symbol(page, 'Bus 1').click();
  await page.getByRole('button', { name: 'Add a panel' }).click();
  await page.getByRole('menuitem', { name: 'Motor' }).click();
  expect(await front()).toEqual([...start.slice(0, 3), 'Motor 1', ...start.slice(3)]);
  // All sections go with the bar that is dragged.
  await page.keyboard.press('0');
  await symbol(page, 'Bus 2').click();
  const before = ofKind(await model(page, request, id), 'bus');
  const bar = await centerOf(symbol(page, 'Bus 2'));
  await drag(page, bar, { x: bar.x, y: bar.y - 40 });
  const after = ofKind(await model(page, request, id), 'bus');
  const rise = after[0].y - before[0].y;
  expect(rise).toBeLessThan(0);
  expect(after.map(({ y }) => y)).toEqual(before.map(({ y }) => y + rise));
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
