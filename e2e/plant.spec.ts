/** A plant of more than twelve buses drawn with mouse and keyboard only, its model and its fault level checked, all undone and redone. */
import { expect, test, type Page } from '@playwright/test';
import { writeProject } from '../core/src/formats/project/project';
import { FaultEngine } from '../core/src/studies/engine';
import { solidFault } from '../core/src/faults/kinds';
import { maximumSources } from '../core/src/model/condition';
import { blankElements } from '../core/src/model/defaults';
import type { Element, ElementOf } from '../core/src/model/element';
import { networkOf, ofKind, validateNetwork } from '../core/src/model/network';
import { breakersOf, firstCtOf } from '../core/src/model/protection';
import { buildTopology } from '../core/src/model/topology';
import { busPlace } from '../web/stages/faults/state';
import { faultLevel, importProject, openDesk, press, saved, symbol, toStage } from './desk';

/** Goes to an element by the search. */
const find = async (page: Page, name: string) => {
  await page.keyboard.press('Control+k');
  const field = page.getByRole('textbox', { name: 'Find or do' });
  await expect(field).toBeFocused();
  await page.keyboard.type(name);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: new RegExp(`^${name} `) })).toBeVisible();
  await expect(field).toBeHidden();
};
const panel = async (page: Page, type: string) => {
  await page.getByRole('button', { name: 'Add a panel' }).click();
  await page.getByRole('menuitem', { name: type }).click();
};

