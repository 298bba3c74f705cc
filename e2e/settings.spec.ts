/** Settings by rule: a rule is changed and what it touches is seen, settings are proposed, taken, set against with a reason, and told when their figures have moved. */
import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { elementId } from '../core/src/model/fields';
import { find, ofKind, settingsOf } from '../core/src/model/network';
import { originState } from '../core/src/proposals/origin';
import { importProject, model, openDesk, saved, symbol, toStage } from './desk';

const view = (page: Page, name: string) =>
  page.getByRole('radiogroup', { name: 'View' }).getByText(name, { exact: true }).click();

test('a rule is changed, wrong formulas are told at their place, and what it touches is seen before', async ({
  page,
  request,
}) => {
  const id = await importProject(request);
  await openDesk(page, id, 'settings');
  await view(page, 'Rulebook');
  const rules = page.getByRole('table', { name: 'Rules' });
  await rules.getByRole('row', { name: /^Carries the load pickup/ }).click();
  const card = page.getByRole('article', { name: 'Rule Carries the load', exact: true });
  // What ships is read only.
  await expect(card.getByRole('textbox', { name: /^Pickup at least/ })).toHaveAttribute('readonly');
  await page.getByRole('button', { name: /^Make one/ }).click();
  const formula = card.getByRole('textbox', { name: /^Pickup at least/ });
  await expect(card.getByText(/^= [\d.]+ A$/)).toBeVisible();
  await formula.fill('1.5 * laod');
  await expect(card.getByRole('alert')).toContainText('there is no "laod"; is "load" meant?');
  await expect(card.locator('mark')).toHaveText('laod');
  await expect(card.getByRole('button', { name: 'Store rule' })).toBeDisabled();
  await formula.fill('1.5 * load + 0.1 s');
  await expect(card.getByRole('alert')).toContainText('A and s do not go together');
  // Names are completed while they are typed.
  await formula.fill('1.5 * emer');
  await formula.press('Enter');
  await expect(formula).toHaveValue('1.5 * emergencyLoad');
  await formula.fill('2.5 * load');
  await card.getByRole('button', { name: 'What would change' }).click();
  const effect = card.getByRole('region', { name: 'What would change' });
  await expect(effect.getByRole('status').first()).toContainText(/\d+ proposed values would change/);
  await expect(effect.getByRole('table')).toContainText('FER Q33 relay, 51');
  // No check reads that rule.
  await expect(effect.getByRole('status', { name: 'Checks that would change' })).toContainText(
    'No check reads otherwise',
  );
  await card.getByRole('button', { name: 'Store rule' }).click();
  await saved(page);
  const stored = await model(page, request, id);
  const [book] = ofKind(stored, 'rulebook');
  expect(settingsOf(stored).rulebook).toBe(book.id);
  expect(book.rules.find((rule) => rule.id === 'carries-load')!.formula).toBe('2.5 * load');
  // A margin is read by checks, too: with the settings as they are some no longer hold.
  await rules.getByRole('row', { name: /^Margin between two devices margin/ }).click();
  const margin = page.getByRole('article', { name: 'Rule Margin between two devices', exact: true });
  await margin.getByRole('textbox', { name: /^Margin at least/ }).fill('projectMargin + 0.2 s');
  await margin.getByRole('button', { name: 'What would change' }).click();
  await expect(margin.getByRole('list', { name: 'Checks touched' })).toContainText('BRA Q32 relay');
  // Rules about motors show themselves on a motor's relay.
  await rules.getByRole('row', { name: /^Carries the motor/ }).click();
  await expect(
    page.getByRole('article', { name: 'Rule Carries the motor', exact: true }).getByText(/^= [\d.]+ A$/),
  ).toBeVisible();
});

