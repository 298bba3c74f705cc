/** Files in and out of a project, types shared among projects, a comparison with a named version. */
import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { elementId } from '@mesura/core/model/fields';
import { bytesOf } from '@mesura/core/formats/open';
import { cimOf } from '@mesura/core/formats/cim/write';
import { find, ofKind } from '@mesura/core/model/network';
import { demoNetwork } from '@mesura/core/test/demo';
import { importProject, model, openDesk, saved, symbol, toStage } from './desk';

/** Chooses a file in whatever asks for one. */
async function give(page: Page, open: () => Promise<void>, name: string, content: string | Buffer): Promise<void> {
  const asked = page.waitForEvent('filechooser');
  await open();
  const buffer = typeof content === 'string' ? Buffer.from(content) : content;
  await (await asked).setFiles({ name, mimeType: 'application/octet-stream', buffer });
}
const menu = async (page: Page, item: RegExp) => {
  await page.getByRole('button', { name: 'Import and export' }).click();
  await page.getByRole('menuitem', { name: item }).click();
};

test('tables go out as a workbook, come back changed, and are shown before they are taken over', async ({
  page,
  request,
}) => {
  const id = await importProject(request);
  await openDesk(page, id);
  const download = page.waitForEvent('download');
  await menu(page, /^Tables of all elements/);
  const file = await download;
  expect(file.suggestedFilename()).toMatch(/tables of all elements\.xlsx$/);
  const book = readFileSync(await file.path());
  expect(book.subarray(0, 2).toString()).toBe('PK');

  // As it went out it changes nothing.
  const dialog = page.getByRole('dialog', { name: /^Import / });
  await give(page, () => menu(page, /^Import a file/), 'tables.xlsx', book);
  await expect(dialog).toContainText('Nothing in it would change this project.');
  await expect(dialog.getByRole('button', { name: /^Take over/ })).toBeDisabled();
  await page.keyboard.press('Escape');

  const table = 'Identifier,Length in km,Colour\nfer-pen,12.5,red\nfer-bra-1,far,\nnobody,1,\n';
  await give(page, () => menu(page, /^Import a file/), 'lengths.csv', table);
  await expect(dialog.getByRole('table', { name: 'What it brings' })).toContainText('Line or cable changed');
  const left = dialog.getByRole('list', { name: 'Not taken' });
  await expect(left).toContainText('Line 3 (FER-BRA 1): length: This is not a number.');
  await expect(left).toContainText('there is no element "nobody" in this project');
  await dialog.getByRole('button', { name: 'Take over 1 change' }).click();
  await saved(page);
  const length = async () => find(await model(page, request, id), 'line', elementId('fer-pen'))!;
  expect((await length()).lengthKm).toBe(12.5);
  await page.keyboard.press('Control+z');
  await saved(page);
  expect((await length()).lengthKm).toBe(11.2);

  await give(page, () => menu(page, /^Import a file/), 'letter.txt', 'Dear colleague');
  await expect(dialog.getByRole('alert')).toContainText('letter.txt is none of these: Mesura project');
});

/** The project as another program would hand it on, with one line longer and a load gone. */
async function changedElsewhere(): Promise<Buffer> {
  const written = cimOf(demoNetwork(), 'Elsewhere').content as { files: { name: string; text: string }[] };
  const files = written.files.map(({ name, text }) => ({
    name,
    text: text.replace(/(>FER-PEN<[^]*?Conductor\.length>)11\.2</, '$113.4<'),
  }));
  expect(files[0].text).not.toBe(written.files[0].text);
  return Buffer.from(await bytesOf({ files }, 'zip'));
}