test('a plant of 13 buses: drawn, right element by element, undone to nothing and redone', async ({
  page,
  request,
}) => {
  test.slow();
  const id = await importProject(request, writeProject({ name: 'Plant', notes: '', elements: blankElements() }));
  const model = async (): Promise<Element[]> => {
    await saved(page);
    return ((await (await request.get(`/api/projects/${id}`)).json()) as { elements: Element[] }).elements;
  };
  await openDesk(page, id);

  // The intake: a 33 kV bus, its supply above, a transformer feeder with breaker, CT and relay below.
  const drawing = (await page.getByRole('region', { name: 'One-line diagram' }).boundingBox())!;
  await page.getByRole('button', { name: 'Place bus', exact: true }).click();
  await page.mouse.click(drawing.x + 120, drawing.y + 260);
  const level = page.getByRole('textbox', { name: 'Nominal voltage in kV' });
  await level.fill('33k');
  await level.press('Enter');
  await level.blur();
  await press(page, ['Enter', 'ArrowUp', 'n', 'Enter']);
  await symbol(page, 'Bus 1').click();
  await press(page, ['Enter', 'k', 'c', 'r', 't', 'k', 'b', 'Enter']);
  await expect(page.getByRole('heading', { name: /^Bus 2/ })).toBeVisible();

  // Fault level at 11 kV by hand: IEC 60909-0 with c = 1.1 and KT, before any motor feeds in.
  await toStage(page, 'Faults');
  const z = (r: number, x: number) => ({ r, x });
  const ratio = (11 / 33) ** 2;
  const zq = (1.1 * 33) / (Math.sqrt(3) * 15);
  const xq = zq / Math.hypot(1, 0.1);
  const kt = (0.95 * 1.1) / (1 + 0.6 * Math.sqrt(0.08 ** 2 - 0.005 ** 2));
  const base = 11 ** 2 / 10;
  const zt = z(kt * 0.005 * base, kt * Math.sqrt(0.08 ** 2 - 0.005 ** 2) * base);
  const total = Math.hypot(0.1 * xq * ratio + zt.r, xq * ratio + zt.x);
  const byHand = (1.1 * 11) / (Math.sqrt(3) * total);
  await expect.poll(() => faultLevel(page, 'Bus 2')).toBeCloseTo(byHand, 2);
  await toStage(page, 'Network');

  // The 11 kV board: two motors, a transformer; a coupler; a second section alike.
  await symbol(page, 'Bus 2').click();
  await panel(page, 'Motor');
  await panel(page, 'Motor');
  await panel(page, 'Transformer');
  await panel(page, 'Coupler');
  await panel(page, 'Transformer');
  await panel(page, 'Motor');
  // Below each transformer a low-voltage board, and on it four cables to boards of their own with a motor.
  for (const transformer of ['T2', 'T3']) {
    await page.keyboard.press('0');
    await symbol(page, transformer).click();
    await press(page, ['Enter', 'k', 'b', 'Enter']);
    await press(page, ['Enter', 'k', 'l', 'b', 'm', 'Enter', '.', '.', '.']);
  }
  await page.keyboard.press('0');
  const drawn = await model();
  const network = networkOf(drawn);
  const count = (kind: Element['kind']) => ofKind(network, kind).length;

  expect(validateNetwork(network)).toEqual([]);
  const topology = buildTopology(network);
  expect(topology.problems).toEqual([]);
  expect({
    bus: count('bus'),
    networkFeeder: count('networkFeeder'),
    transformer: count('transformer'),
    asynchronousMotor: count('asynchronousMotor'),
    line: count('line'),
    currentTransformer: count('currentTransformer'),
    relay: count('relay'),
    panel: count('panel'),
    switch: count('switch'),
  }).toEqual({
    bus: 13,
    networkFeeder: 1,
    transformer: 3,
    asynchronousMotor: 11,
    line: 8,
    currentTransformer: 6,
    relay: 6,
    panel: 6,
    switch: 18,
  });
  const levels = ofKind(network, 'bus').map(({ nominalKv }) => nominalKv);
  expect([33, 11, 0.4].map((kv) => levels.filter((each) => each === kv).length)).toEqual([1, 2, 10]);
  expect(ofKind(network, 'panel').map(({ type }) => type)).toEqual([
    'motor',
    'motor',
    'transformer',
    'coupler',
    'transformer',
    'motor',
  ]);
  for (const relay of ofKind(network, 'relay')) {
    expect(firstCtOf(relay)).not.toBeNull();
    expect(breakersOf(relay)).toHaveLength(1);
  }
  // Both sections are one through the coupler; every motor stands where its voltage is.
  const busNamed = (name: string) => ofKind(network, 'bus').find((bus) => bus.name === name)!;
  const sections = ofKind(network, 'bus').filter(({ nominalKv }) => nominalKv === 11);
  expect(topology.nodeAt(sections[0].id, 0)).toBe(topology.nodeAt(sections[1].id, 0));
  for (const motor of ofKind(network, 'asynchronousMotor'))
    expect(topology.nodes[topology.nodeAt(motor.id, 0)!].nominalKv).toBe(motor.ratedKv);
  for (const element of drawn.filter((each): each is ElementOf<'line'> => each.kind === 'line'))
    expect(element.assumed).toContain('lengthKm');

  // What the screen computes is what the engine computes for the stored model.
  await toStage(page, 'Faults');
  const engine = new FaultEngine(network);
  const row = engine.row(
    { method: 'iec60909', condition: maximumSources.id },
    solidFault('3ph'),
    busPlace(busNamed('Bus 2').id),
  );
  const expected = Number((row.result!.ikA / 1000).toPrecision(4));
  expect(expected).toBeGreaterThan(byHand);
  await expect.poll(() => faultLevel(page, 'Bus 2')).toBeCloseTo(expected, 5);

  // Everything back, and forth again.
  const undo = page.getByRole('button', { name: /^Undo|^Nothing to undo/ });
  while (await undo.isEnabled()) await page.keyboard.press('Control+z');
  expect(await model()).toEqual(blankElements());
  const redo = page.getByRole('button', { name: /^Redo|^Nothing to redo/ });
  while (await redo.isEnabled()) await page.keyboard.press('Control+y');
  const again = await model();
  const byId = (elements: Element[]) => [...elements].sort((p, q) => (p.id < q.id ? -1 : 1));
  expect(byId(again)).toEqual(byId(drawn));
});