test('settings are proposed, taken, set against with a reason; a figure that moves is told', async ({
  page,
  request,
}) => {
  const id = await importProject(request);
  await openDesk(page, id, 'settings');
  await view(page, 'Proposal');
  await page.getByRole('combobox', { name: 'Strategy' }).click();
  await page.getByRole('option', { name: 'Least change' }).click();
  await page.getByRole('button', { name: 'Propose', exact: true }).click();
  const table = page.getByRole('table', { name: 'Proposed settings' });
  await table.getByRole('row', { name: /BRA Q21 relay 51 Time multiplier/ }).click();
  await expect(page.getByRole('article', { name: 'Why Time multiplier of BRA Q21 relay' })).toContainText(
    'Margin between two devices',
  );
  await page.getByRole('button', { name: 'Compare strategies' }).click();
  await expect(page.getByRole('table', { name: 'Strategies' }).getByRole('row')).toHaveCount(4);
  await expect(page.getByRole('table', { name: 'Strategies' })).not.toContainText('– – –');
  // On the charts first, as trials.
  await page.getByRole('button', { name: 'Show on the charts' }).click();
  await expect(page.getByText('edited, not stored').first()).toBeVisible();
  await page.getByRole('button', { name: 'Discard' }).first().click();
  await toStage(page, 'Settings');
  await page.getByRole('button', { name: 'Take all' }).click();
  await expect(page.getByText('The proposal is stored')).toBeVisible();
  await expect(page.getByText('Everything is set as the rulebook asks.')).toBeVisible();
  await saved(page);
  const taken = await model(page, request, id);
  const relay = find(taken, 'relay', elementId('fer-q33-relay'))!;
  expect(originState(relay, relay.functions[0], 'pickup')).toBe('proposed');

  // What the value came from; another one needs a reason.
  await view(page, 'All settings');
  await page.getByRole('textbox', { name: 'Filter the settings' }).fill('FER Q33 51 pick');
  await page
    .getByRole('table', { name: 'All settings' })
    .getByRole('row', { name: /FER Q33 relay 51 Pickup/ })
    .click();
  const card = page.getByRole('article', { name: 'Setting FER Q33 relay 51 Pickup' });
  await expect(card).toContainText(/Proposed on \d{4}-\d\d-\d\d by Carries the load \(Plain practice\)/);
  const value = card.getByRole('textbox', { name: 'Pickup in × In' });
  await value.fill('0.75');
  await value.press('Enter');
  await expect(card.getByText('Set against a proposal: give the reason first.')).toBeVisible();
  await card.getByRole('textbox', { name: 'Reason' }).fill('the wind park is to grow');
  await value.fill('0.75');
  await value.press('Enter');
  await expect(card).toContainText(/instead of 0.61: the wind park is to grow/);
  await card.getByRole('button', { name: 'Lock FER Q33 relay' }).click();
  await expect(card.getByRole('button', { name: 'Unlock FER Q33 relay' })).toBeVisible();

  // The transformer behind BRA Q36 gets another impedance: what its 50 was set by is no longer so.
  await saved(page);
  await toStage(page, 'Network');
  await symbol(page, 'BRA TM1').click();
  const uk = page.getByRole('textbox', { name: /^Short-circuit voltage/ }).first();
  await uk.fill('11');
  await uk.press('Enter');
  await saved(page);
  await toStage(page, 'Findings');
  await page
    .getByRole('table', { name: 'Checks' })
    .getByRole('row', { name: /BRA Q36 relay Figures of 50, pickup/ })
    .click();
  await expect(page.getByRole('article', { name: 'Check Figures of 50, pickup' })).toContainText(
    /BRA Q36 relay, 50: proposed on .* from throughFault 2574 A, now \d+ A \(−2\d\.\d+ %\)/,
  );
  const now = await model(page, request, id);
  expect(settingsOf(now).lockedDevices).toEqual(['fer-q33-relay']);
});

