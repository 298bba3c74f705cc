/** Sheets in the database: signed by three, frozen, sealed one after the other; as files. */
import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Relay } from '@mesura/core/model/protection';
import { startMariadb } from '../../../scripts/lib/mariadb.mjs';
import { storeBatch } from '../changes';
import { closePool, pool } from '../database';
import { toServiceError } from '../errors';
import { migrate } from '../migrate';
import { runs } from '../pdf/base';
import { importProject, listProjects, openProject } from '../projects';
import { closeWorkers } from '../workers';
import { issued, onOwnDesk, withAccount } from '../test/signing';
import { folderFile, issuedPdf, pdfFile, sheetJson, xlsxFile } from './documents';
import { prepareSheets, stepOf, stepSchema, takeStep } from './life';
import { lastIssued, listSheets, register, runDetail } from './register';
import { brokenRuns, brokenSeals, digestOf, sealOf } from './seal';

const migrations = join(import.meta.dirname, '../migrations');
const demo = readFileSync(join(import.meta.dirname, '../../../demo/sorrel-island.json'), 'utf8');
let project: string;
/** As after a start: the triggers are put back. */
const migrateAnew = async () => {
  await pool().query("DELETE FROM migrations WHERE name LIKE '0001%' OR name LIKE '0007%'");
  await migrate(migrations, process.env.MESURA_DATABASE_URL!);
};
beforeAll(async () => {
  await migrate(migrations, process.env.MESURA_DATABASE_URL!);
  project = await importProject(demo);
});
afterAll(async () => {
  await closeWorkers();
  await closePool();
});

function textOf(pdf: Uint8Array): string {
  const file = join(mkdtempSync(join(tmpdir(), 'mesura-pdf-')), 'sheet.pdf');
  writeFileSync(file, pdf);
  return execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' });
}

const prepare = (id: string, revision: number, as = 'Astrid Vale', over: { reason?: string; key?: string } = {}) =>
  prepareSheets(project, { subjects: [{ kind: 'device', id }], revision, reason: '', ...over }, onOwnDesk(as));
const step = (
  run: string,
  what: 'checked' | 'rejected' | 'approved' | 'withdrawn' | 'comment' | 'resolved',
  seq: number,
  as: string,
  over: { text?: string; about?: string; key?: string } = {},
) => stepOf(project, { run, step: what, seq, text: '', about: '', ...over }, onOwnDesk(as));