test('by keyboard alone: a small network from nothing to its fault level, and back', async ({ page, request }) => {
  const id = await importProject(request, writeProject({ name: 'Keys', notes: '', elements: blankElements() }));
  await openDesk(page, id);
  // A bus in the middle of the view, moved a little before it is put down.
  await press(page, ['b', 'ArrowUp', 'ArrowUp', 'Enter']);
  await expect(page.getByRole('heading', { name: /^Bus 1/ })).toBeVisible();
  await press(page, ['Enter', 'ArrowUp', 'k', 'n', 'Enter']);
  // By the way of symbols back to the bus.
  await press(page, ['Alt+ArrowDown', 'Alt+ArrowDown']);
  await expect(page.getByRole('heading', { name: /^Bus 1/ })).toBeVisible();
  await press(page, ['Enter', 'k', 't', 'b', 'Enter']);
  await press(page, ['Enter', 'k', 'm', 'Enter', '.']);
  // A load put down freely and joined to the bus by keys.
  await press(page, ['o', 'Shift+ArrowRight', 'Shift+ArrowRight', 'Enter']);
  await expect(page.getByRole('heading', { name: /^Load 1/ })).toBeVisible();
  await page.keyboard.press('a');
  await expect(page.getByRole('status').filter({ hasText: 'Connect Load 1 to' })).toBeVisible();
  await find(page, 'Bus 2');
  await page.keyboard.press('Enter');
  await saved(page);
  const stored = async () =>
    networkOf(((await (await request.get(`/api/projects/${id}`)).json()) as { elements: Element[] }).elements);
  const network = await stored();
  const topology = buildTopology(network);
  const [load] = ofKind(network, 'load');
  const low = ofKind(network, 'bus').find(({ name }) => name === 'Bus 2')!;
  expect(topology.nodeAt(load.id, 0)).toBe(topology.nodeAt(low.id, 0));
  expect(ofKind(network, 'asynchronousMotor')).toHaveLength(2);

  // A value by keyboard: the list of keys, the search, the field, its refusal, its acceptance.
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toContainText('Draw a feeder from what is selected');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeHidden();
  await find(page, 'T1');
  await expect(page.getByRole('heading', { name: /^T1/ })).toBeVisible();
  await page.keyboard.press('F2');
  for (let k = 0; k < 60; k++) {
    if (
      (await page.evaluate(() => document.activeElement?.getAttribute('aria-label'))) ===
      'Short-circuit voltage uk in %'
    )
      break;
    await page.keyboard.press('Tab');
  }
  await page.keyboard.press('Control+a');
  await page.keyboard.type('120');
  await page.keyboard.press('Enter');
  await expect(page.getByText('must be at most 100 %')).toBeVisible();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('4');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await page.keyboard.press('6');
  await expect.poll(() => faultLevel(page, 'Bus 2')).toBeGreaterThan(25);
  await page.keyboard.press('1');

  // Nudged and deleted, and all of it back.
  await find(page, 'Load 1');
  await press(page, ['ArrowRight', 'Shift+ArrowDown']);
  await saved(page);
  expect((await stored()).elements.get(load.id)).toMatchObject({ x: load.x + 10, y: load.y + 50 });
  await page.keyboard.press('Delete');
  await expect(symbol(page, 'Load 1')).toHaveCount(0);
  for (let k = 0; k < 30; k++) await page.keyboard.press('Control+z');
  await saved(page);
  expect((await stored()).elements.size).toBe(1);
  for (let k = 0; k < 30; k++) await page.keyboard.press('Control+Shift+z');
  await saved(page);
  expect(ofKind(await stored(), 'load')).toHaveLength(0);
  expect(ofKind(await stored(), 'asynchronousMotor')).toHaveLength(2);
});