test('many settings at once: by a factor, out of pasted lines, each seen before it is stored', async ({
  page,
  request,
}) => {
  const id = await importProject(request);
  await openDesk(page, id, 'settings');
  await page.getByRole('textbox', { name: 'Filter the settings' }).fill('BRA Q21 51 time');
  await page.getByRole('button', { name: 'Change many' }).click();
  const panel = page.getByRole('region', { name: 'Change many' });
  await panel.getByRole('textbox', { name: 'Factor' }).fill('lots');
  await expect(panel.getByRole('button', { name: 'Store 0 values' })).toBeDisabled();
  await panel.getByRole('textbox', { name: 'Factor' }).fill('1.3');
  await expect(panel.getByRole('table', { name: 'Preview' })).toContainText('0.09');
  await panel.getByRole('button', { name: 'Store 1 value' }).click();
  await saved(page);
  const value = async () =>
    (
      find(await model(page, request, id), 'relay', elementId('bra-q21-relay'))!.functions[0] as {
        timeMultiplier: number;
      }
    ).timeMultiplier;
  expect(await value()).toBe(0.09);
  await panel.getByText('Paste lines').click();
  await panel
    .getByRole('textbox', { name: 'Lines' })
    .fill('BRA Q21 relay;51;Time multiplier;0.11\nBRA Q99 relay;51;Pickup;1\nFER Q33 relay;51;Pickup;0.613');
  const wrong = panel.getByRole('list', { name: 'Not taken' });
  await expect(wrong).toContainText('Line 2: there is no device "BRA Q99 relay"');
  await expect(wrong).toContainText('Line 3: FER Q33 relay, 51 pickup: 0.613 cannot be set; nearest 0.61');
  await panel.getByRole('textbox', { name: 'Reason for all' }).fill('study of 2026');
  await panel.getByRole('button', { name: 'Store 1 value' }).click();
  expect(await value()).toBe(0.11);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: /^Undo/ }).click();
  expect(await value()).toBe(0.09);
});

test('a station alone; a function that is missing is added with its settings and reasons', async ({
  page,
  request,
}) => {
  const id = await importProject(request);
  await openDesk(page, id, 'settings');
  await page.getByRole('combobox', { name: 'Station', exact: true }).click();
  await page.getByRole('option', { name: 'PEN', exact: true }).click();
  await expect(page.getByRole('status').filter({ hasText: /^\d+ of \d+$/ })).not.toHaveText(/^(\d+) of \1$/);
  await expect(page.getByRole('table', { name: 'All settings' })).not.toContainText('BRA');
  await page.getByRole('combobox', { name: 'Check that does not hold' }).click();
  await page.getByRole('option', { name: 'any does not hold' }).click();
  await view(page, 'Proposal');
  await page.getByRole('combobox', { name: 'Proposed for' }).click();
  await page.getByRole('option', { name: 'Station' }).click();
  await expect(page.getByText('Choose a station.')).toBeVisible();
  await page.getByRole('combobox', { name: 'Station', exact: true }).click();
  await page.getByRole('option', { name: 'PEN', exact: true }).click();
  await page.getByRole('button', { name: 'Propose', exact: true }).click();
  const table = page.getByRole('table', { name: 'Proposed settings' });
  await table.getByRole('row', { name: /PEN Q11 relay 50 Function added/ }).click();
  const why = page.getByRole('article', { name: 'Why Function added of PEN Q11 relay' });
  await expect(why).toContainText(/pickup [\d.]+ × In, delay 0.05 s \(now: none\)/);
  await expect(why).toContainText('A transformer has protection without delay');
  await expect(why).toContainText('1.3 * throughFault');
  await table.getByRole('button', { name: 'Take Function added of PEN Q11 relay, 50' }).click();
  await expect(table.getByRole('row', { name: /Function added/ })).toHaveCount(0);
  await saved(page);
  const relay = find(await model(page, request, id), 'relay', elementId('pen-q11-relay'))!;
  const added = relay.functions.at(-1)!;
  expect(added).toMatchObject({ family: 'overcurrent', code: '50', enabled: true });
  expect(originState(relay, added, 'pickup')).toBe('proposed');
});