describe('setting sheets', () => {
  it('are issued as numbered revisions whose PDF says what was set, and who signed', async () => {
    const head = await issued(project, 'bra-q32-relay', 1, 'First issue');
    expect(head).toMatchObject({ number: 1, projectRevision: 1, reason: 'First issue', issuedBy: 'Cleo Marsh' });
    const { name, bytes } = await issuedPdf(project, head.id);
    expect(name).toBe('BRA Q32 relay rev 1.pdf');
    const text = textOf(bytes);
    for (const expected of [
      'Setting sheet BRA Q32 relay',
      'Revision 1',
      'First issue',
      'IEC B, very inverse',
      '150 A',
      '0.26',
      'BRA CT32, 150/1 A, 5P20',
      'Astrid Vale',
      'Bo Harrow',
      'Cleo Marsh',
      'not signed in',
      'Page',
      '1 of ',
      head.digest.slice(0, 12),
      head.seal.slice(0, 12),
      'primary current referred to 11 kV',
      'BRA Q21 relay',
    ])
      expect(text, expected).toContain(expected);
    expect(text).not.toContain('?');
  });

  it('stay as they were when the project goes on; the next one says what has changed', async () => {
    const [first] = await listSheets(project);
    const before = (await issuedPdf(project, first.id)).bytes;
    const relay = (await openProject(project)).elements.find((element) => element.id === 'bra-q32-relay') as Relay;
    const changed = {
      ...relay,
      functions: relay.functions.map((fn, k) => (k === 0 ? { ...fn, timeMultiplier: 0.3 } : fn)),
    };
    await storeBatch(project, {
      batchId: 'sheet-test-1',
      baseRevision: 1,
      label: 't',
      origin: 'edit',
      author: 'engineer',
      changes: [{ op: 'update', element: changed }],
    });
    const second = await issued(project, 'bra-q32-relay', 2, '');
    expect(second.number).toBe(2);
    expect(second.digest).not.toBe(first.digest);
    expect((await issuedPdf(project, first.id)).bytes).toEqual(before);
    const text = textOf((await issuedPdf(project, second.id)).bytes);
    expect(text).toMatch(/Changed since revision 1[\s\S]*51 time multiplier\s+0\.26\s+0\.3/);
    expect(text).toMatch(/Revisions before[\s\S]*First issue/);
    expect(textOf((await pdfFile(project, 'draft-bra-q32-relay')).bytes)).toContain('Draft');
    expect((await runDetail(project, second.runId!)).since).toContainEqual(
      expect.objectContaining({ part: 'value', what: '51 time multiplier', before: '0.26', after: '0.3' }),
    );
  });

  it('are signed by people who differ: nobody checks or approves their own work', async () => {
    const {
      prepared: [{ run }],
    } = await prepare('bra-q21-relay', 2);
    const refused = { status: 409, code: 'sheet.refused' };
    // By the name where nobody signs in, however it is written.
    await expect(step(run, 'checked', 1, ' astrid  VALE ')).rejects.toMatchObject(refused);
    await expect(step(run, 'approved', 1, 'Cleo Marsh')).rejects.toMatchObject(refused);
    await step(run, 'checked', 1, 'Bo Harrow');
    await expect(step(run, 'approved', 2, 'Astrid Vale')).rejects.toMatchObject(refused);
    await expect(step(run, 'approved', 2, 'Bo Harrow')).rejects.toMatchObject(refused);
    expect((await register(project)).runs.find(({ id }) => id === run)!.state).toBe('checked');
    await step(run, 'approved', 2, 'Cleo Marsh');
    await expect(step(run, 'approved', 3, 'Dorn Vetch')).rejects.toMatchObject(refused);
  });

  it('ask for the role of each step where people sign in', async () => {
    const engineer = withAccount('aaaaaaaaaaaa', 'Astrid Vale', 'engineer');
    const checker = withAccount('bbbbbbbbbbbb', 'Astrid Vale', 'checker');
    const approver = withAccount('cccccccccccc', 'Cleo Marsh', 'approver', 'viewer');
    const ask = (body: unknown, person: typeof engineer) => takeStep(project, stepSchema.parse(body), person);
    const asked = { do: 'prepare', subjects: [{ kind: 'device', id: 'bra-q12-relay' }], revision: 2 };
    for (const person of [checker, approver])
      await expect(ask(asked, person)).rejects.toMatchObject({ status: 403, code: 'role' });
    const {
      prepared: [{ run }],
    } = (await ask({ ...asked, as: 'somebody else' }, engineer)) as { prepared: { run: string }[] };
    const take = (what: string, seq: number, person: typeof engineer, text = '') =>
      ask({ do: 'step', run, step: what, seq, text }, person);
    await expect(take('checked', 1, engineer)).rejects.toMatchObject({ code: 'role' });
    await expect(take('checked', 1, approver)).rejects.toMatchObject({ code: 'role' });
    // Another account of the same name is another person.
    await take('checked', 1, checker);
    await expect(take('approved', 2, checker)).rejects.toMatchObject({ code: 'role' });
    await take('approved', 2, approver);
    const sheet = (await listSheets(project)).find(({ relayId }) => relayId === 'bra-q12-relay')!;
    expect(sheet.signatures).toMatchObject([
      { step: 'prepared', name: 'Astrid Vale', accountId: 'aaaaaaaaaaaa', signedIn: true },
      { step: 'checked', accountId: 'bbbbbbbbbbbb', signedIn: true },
      { step: 'approved', accountId: 'cccccccccccc', signedIn: true },
    ]);
    await expect(take('withdrawn', 3, checker, 'x')).rejects.toMatchObject({ code: 'role' });
  });

  it('are commented on value by value, rejected with a reason, prepared anew, withdrawn', async () => {
    const {
      prepared: [{ run }],
    } = await prepare('fer-q31-relay', 2);
    await step(run, 'comment', 1, 'Bo Harrow', { text: 'Why so slow?', about: 'fer-q31-51.delayS' });
    await expect(step(run, 'checked', 2, 'Bo Harrow')).rejects.toThrow(/comment is still open/i);
    await expect(step(run, 'rejected', 2, 'Bo Harrow')).rejects.toThrow(/Say why/);
    await step(run, 'resolved', 2, 'Astrid Vale', { about: '1' });
    await step(run, 'rejected', 3, 'Bo Harrow', { text: 'Not the version we spoke of' });
    const open = async (id: string) => (await register(project)).runs.find((each) => each.id === id)!.state;
    expect(await open(run)).toBe('rejected');
    await expect(step(run, 'checked', 4, 'Bo Harrow')).rejects.toThrow(/is rejected/);
    const again = (await prepare('fer-q31-relay', 2)).prepared[0].run;
    await step(again, 'checked', 1, 'Bo Harrow');
    await step(again, 'approved', 2, 'Cleo Marsh');
    await expect(step(again, 'withdrawn', 3, 'Cleo Marsh')).rejects.toThrow(/Say why/);
    await step(again, 'withdrawn', 3, 'Cleo Marsh', { text: 'The line is not built' });
    expect(await open(again)).toBe('withdrawn');
  });

  it('whoever was quicker is not run over, and a request sent twice counts once', async () => {
    const key = 'asked-once-1';
    const [first, second] = await Promise.all([
      prepare('pen-f1', 2, 'Astrid Vale', { key }),
      prepare('pen-f1', 2, 'Astrid Vale', { key }),
    ]);
    expect(first.prepared).toEqual(second.prepared);
    const [{ run }] = first.prepared;
    await step(run, 'comment', 1, 'Bo Harrow', { text: 'seen' });
    await expect(step(run, 'checked', 1, 'Bo Harrow')).rejects.toMatchObject({ status: 409, code: 'sheet.step' });
    await step(run, 'resolved', 2, 'Bo Harrow', { about: '1' });
    await step(run, 'checked', 3, 'Bo Harrow');
    const before = (await listSheets(project)).length;
    const approve = () => step(run, 'approved', 4, 'Cleo Marsh', { key: 'asked-once-2' });
    const [one, other] = await Promise.all([approve(), approve()]);
    expect(one.sheet).toEqual(other.sheet);
    expect((await listSheets(project)).length).toBe(before + 1);
  });

  it('several at once are all prepared, or none', async () => {
    const many = (...ids: string[]) =>
      prepareSheets(
        project,
        { subjects: ids.map((id) => ({ kind: 'device' as const, id })), revision: 2, reason: 'all' },
        onOwnDesk('Astrid Vale'),
      );
    expect((await many('bra-q11-relay', 'pen-r1', 'cau-q01-relay')).prepared).toHaveLength(3);
    const before = (await register(project)).runs.length;
    await expect(many('bra-q11-relay', 'bra-t1')).rejects.toMatchObject({ status: 404 });
    expect((await register(project)).runs.length).toBe(before);
  });

  it('arc labels share the same life', async () => {
    const head = await issued(project, 'bra-11-a', 2, 'label', 'arcLabel');
    expect(head).toMatchObject({ relayId: 'arc:bra-11-a', number: 1 });
    const text = textOf((await issuedPdf(project, head.id)).bytes);
    expect(text).toMatch(/DANGER|WARNING/);
    expect(text).toContain('Cleo Marsh');
    expect((await lastIssued(project, 'arc:bra-11-a'))!.form).toBe(3);
  });

  it('cannot be changed or deleted, even in the database', async () => {
    for (const [table, column] of [
      ['sheets', 'reason'],
      ['sheet_runs', 'reason'],
      ['sheet_events', 'name'],
    ]) {
      await expect(pool().query(`UPDATE ${table} SET ${column} = 'forged'`)).rejects.toThrow(/cannot be changed/);
      await expect(pool().query(`DELETE FROM ${table}`)).rejects.toThrow(/cannot be deleted/);
    }
  });

  it('are sealed one after the other: what was tampered with behind the triggers shows', async () => {
    expect(await brokenSeals(project)).toEqual([]);
    expect(await brokenRuns(project)).toEqual([]);
    const own = (await listSheets(project)).filter(({ relayId }) => relayId === 'bra-q32-relay');
    const [latest, first] = own;
    const broken = async () => (await brokenSeals(project)).map(({ id }) => id);
    const shown = async () => (await listSheets(project)).filter(({ sound }) => !sound).map(({ id }) => id);
    await pool().query('DROP TRIGGER sheets_are_immutable');
    await pool().query('DROP TRIGGER sheet_events_are_immutable');
    await pool().query('DROP TRIGGER sheet_runs_are_immutable');
    try {
      await pool().query("UPDATE sheets SET issued_by = 'somebody else' WHERE id = ?", [first.id]);
      expect(await broken()).toEqual([first.id]);
      expect(await shown()).toEqual([first.id]);
      await pool().query('UPDATE sheets SET issued_by = ? WHERE id = ?', [first.issuedBy, first.id]);
      // Who checked is sealed too.
      await pool().query("UPDATE sheets SET signatures = REPLACE(signatures, 'Bo Harrow', 'Bo Harrew') WHERE id = ?", [
        latest.id,
      ]);
      expect(await broken()).toEqual([latest.id]);
      await pool().query("UPDATE sheets SET signatures = REPLACE(signatures, 'Bo Harrew', 'Bo Harrow') WHERE id = ?", [
        latest.id,
      ]);
      // A whole new seal for the first breaks the one that hangs on it.
      const forged = sealOf('', { ...first, reason: 'forged' });
      await pool().query('UPDATE sheets SET reason = ?, seal = ? WHERE id = ?', ['forged', forged, first.id]);
      expect(await broken()).toEqual([latest.id]);
      await pool().query('UPDATE sheets SET reason = ?, seal = ? WHERE id = ?', [first.reason, first.seal, first.id]);
      await pool().query("UPDATE sheet_events SET name = 'forged' WHERE run_id = ? AND seq = 1", [first.runId]);
      expect(await brokenRuns(project)).toEqual([first.runId]);
      await pool().query("UPDATE sheet_events SET name = 'Bo Harrow' WHERE run_id = ? AND seq = 1", [first.runId]);
      await pool().query(
        'UPDATE sheet_runs SET content = REPLACE(content, \'"primaryA":150,\', \'"primaryA":155,\') WHERE id = ?',
        [first.runId],
      );
      expect(await brokenRuns(project)).toEqual([first.runId]);
    } finally {
      await pool().query(
        'UPDATE sheet_runs SET content = REPLACE(content, \'"primaryA":155,\', \'"primaryA":150,\') WHERE id = ?',
        [first.runId],
      );
      await migrateAnew();
    }
    expect(await brokenRuns(project)).toEqual([]);
  });

  it('hold up nobody: while one is made, the project is edited', async () => {
    // An edit that is stored before the sheet has even been begun refuses it, and rightly so: then once more, with a longer start.
    for (let startMs = 0; ; startMs = 2 * startMs + 10) {
      const { revision, elements } = await openProject(project);
      const bus = elements.find((element) => element.kind === 'bus')!;
      let made = false;
      const preparing = prepare('bra-q32-relay', revision).then(
        ({ prepared }) => {
          made = true;
          return prepared[0].run;
        },
        ({ code }: { code: string }) => code,
      );
      await new Promise((resolve) => setTimeout(resolve, startMs));
      const edited = await storeBatch(project, {
        batchId: `sheet-test-2-${startMs}`,
        baseRevision: revision,
        label: 't',
        origin: 'edit',
        author: 'engineer',
        changes: [{ op: 'update', element: { ...bus, note: `meanwhile ${startMs}` } }],
      });
      expect(edited.revision).toBe(revision + 1);
      const madeBefore = made;
      const outcome = await preparing;
      if (outcome === 'sheet.moved' && startMs < 100) continue;
      expect((await runDetail(project, outcome)).projectRevision).toBe(revision);
      expect(madeBefore).toBe(false);
      break;
    }
  });

  it('are not prepared on a revision that nobody looked at, nor for what is no device', async () => {
    await expect(prepare('bra-q32-relay', 1)).rejects.toMatchObject({ status: 409, code: 'sheet.moved' });
    const { revision } = await openProject(project);
    await expect(prepare('bra-t1', revision)).rejects.toMatchObject({ status: 404 });
    for (const address of ['draft-', 'draft-../x', `draft-${'x'.repeat(80)}`, 'run-x', 'x', '', '999999', '-1', '1e3'])
      await expect(pdfFile(project, address), address).rejects.toMatchObject({ status: 404 });
    for (const wrong of [
      { do: 'prepare', subjects: [], revision: 1 },
      { do: 'prepare', subjects: [{ kind: 'bus', id: 'x' }], revision: 1 },
      { do: 'step', run: 'nobodynobody', step: 'prepared', seq: 1 },
      { do: 'step', run: "x' OR 1=1 --", step: 'checked', seq: 1 },
      { do: 'step', run: 'nobodynobody', step: 'checked', seq: 0 },
      { relay: 'bra-q32-relay', revision: 1, reason: '' },
      null,
    ])
      expect(stepSchema.safeParse(wrong).success, JSON.stringify(wrong)).toBe(false);
  });

  it('as workbook, as data, and many in one file with contents and page numbers', async () => {
    const all = await listSheets(project);
    const book = await xlsxFile(project, String(all[0].id));
    expect(Buffer.from(book.bytes.slice(0, 2)).toString()).toBe('PK');
    expect((await xlsxFile(project, 'draft-cau-q01-relay')).name).toBe('CAU Q01 relay draft.xlsx');
    const data = (await sheetJson(project, String(all[0].id))) as { content: never; digest: string; sound: boolean };
    expect(digestOf(data.content)).toBe(data.digest);
    expect(data.sound).toBe(true);
    const { bytes } = await folderFile(project, { title: 'Brackwater', sheets: all.slice(0, 4).map(({ id }) => id) });
    const text = textOf(bytes);
    const pages = text.split('\f').slice(0, -1);
    expect(text).toMatch(/Contents/);
    pages.forEach((page, k) => expect(page).toContain(`${k + 1} / ${pages.length}`));
    // The contents name the page that a sheet begins on.
    const [, name, from] = /^ *(\S.*?) {2,}revision \d+, issued \S+ +(\d+)$/m.exec(pages[0])!;
    expect(pages[Number(from) - 1]).toContain(`${name}`);
    await expect(folderFile(project, { title: 'x', sheets: [999999] })).rejects.toMatchObject({ status: 404 });
  });

  it('of former programs keep their digest, their seal and their PDF', async () => {
    const old = await importProject(demo);
    // Digest and seal were written by the program of then.
    const { content, digest, seal, issuedAt } = JSON.parse(
      readFileSync(join(import.meta.dirname, '../../../core/reference/projects/sheet-form-2.json'), 'utf8'),
    ) as { content: never; digest: string; seal: string; issuedAt: string };
    await pool().query(
      'INSERT INTO sheets (project_id, relay_id, number, project_revision, content, digest, seal, reason, issued_by, issued_at, pdf) VALUES (?)',
      [
        [
          old,
          'bra-q32-relay',
          1,
          1,
          JSON.stringify(content),
          digest,
          seal,
          '',
          'engineer',
          new Date(issuedAt),
          Buffer.from('%PDF-old'),
        ],
      ],
    );
    const [sheet] = await listSheets(old);
    expect(digestOf(content)).toBe(digest);
    expect(sheet.sound).toBe(true);
    expect(await brokenSeals(old)).toEqual([]);
    expect(Buffer.from((await issuedPdf(old, sheet.id)).bytes).toString()).toBe('%PDF-old');
    await expect(xlsxFile(old, String(sheet.id))).rejects.toMatchObject({ code: 'sheet.form' });
    const next = await issued(old, 'bra-q32-relay', 1, 'goes on');
    expect(next.number).toBe(2);
    expect((await runDetail(old, next.runId!)).since.length).toBeGreaterThan(0);
  });

  it('write Greek letters with the font that has them, and mark what no font has', () => {
    expect(runs('κ = 1.8 Ω')).toEqual([
      { text: 'κ', font: 'Greek' },
      { text: ' = 1.8 ', font: 'Sans' },
      { text: 'Ω', font: 'Greek' },
    ]);
    expect(runs('a → b 電')).toEqual([{ text: 'a to b ?', font: 'Sans' }]);
    expect(runs('12 A', 'Mono').map((run) => run.font)).toEqual(['Mono', 'Sans', 'Mono']);
  });
});

describe('when the database dies', () => {
  it('requests say so plainly, and go on when it is back, with everything that was acknowledged', async () => {
    const before = await listProjects();
    const dir = process.env.MESURA_TEST_DATABASE_DIR!;
    const running = await startMariadb(dir);
    process.kill(running.pid, 'SIGKILL');
    for (let k = 0; running.isAlive() && k < 100; k++) await new Promise((resolve) => setTimeout(resolve, 20));
    const error = await listProjects().then(() => null, toServiceError);
    expect(error).toMatchObject({ status: 503, code: 'database.unreachable' });
    await startMariadb(dir);
    expect(await listProjects()).toEqual(before);
  }, 60000);
});