test('a CIM bundle meets the project element by element; what is chosen is taken, and undone in one step', async ({
  page,
  request,
}) => {
  const id = await importProject(request);
  await openDesk(page, id);
  const dialog = page.getByRole('dialog', { name: /^Import / });
  const length = async () => find(await model(page, request, id), 'line', elementId('fer-pen'))!.lengthKm;
  const motors = async () => find(await model(page, request, id), 'asynchronousMotor', elementId('bra-p4'))!.count;

  await give(page, () => menu(page, /^Import a file/), 'elsewhere.zip', await changedElsewhere());
  await expect(dialog).toContainText('A file of CIM (IEC 61970-552).');
  const entries = dialog.getByRole('region', { name: 'Element by element' });
  await expect(entries).toContainText('Length: 11.2 → 13.4');
  await expect(entries).toContainText('Like motors: 4 → 1');
  await entries.getByRole('checkbox', { name: 'Take BRA P4' }).uncheck();
  await dialog.getByRole('button', { name: 'Take over 1 change' }).click();
  await saved(page);
  expect([await length(), await motors()]).toEqual([13.4, 4]);
  await page.keyboard.press('Control+z');
  await saved(page);
  expect([await length(), await motors()]).toEqual([11.2, 4]);

  // Beside what is here all of it is new.
  await give(page, () => menu(page, /^Import a file/), 'elsewhere.zip', await changedElsewhere());
  await dialog.getByText('Put beside it, as new').click();
  await expect(dialog.getByRole('table', { name: 'What it brings' })).not.toContainText('changed');
  await page.keyboard.press('Escape');

  await give(
    page,
    () => menu(page, /^Import a file/),
    'bomb.xml',
    '<!DOCTYPE a [<!ENTITY b "c">]><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#" xmlns:c="http://iec.ch/TC57/CIM100#"/>',
  );
  await expect(dialog).toContainText('line 1');
  await expect(dialog.getByRole('button', { name: /^Take over/ })).toBeDisabled();
});