test('a rulebook is shared in versions, taken by another project and compared', async ({ page, request }) => {
  await openDesk(page, await importProject(request), 'settings');
  await view(page, 'Rulebook');
  await page.getByRole('button', { name: /^Make one/ }).click();
  await page.getByRole('button', { name: 'Shared', exact: true }).click();
  const shared = page.getByRole('region', { name: 'Shared rulebooks' });
  await expect(shared.getByRole('status')).toHaveText('The rulebook in use is not shared.');
  await shared.getByRole('button', { name: /^Share / }).click();
  await expect(shared.getByRole('status')).toHaveText(/In use: version 1 of Rules of the project\.$/);
  await page
    .getByRole('table', { name: 'Rules', exact: true })
    .getByRole('row', { name: /^Carries the load pickup/ })
    .click();
  const card = page.getByRole('article', { name: 'Rule Carries the load', exact: true });
  await card.getByRole('textbox', { name: /^Pickup at least/ }).fill('1.4 * load');
  await card.getByRole('button', { name: 'Store rule' }).click();
  await expect(shared.getByRole('status')).toContainText('1 rules changed since');
  await shared.getByRole('button', { name: /^Share / }).click();
  await expect(shared.getByRole('status')).toHaveText(/version 2 of Rules of the project\.$/);
  // The same again is no new version.
  await shared.getByRole('button', { name: /^Share / }).click();
  await expect(page.getByText(/says the same already/)).toBeVisible();
  await saved(page);

  const other = await importProject(request);
  await openDesk(page, other, 'settings');
  await view(page, 'Rulebook');
  await page.getByRole('button', { name: 'Shared', exact: true }).click();
  await shared.getByRole('button', { name: 'Take version 1 of Rules of the project', exact: true }).click();
  await expect(shared.getByRole('status')).toContainText('version 2 is there');
  await shared.getByRole('button', { name: 'Compare with version 2 of Rules of the project' }).click();
  await expect(page.getByRole('table', { name: 'Rules that differ' })).toContainText('1.4 * load');
  await saved(page);
  const [book] = ofKind(await model(page, request, other), 'rulebook');
  expect(book.shared).toEqual({ name: 'Rules of the project', version: 1 });
  for (const version of [2, 1])
    await shared.getByRole('button', { name: `Take version ${version} of Rules of the project out` }).click();
  await expect(shared.getByText('No rulebook is shared yet.')).toBeVisible();
});

test('a rulebook goes from one project to another as a file, and is compared', async ({ page, request }) => {
  await openDesk(page, await importProject(request), 'settings');
  await view(page, 'Rulebook');
  await page.getByRole('button', { name: /^Make one/ }).click();
  await page
    .getByRole('table', { name: 'Rules' })
    .getByRole('row', { name: /^Sees the smallest fault pickup/ })
    .click();
  const card = page.getByRole('article', { name: 'Rule Sees the smallest fault', exact: true });
  await card.getByRole('textbox', { name: /^Pickup at most/ }).fill('smallestFault / 2');
  await card.getByRole('button', { name: 'Store rule' }).click();
  await page.getByRole('button', { name: 'Compare', exact: true }).click();
  const differing = page.getByRole('table', { name: 'Rules that differ' });
  await expect(differing.getByRole('row', { name: /Sees the smallest fault .*\/ 1.5.*\/ 2/ })).toHaveCount(1);
  await saved(page);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save as file' }).click(),
  ]);
  const text = readFileSync((await download.path())!, 'utf8');

  const other = await importProject(request);
  await openDesk(page, other, 'settings');
  await view(page, 'Rulebook');
  const chooser = async (name: string, content: string) => {
    const [files] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByRole('button', { name: 'Bring in' }).click(),
    ]);
    await files.setFiles({ name, mimeType: 'application/json', buffer: Buffer.from(content) });
  };
  await chooser('wrong.json', text.replace('smallestFault / 2', 'smalestFault / 2'));
  await expect(page.getByText(/there is no "smalestFault"; is "smallestFault" meant/)).toBeVisible();
  await chooser('rules.json', text);
  await expect(page.getByRole('combobox', { name: 'Rulebook in use' })).toHaveValue('Rules of the project');
  const [book] = ofKind(await model(page, request, other), 'rulebook');
  expect(book.rules.find((rule) => rule.id === 'sees-smallest')!.formula).toBe('smallestFault / 2');
});
