/** Direct current on the desk: voltages and currents at boards and loads, what a change does to them, a feeder drawn by keys, arcs at boards, labels of one's own. */
import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { elementId } from '../core/src/model/fields';
import { find, ofKind, settingsOf } from '../core/src/model/network';
import { blank, importProject, model, openDesk, press, saved, toStage } from './desk';

const id = elementId;
/** One pixel, to stand for a company mark. */
const picture = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
);

test('boards and loads of direct current; their sources, the working, the load; a thicker cable', async ({
  page,
  request,
}) => {
  const project = await importProject(request);
  await openDesk(page, project, 'direct');
  const table = page.getByRole('table', { name: 'Direct current' });
  await expect(page.getByRole('status', { name: 'Direct current, in short' })).toContainText('7 places, 0 below');
  const row = table.getByRole('row', { name: /^Trip coils 132 kV/ });
  await expect(row).toContainText('≥ 70');
  await expect(row).toContainText('FER Q97');
  const before = await row.textContent();
  await table.getByRole('row', { name: /^FER DC 1/ }).click();
  const card = page.getByRole('region', { name: 'Short circuit at FER DC 1' });
  await expect(card.getByRole('table', { name: 'Sources of the short circuit' })).toContainText('FER battery');
  await expect(card).toContainText('FER F90, 100 A gG');
  await expect(card.getByRole('img', { name: 'Short-circuit current over time' })).toBeVisible();
  await card.getByRole('button', { name: 'Show the working' }).click();
  await expect(card.getByRole('document', { name: 'Working' })).toContainText('IEC 61660-1 (as remembered), 2.3');
  await card.getByRole('combobox', { name: 'Condition of the short circuit' }).click();
  await page.getByRole('option', { name: 'Minimum sources' }).click();
  await expect(card.getByRole('document', { name: 'Working' })).toContainText('at the end of discharge');

  await page.getByText('Load', { exact: true }).last().click();
  const load = page.getByRole('table', { name: 'Load of direct current' });
  await expect(load.getByRole('row', { name: /^FER charger/ }).first()).toContainText('40');
  await load
    .getByRole('row', { name: /^FER WD5/ })
    .first()
    .click();
  await toStage(page, 'Network');
  const section = page.getByRole('textbox', { name: 'Cross-section' });
  await section.fill('thin');
  await section.press('Enter');
  await expect(page.getByText(/not a number|cannot be read|number/).first()).toBeVisible();
  await section.fill('16');
  await section.press('Enter');
  expect(find(await model(page, request, project), 'directCable', id('fer-wd5'))!.sectionMm2).toBe(16);
  await toStage(page, 'D.c.');
  await page.getByText('Places', { exact: true }).click();
  await expect(row).not.toHaveText(before!);
});

test('a feeder of direct current is drawn by keys behind a charger, and refused where there is none', async ({
  page,
  request,
}) => {
  const project = await blank(request);
  await openDesk(page, project);
  await press(page, [
    'b',
    'ArrowUp',
    'Enter',
    'Enter',
    'k',
    'Shift+U',
    'f',
    'Shift+B',
    'f',
    'Shift+L',
    'Shift+O',
    'Enter',
  ]);
  const network = await model(page, request, project);
  expect(ofKind(network, 'directLoad')).toHaveLength(1);
  expect(ofKind(network, 'bus').map(({ system }) => system)).toEqual(['ac', 'dc']);
  // Alternating current has no place behind it.
  await press(page, ['Escape']);
  await toStage(page, 'D.c.');
  await expect(page.getByRole('table', { name: 'Direct current' })).toContainText('DL 1');
});

