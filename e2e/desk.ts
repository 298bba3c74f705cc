/** What the tests do on the desk, by what a user sees. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, type APIRequestContext, type Locator, type Page } from '@playwright/test';
import { writeProject } from '../core/src/formats/project/project';
import { blankElements } from '../core/src/model/defaults';
import type { Element } from '../core/src/model/element';
import { networkOf } from '../core/src/model/network';

export const demoText = readFileSync(join(import.meta.dirname, '../demo/sorrel-island.json'), 'utf8');

/** A project of its own for a test, from a file; returns its id. */
export async function importProject(request: APIRequestContext, text = demoText): Promise<string> {
  const answer = await request.post('/api/projects/import', {
    data: text,
    headers: { 'content-type': 'application/json' },
  });
  expect(answer.ok(), `${answer.status()} ${await answer.text()}`).toBe(true);
  return ((await answer.json()) as { id: string }).id;
}

export async function openDesk(page: Page, id: string, stage = 'network'): Promise<void> {
  await page.goto(`/p/${id}?stage=${stage}`);
  await expect(page.getByRole('status', { name: 'Calculation state' })).toHaveText(/^current/);
}

export const toStage = (page: Page, name: string) =>
  page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name }).click();

export const saved = (page: Page) => expect(page.getByRole('status', { name: 'Saving' })).toHaveText(/^saved/);

/** The symbol of an element on the drawing. */
export const symbol = (page: Page, name: string): Locator =>
  page.getByRole('region', { name: 'One-line diagram' }).locator(`.react-flow__node[aria-label="${name}"]`);

/** Ik″ of a bus in the table of fault currents, in kA. */
export async function faultLevel(page: Page, bus: string): Promise<number> {
  await expect(page.getByRole('status', { name: 'Calculation state' })).toHaveText(/^current/);
  const row = page.getByRole('row', { name: new RegExp(`^${bus} `) });
  return Number(await row.getByRole('cell').nth(2).textContent());
}

/** Middle of what a locator finds, once it stands still: the view may be on its way there. */
export async function centerOf(locator: Locator): Promise<{ x: number; y: number }> {
  let last = (await locator.boundingBox())!;
  for (;;) {
    await locator.page().waitForTimeout(60);
    const box = (await locator.boundingBox())!;
    if (Math.abs(box.x - last.x) + Math.abs(box.y - last.y) < 0.5)
      return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
    last = box;
  }
}

export async function drag(
  page: Page,
  from: { x: number; y: number },
  to: { x: number; y: number },
  steps = 12,
): Promise<void> {
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(to.x, to.y, { steps });
  await page.mouse.up();
}

/** A blank project of its own; returns its id. */
export const blank = (request: APIRequestContext) =>
  importProject(request, writeProject({ name: 'Blank', notes: '', elements: blankElements() }));
/** The model as the server has it, once everything is stored. */
export const model = async (page: Page, request: APIRequestContext, id: string) => {
  await saved(page);
  // A connection that was kept may be closed by the server in the very moment that it is used again.
  const answer = await request.get(`/api/projects/${id}`, { maxRetries: 2 });
  return networkOf(((await answer.json()) as { elements: Element[] }).elements);
};
export const press = async (page: Page, keys: string[]) => {
  for (const key of keys) await page.keyboard.press(key);
};
/** A new project with a bus and one motor feeder, drawn by keys; returns its id. */
export async function drawnFeeder(page: Page, request: APIRequestContext): Promise<string> {
  const id = await blank(request);
  await openDesk(page, id);
  await press(page, ['b', 'ArrowUp', 'Enter', 'Enter', 'k', 'l', 'm', 'Enter']);
  await saved(page);
  return id;
}