test('the page of the drawing goes out as vectors, picture, print and for drawing programs', async ({
  page,
  request,
}) => {
  await openDesk(page, await importProject(request));
  const written = async (item: RegExp) => {
    const download = page.waitForEvent('download');
    await menu(page, item);
    const file = await download;
    return { name: file.suggestedFilename(), bytes: readFileSync(await file.path()) };
  };
  const svg = await written(/^Vectors/);
  expect(svg.name).toMatch(/\.svg$/);
  expect(svg.bytes.toString()).toContain('BRA 11 A');
  const png = await written(/^Picture/);
  expect(png.bytes.subarray(1, 4).toString()).toBe('PNG');
  // Width of the picture, in its head: two pixels for a unit of the drawing.
  const units = Number(/viewBox="[-\d.]+ [-\d.]+ ([\d.]+)/.exec(svg.bytes.toString())![1]);
  expect(png.bytes.readUInt32BE(16)).toBe(Math.ceil(2 * units));
  const dxf = await written(/^For drawing programs/);
  expect(dxf.bytes.toString()).toContain('BRA 11 A');
  const pdf = await written(/^Print/);
  expect(pdf.bytes.subarray(0, 5).toString()).toBe('%PDF-');
});

test('a solved power-flow case is shown, opens as a project of its own, and solves', async ({ page }) => {
  await page.goto('/');
  const text = readFileSync('core/reference/powerFlow/ieee-14-bus.cdf', 'utf8');
  await give(page, () => page.getByRole('button', { name: 'Import file' }).click(), 'case.cdf', text);
  const dialog = page.getByRole('dialog', { name: 'Open case.cdf' });
  await expect(dialog.getByRole('table', { name: 'What it brings' })).toContainText('Bus14');
  await expect(dialog).toContainText('Assumed, where the file says nothing');
  await dialog.getByLabel('Name of the project').fill('Fourteen');
  await dialog.getByRole('button', { name: 'Open as a project' }).click();
  await page.waitForURL(/\/p\//);
  await toStage(page, 'Load');
  // What is published of this line: 9.43 MW.
  await expect(page.getByRole('row', { name: /Bus 9 LV – Bus 14 LV/ })).toContainText('9.426');
});

test('a type is kept, shared with another project, used there, and no longer shared', async ({ page, request }) => {
  await openDesk(page, await importProject(request), 'equipment');
  await symbol(page, 'BRA Q21').click();
  await page.getByRole('button', { name: 'Keep its data as a type' }).click();
  const card = page.getByRole('article', { name: 'Type BRA Q21' });
  await card.getByRole('button', { name: 'Share with all projects' }).click();
  await expect(card.getByRole('button', { name: 'Shared', exact: true })).toBeDisabled();
  await saved(page);

  const other = await importProject(request);
  await openDesk(page, other, 'equipment');
  await symbol(page, 'BRA Q22').click();
  await page.getByRole('textbox', { name: 'Search the types' }).fill('BRA Q21');
  await page.getByRole('row', { name: /^BRA Q21 shared/ }).click();
  await card.getByRole('button', { name: 'Use for BRA Q22' }).click();
  await saved(page);
  const network = await model(page, request, other);
  const [copy] = ofKind(network, 'libraryEntry');
  expect(copy).toMatchObject({ name: 'BRA Q21', for: 'switch' });
  expect(find(network, 'switch', elementId('bra-q22'))).toMatchObject({ entry: copy.id });
  // One step, copy and use together.
  await page.keyboard.press('Control+z');
  await saved(page);
  expect(ofKind(await model(page, request, other), 'libraryEntry')).toEqual([]);
  await page.getByRole('row', { name: /^BRA Q21 shared/ }).click();
  await card.getByRole('button', { name: 'Stop sharing' }).click();
  await expect(page.getByRole('row', { name: /^BRA Q21 shared/ })).toHaveCount(0);
});

test('a relay takes a type of relay: what it lacks is told first, settings stay', async ({ page, request }) => {
  const id = await importProject(request);
  await openDesk(page, id, 'equipment');
  await symbol(page, 'BRA Q21 relay').click();
  await page.getByRole('row', { name: /^Electromechanical disc relay 51 51N / }).click();
  const card = page.getByRole('article', { name: 'Type Electromechanical disc relay' });
  await expect(card).toContainText('51 pickup 1.1 × In: takes 0.5 to 2 in steps of 0.25');
  await page.getByRole('row', { name: /^Numerical relay, settings in secondary amperes/ }).click();
  await page.getByRole('button', { name: 'Use for BRA Q21 relay' }).click();
  await saved(page);
  const relay = find(await model(page, request, id), 'relay', elementId('bra-q21-relay'));
  expect(relay).toMatchObject({ device: 'Numerical relay, settings in secondary amperes' });
  expect(relay!.functions[0]).toMatchObject({ pickup: 1.1, ranges: { pickup: { min: 0.1, max: 16 } } });
});

test('checks are compared with a named version', async ({ page, request }) => {
  const id = await importProject(request);
  const named = await request.post(`/api/projects/${id}/versions`, { data: { revision: 1, name: 'As built' } });
  expect(named.ok()).toBe(true);
  await openDesk(page, id);
  await symbol(page, 'BRA Q21 relay').click();
  const multiplier = page.getByRole('textbox', { name: '51 time multiplier' });
  await multiplier.fill('0.2');
  await multiplier.press('Enter');
  await saved(page);
  await toStage(page, 'Findings');
  await page.getByText('Changed', { exact: true }).click();
  await page.getByRole('combobox', { name: 'Compared with' }).click();
  await page.getByRole('option', { name: 'As built' }).click();
  const table = page.getByRole('table', { name: 'Checks' });
  await expect(table.getByRole('row', { name: /BRA Q21 relay → BRA Q11 relay/ }).first()).toContainText(
    'worse: not met',
  );
  await expect(table.getByRole('row', { name: /BRA Q32 relay → BRA Q21 relay, phase/ }).first()).toContainText(
    'better: OK',
  );
});

test('the current along a line: keys and clicks move the fault', async ({ page, request }) => {
  await openDesk(page, await importProject(request), 'faults');
  await page.getByRole('button', { name: 'Options' }).click();
  await page.getByRole('combobox', { name: 'On a line' }).click();
  await page.getByRole('option', { name: 'FER-PEN' }).click();
  await page.getByRole('tab', { name: 'Along the line' }).click();
  const plot = page.getByRole('slider', { name: /along FER-PEN/ });
  await plot.focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('row', { name: /^FER-PEN at 51 %/ })).toBeVisible();
  await page.keyboard.press('PageUp');
  await expect(plot).toHaveAttribute('aria-valuenow', '61');
  await expect(plot.locator('path[data-curve="Ik″"]')).toHaveAttribute('d', /^M[\d.]+ [\d.]+L/);

  // What is looked at goes into a document, and is printed with the project's title block.
  const forms = { SVG: '<svg', PNG: '\u0089PNG', PDF: '%PDF-', DXF: 'SECTION' };
  for (const [form, begin] of Object.entries(forms)) {
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Picture' }).click();
    await page.getByRole('menuitem', { name: form, exact: true }).click();
    const file = await download;
    expect(file.suggestedFilename()).toMatch(new RegExp(`Fault currents along FER-PEN\\.${form.toLowerCase()}$`));
    expect(
      readFileSync(await file.path())
        .toString('latin1')
        .slice(0, 200),
    ).toContain(begin);
  }
});

test('a breaker stands below what it could not break alone, with a type above that its type is listed with', async ({
  page,
  request,
}) => {
  const id = await importProject(request);
  await openDesk(page, id, 'equipment');
  const typeOf = async (name: string) => {
    await symbol(page, name).click();
    await page.getByRole('button', { name: 'Keep its data as a type' }).click();
    await page.getByRole('button', { name: new RegExp(`^Use .*${name}$`) }).click();
    await saved(page);
  };
  await typeOf('BRA F41');
  await typeOf('BRA F51');
  const card = page.getByRole('article', { name: 'Type BRA F51' });
  await card.getByRole('combobox', { name: 'Add a type above' }).fill('BRA F41');
  await page.getByRole('option', { name: 'BRA F41', exact: true }).click();
  const together = card.getByRole('textbox', { name: 'Break together up to, with BRA F41, in kA' });
  await expect(together).toHaveValue('25');
  await together.fill('lots');
  await together.press('Enter');
  await expect(card.getByText(/not a number/i)).toBeVisible();
  await together.fill('50');
  await together.press('Enter');
  await card.getByRole('textbox', { name: 'Selective up to, with BRA F41, in kA' }).fill('20k');
  await page.keyboard.press('Enter');
  await saved(page);
  if (process.env.SHOT) await page.screenshot({ path: process.env.SHOT });
  await toStage(page, 'Ratings');
  await page.getByRole('radiogroup', { name: 'Summary' }).getByText('Breaking', { exact: true }).click();
  const row = page.getByRole('table', { name: 'Breaking, interrupting' }).getByRole('row', { name: /BRA F51 Icu/ });
  await row.click();
  await expect(page.getByRole('article', { name: 'Check Breaking capacity' })).toContainText(
    'BRA F51: breaking capacity together with BRA F41 50 kA covers Ik″ 36.67 kA',
  );
  expect(
    ofKind(await model(page, request, id), 'libraryEntry').flatMap(({ partners }) => partners ?? []),
  ).toMatchObject([{ selectiveKa: 20, backupKa: 50 }]);
});

test('a list of anybody’s making: its columns are told once, and remembered', async ({ page, request }) => {
  const id = await importProject(request);
  await openDesk(page, id);
  const list = (rows: string[]) => ['Cable;Von;Nach;Laenge;R1 in Ω/km', ...rows].join('\n');
  await give(
    page,
    () => menu(page, /^Import a file/),
    'cables.csv',
    list(['C 101;BRA 33;SKE 33;2,5;0.1', 'C 102;BRA 33;Harbour;1,2;lots']),
  );
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByText('A list. What are its rows')).toBeVisible();
  const say = async (head: string, what: string) => {
    await dialog.getByRole('combobox', { name: `${head} holds` }).fill(what);
    await page.getByRole('option', { name: what, exact: true }).click();
  };
  await dialog.getByRole('combobox', { name: 'Each row is one' }).fill('Line');
  await page.getByRole('option', { name: 'Line or cable', exact: true }).click();
  await expect(dialog.getByRole('alert')).toContainText('which column holds the name');
  await say('Cable', 'Name');
  await say('Von', 'Busbar at end 1');
  await say('Nach', 'Busbar at end 2');
  await say('Laenge', 'Length in km');
  await say('R1 in Ω/km', 'R1 at 20 °C in Ω/km');
  await dialog.getByRole('button', { name: 'Show what the 2 rows bring' }).click();
  // What cannot be taken is told with its row and column.
  await expect(dialog.getByText(/row 3, R1 in Ω\/km: "lots"/)).toBeVisible();
  await expect(dialog.getByText(/busbar that the list names and the project has not/)).toBeVisible();
  await dialog.getByRole('button', { name: /^Take over \d+ changes/ }).click();
  await saved(page);
  await expect(symbol(page, 'C 101')).toBeVisible();
  await expect(symbol(page, 'Harbour')).toBeVisible();

  // A later list with the same heads is read without asking twice, and changes what is there by name.
  await give(page, () => menu(page, /^Import a file/), 'later.csv', list(['C 101;BRA 33;SKE 33;3,5;0.1']));
  await expect(dialog.getByRole('combobox', { name: 'Laenge holds' })).toHaveValue('Length in km');
  await dialog.getByRole('button', { name: 'Show what the row brings' }).click();
  await dialog.getByRole('button', { name: /^Take over 1 change/ }).click();
  await saved(page);
  const { elements } = (await (await request.get(`/api/projects/${id}`)).json()) as {
    elements: { name?: string; lengthKm?: number }[];
  };
  expect(elements.find(({ name }) => name === 'C 101')!.lengthKm).toBe(3.5);
});