test('arcs at boards of direct current by every method; own enclosures, own lines and mark of labels; a version to compare with', async ({
  page,
  request,
}) => {
  const project = await importProject(request);
  await request.post(`/api/projects/${project}/versions`, { data: { revision: 1, name: 'As built' } });
  await openDesk(page, project, 'arc');
  const bench = page.getByRole('region', { name: 'Arc energy' });
  const table = bench.getByRole('table', { name: 'Arc energy' });
  const boxes = page.getByRole('table', { name: 'Enclosures of d.c. arcs' });
  const before = await table.getByRole('row', { name: /^FER DC 1/ }).textContent();
  const k = boxes.getByRole('textbox', { name: 'k, motor control centre, distribution board' });
  await k.fill('0.2');
  await k.press('Enter');
  await saved(page);
  await expect(table.getByRole('row', { name: /^FER DC 1/ })).not.toHaveText(before!);

  const labels = page.getByRole('region', { name: 'Labels' });
  await labels.getByRole('button', { name: 'Add line' }).click();
  const text = labels.getByRole('textbox', { name: 'Text of line 1' });
  await text.fill('room 3, {place}');
  await text.press('Enter');
  const chooser = page.waitForEvent('filechooser');
  await labels.getByRole('button', { name: 'Company mark' }).click();
  await (await chooser).setFiles({ name: 'mark.png', mimeType: 'image/png', buffer: picture });
  await expect(labels.getByRole('img', { name: 'Company mark' })).toBeVisible();
  const { arc, mark } = settingsOf(await model(page, request, project));
  expect(arc.labelLines).toEqual([{ title: 'Equipment', text: 'room 3, {place}' }]);
  expect(arc.boxes).toMatchObject([{ equipment: 'controlCentre', k: 0.2 }]);
  expect(mark).toMatch(/^data:image\/png;base64,/);

  await bench.getByRole('combobox', { name: 'Compared with' }).click();
  await page.getByRole('option', { name: 'As built' }).click();
  await expect(table.getByRole('columnheader', { name: 'before' })).toBeVisible();
  await bench.getByRole('combobox', { name: 'Places' }).click();
  await page.getByRole('option', { name: 'changed since the version' }).click();
  await expect(table.getByRole('row', { name: /^FER DC/ })).toHaveCount(2);
  await expect(table.getByRole('row', { name: /^BRA/ })).toHaveCount(0);

  await bench.getByRole('button', { name: 'Labels (2)' }).click();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save 2 as PDF' }).click(),
  ]);
  expect(
    readFileSync((await file.path())!)
      .subarray(0, 5)
      .toString(),
  ).toBe('%PDF-');
  await page.keyboard.press('Escape');
  await table.getByRole('row', { name: /^FER DC 2/ }).click();
  const card = page.getByRole('region', { name: 'Arc at FER DC 2' });
  await card
    .getByRole('table', { name: 'By condition and method' })
    .getByRole('row', { name: /^Maximum sources Stokes/ })
    .click();
  await expect(card.getByRole('document', { name: 'Working' })).toContainText(
    'Stokes, Oppenlander 1991 (as remembered)',
  );
  const distance = card.getByRole('textbox', { name: 'Working distance' });
  await distance.fill('600');
  await distance.press('Enter');
  expect(find(await model(page, request, project), 'bus', id('fer-dc-2'))!.arc).toMatchObject({ distanceMm: 600 });
});

test('a maintenance setting and light detection on the card of a relay bring an arc down', async ({
  page,
  request,
}) => {
  const project = await importProject(request);
  await openDesk(page, project, 'arc');
  const bench = page.getByRole('region', { name: 'Arc energy' });
  const row = bench
    .getByRole('table', { name: 'Arc energy' })
    .getByRole('row', { name: /^BRA 0\.4, line side of BRA F41/ });
  await expect(row).toContainText('42.5');
  await toStage(page, 'Network');
  await page.keyboard.press('Control+k');
  await page.keyboard.type('BRA Q32 relay');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Add function' }).click();
  await page.getByRole('menuitem', { name: /^50 / }).first().click();
  for (const [name, value] of [
    ['50 pickup', '2'],
    ['50 delay', '0.05'],
  ]) {
    const field = page.getByRole('textbox', { name: new RegExp(`^${name}`) }).last();
    await field.fill(value);
    await field.press('Enter');
  }
  await page.getByRole('button', { name: '50 interlock and maintenance' }).last().click();
  await page.getByRole('checkbox', { name: '50 maintenance setting' }).last().check();
  await saved(page);
  await toStage(page, 'Arc');
  await expect(row).toContainText('42.5');
  await bench.getByRole('checkbox', { name: 'maintenance settings on' }).check();
  await expect(row).not.toContainText('42.5');
  await expect(row).toContainText('BRA Q32 relay, 50');
  await bench.getByRole('checkbox', { name: 'maintenance settings on' }).uncheck();
  await toStage(page, 'Network');
  await page.getByRole('button', { name: 'Add function' }).click();
  await page.getByRole('menuitem', { name: /^AFD/ }).click();
  await page.getByRole('combobox', { name: 'AFD watches' }).click();
  await page.getByRole('option', { name: 'BRA F41', exact: true }).click();
  await page.keyboard.press('Escape');
  await saved(page);
  await toStage(page, 'Arc');
  await expect(row).toContainText('BRA Q32 relay, AFD');
});
