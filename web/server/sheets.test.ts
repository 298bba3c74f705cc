import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Relay } from '@mesura/core/model/protection';
import { startMariadb } from '../../scripts/lib/mariadb.mjs';
import { storeBatch } from './changes';
import { closePool, pool } from './database';
import { toServiceError } from './errors';
import { migrate } from './migrate';
import { runs } from './pdf/base';
import { importProject, listProjects, openProject } from './projects';
import { closeWorkers } from './workers';
import { brokenSeals, draftPdf, issuedPdf, issueSheet, listSheets } from './sheets';

let project: string;
/** As after a start: the trigger is put back. */
const migrateAnew = async () => {
  await pool().query("DELETE FROM migrations WHERE name LIKE '0001%'");
  await migrate(join(import.meta.dirname, 'migrations'), process.env.MESURA_DATABASE_URL!);
};
beforeAll(async () => {
  await migrate(join(import.meta.dirname, 'migrations'), process.env.MESURA_DATABASE_URL!);
  project = await importProject(readFileSync(join(import.meta.dirname, '../../demo/sorrel-island.json'), 'utf8'));
});
afterAll(async () => {
  await closeWorkers();
  await closePool();
});

function textOf(pdf: Buffer): string {
  const file = join(mkdtempSync(join(tmpdir(), 'mesura-pdf-')), 'sheet.pdf');
  writeFileSync(file, pdf);
  return execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' });
}

describe('setting sheets', () => {
  it('are issued as numbered revisions whose PDF says what was set', async () => {
    const head = await issueSheet(project, {
      relay: 'bra-q32-relay',
      revision: 1,
      reason: 'First issue',
      key: 'asked-once-1',
    });
    expect(head).toMatchObject({ number: 1, projectRevision: 1, reason: 'First issue' });
    const { name, pdf } = await issuedPdf(project, head.id);
    expect(name).toBe('BRA Q32 relay rev 1.pdf');
    const text = textOf(pdf);
    for (const expected of [
      'Setting sheet BRA Q32 relay',
      'Revision 1',
      'First issue',
      'IEC B, very inverse',
      '150 A',
      '0.26',
      'BRA CT32, 150/1 A, 5P20',
      'Page',
      '1 of 2',
      head.digest.slice(0, 12),
      head.seal.slice(0, 12),
      'primary current referred to 11 kV',
      'BRA Q21 relay',
    ])
      expect(text, expected).toContain(expected);
    expect(text).not.toContain('?');
  });

  it('stay as they were when the project goes on, and the next one gets the next number', async () => {
    const [first] = await listSheets(project);
    const before = (await issuedPdf(project, first.id)).pdf;
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
    const second = await issueSheet(project, { relay: 'bra-q32-relay', revision: 2, reason: '' });
    expect(second.number).toBe(2);
    expect(second.digest).not.toBe(first.digest);
    expect((await issuedPdf(project, first.id)).pdf.equals(before)).toBe(true);
    expect(textOf((await draftPdf(project, 'bra-q32-relay')).pdf)).toContain('Draft');
  });

  it('cannot be changed or deleted, even in the database', async () => {
    await expect(pool().query("UPDATE sheets SET reason = 'forged'")).rejects.toThrow(/cannot be changed/);
    await expect(pool().query('DELETE FROM sheets')).rejects.toThrow(/cannot be deleted/);
  });

  it('asked for twice with one key are issued once', async () => {
    const before = await listSheets(project);
    const again = { relay: 'bra-q32-relay', revision: 1, reason: 'First issue', key: 'asked-once-1' };
    const [first, second] = await Promise.all([issueSheet(project, again), issueSheet(project, again)]);
    expect(first).toEqual(second);
    expect(first.number).toBe(1);
    expect(await listSheets(project)).toEqual(before);
  });

  it('are sealed one after the other: what was tampered with behind the triggers shows', async () => {
    expect(await brokenSeals(project)).toEqual([]);
    const [latest, first] = await listSheets(project);
    await pool().query('DROP TRIGGER sheets_are_immutable');
    try {
      await pool().query("UPDATE sheets SET issued_by = 'somebody else' WHERE id = ?", [first.id]);
      expect((await brokenSeals(project)).map(({ id }) => id)).toEqual([first.id]);
      expect((await listSheets(project)).map(({ sound }) => sound)).toEqual([true, false]);
      await pool().query("UPDATE sheets SET issued_by = 'engineer', seal = ? WHERE id = ?", ['0'.repeat(64), first.id]);
      expect((await brokenSeals(project)).map(({ id }) => id)).toEqual([first.id, latest.id]);
      await pool().query('UPDATE sheets SET seal = ? WHERE id = ?', [first.seal, first.id]);
      // Put in behind the application: a sheet without a seal after one that has it.
      await pool().query(
        "INSERT INTO sheets (project_id, relay_id, number, project_revision, content, digest, reason, issued_by, issued_at, pdf) SELECT project_id, relay_id, 99, project_revision, content, digest, 'forged', 'somebody', issued_at, '%PDF' FROM sheets WHERE id = ?",
        [first.id],
      );
      expect((await listSheets(project)).filter(({ sound }) => !sound)).toMatchObject([{ reason: 'forged' }]);
      await pool().query('DROP TRIGGER sheets_are_kept');
      await pool().query("DELETE FROM sheets WHERE reason = 'forged'");
    } finally {
      await migrateAnew();
    }
  });

  it('hold up nobody: while one is made, the project is edited', async () => {
    // An edit that is stored before the sheet has even been begun refuses it, and rightly so: then once more, with a longer start.
    for (let startMs = 0; ; startMs = 2 * startMs + 10) {
      const { revision, elements } = await openProject(project);
      const bus = elements.find((element) => element.kind === 'bus')!;
      let made = false;
      const issuing = issueSheet(project, { relay: 'bra-q32-relay', revision, reason: 'slow' }).then(
        (head) => {
          made = true;
          return head.projectRevision;
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
      const outcome = await issuing;
      if (outcome === 'sheet.moved' && startMs < 100) continue;
      expect(outcome).toBe(revision);
      expect(madeBefore).toBe(false);
      break;
    }
  });

  it('are not issued on a revision that nobody looked at, nor for what is no relay', async () => {
    await expect(issueSheet(project, { relay: 'bra-q32-relay', revision: 1, reason: '' })).rejects.toMatchObject({
      status: 409,
      code: 'sheet.moved',
    });
    const { revision } = await openProject(project);
    await expect(issueSheet(project, { relay: 'bra-t1', revision, reason: '' })).rejects.toMatchObject({
      status: 404,
    });
    for (const relay of ['', '../x', 'x'.repeat(80)])
      await expect(draftPdf(project, relay)).rejects.toMatchObject({ status: 404 });
    await expect(issuedPdf(project, 999999)).rejects.toMatchObject({ status: 404 });
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
