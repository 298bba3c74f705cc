/** Backups: everything of a project, digest and seals included, put back beside what is there. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { archiveConnection, archiveLines, restoreArchive, verifyArchive } from './archive';
import { storeBatch } from './changes';
import { closePool, pool } from './database';
import { migrate } from './migrate';
import { importProject, openProject } from './projects';
import { issuedPdf } from './sheets/documents';
import { listSheets, register } from './sheets/register';
import { brokenRuns, brokenSeals } from './sheets/seal';
import { issued } from './test/signing';
import { nameVersion, stateAt, versionsOf } from './versions';
import { closeWorkers } from './workers';

const uri = process.env.MESURA_DATABASE_URL!;
let id: string;
beforeAll(async () => {
  await migrate(join(import.meta.dirname, 'migrations'), uri);
  id = await importProject(readFileSync(join(import.meta.dirname, '../../demo/sorrel-island.json'), 'utf8'));
  const { elements } = await openProject(id);
  const bus = elements.find((element) => element.kind === 'bus')!;
  for (let k = 0; k < 3; k++)
    await storeBatch(id, {
      batchId: `archive-${id}-${k}`,
      baseRevision: 1 + k,
      label: `step ${k}`,
      origin: 'edit',
      author: 'engineer',
      changes: [{ op: 'update', element: { ...bus, note: `note ${k}` } }],
    });
  await nameVersion(id, { revision: 2, name: 'second', author: 'engineer' });
  for (const reason of ['first', 'second']) await issued(id, 'bra-q32-relay', 4, reason);
});
afterAll(async () => {
  await closeWorkers();
  await closePool();
});

async function archived(): Promise<string[]> {
  const connection = await archiveConnection(uri);
  const lines: string[] = [];
  for await (const line of archiveLines(connection, [id])) lines.push(line);
  await connection.end();
  return lines;
}
async function* each(lines: readonly string[]) {
  yield* lines;
}
async function restore(lines: readonly string[]) {
  const connection = await archiveConnection(uri);
  try {
    return await restoreArchive(connection, each(lines));
  } finally {
    await connection.end();
  }
}

describe('an archive', () => {
  it('leaves a project alone that is there already', async () => {
    expect(await restore(await archived())).toEqual([{ id: null, name: 'Sorrel Island' }]);
  });

  it('puts a project back beside one that has gone on: model, history, versions, sheets and seals', async () => {
    const lines = await archived();
    expect(await verifyArchive(each(lines))).toMatchObject({ projects: 1, changes: 3, sheets: 2 });
    const before = await openProject(id);
    const bus = before.elements.find((element) => element.kind === 'bus')!;
    await storeBatch(id, {
      batchId: `archive-${id}-x`,
      baseRevision: 4,
      label: 'later',
      origin: 'edit',
      author: 'engineer',
      changes: [{ op: 'update', element: { ...bus, note: 'later' } }],
    });
    const [back] = await restore(lines);
    expect(back.name).toMatch(/^Sorrel Island \(restored \d{4}-\d\d-\d\d\)$/);
    const restored = await openProject(back.id!);
    expect(restored.elements).toEqual(before.elements);
    expect(restored.revision).toBe(4);
    expect(restored.log).toEqual(before.log);
    expect(await stateAt(back.id!, 2)).toEqual(await stateAt(id, 2));
    expect((await versionsOf(back.id!)).map(({ name }) => name)).toEqual(['second']);
    const [sheets, own] = [await listSheets(back.id!), await listSheets(id)];
    expect(sheets.map(({ digest, reason, issuedAt }) => [digest, reason, issuedAt])).toEqual(
      own.map(({ digest, reason, issuedAt }) => [digest, reason, issuedAt]),
    );
    expect((await issuedPdf(back.id!, sheets[0].id)).bytes).toEqual((await issuedPdf(id, own[0].id)).bytes);
    expect(await brokenSeals(back.id!)).toEqual([]);
    const names = async (of: string) =>
      (await register(of)).runs.map(({ state, events }) => [state, ...events.map(({ name }) => name)]).sort();
    expect(await names(back.id!)).toEqual(await names(id));
    expect((await names(id))[0]).toEqual(['issued', 'Astrid Vale', 'Bo Harrow', 'Cleo Marsh']);
    expect(await brokenRuns(back.id!)).toEqual([]);
  });

  it('of everything has accounts, roles, signatures and the audit log; one project alone has no accounts', async () => {
    await pool().query(
      "INSERT INTO accounts (id, name, full_name) VALUES ('archivetest1', 'archive-test', 'Astrid Vale')",
    );
    await pool().query(
      "INSERT INTO members (project_id, account_id, roles) VALUES (?, 'archivetest1', 'viewer,checker')",
      [id],
    );
    const connection = await archiveConnection(uri);
    const kinds = new Map<string, number>();
    const all: string[] = [];
    for await (const line of archiveLines(connection)) {
      all.push(line);
      const { type } = JSON.parse(line) as { type: string };
      kinds.set(type, (kinds.get(type) ?? 0) + 1);
    }
    await connection.end();
    for (const kind of ['account', 'member', 'audit', 'sheetRun', 'sheetEvent'])
      expect(kinds.get(kind), kind).toBeGreaterThan(0);
    const own = (await archived()).map((line) => (JSON.parse(line) as { type: string }).type);
    expect(own.filter((kind) => ['account', 'member', 'audit', 'recoveryCode'].includes(kind))).toEqual([]);
    // Sessions and invitations are nobody's to hand on.
    expect(all.join('')).not.toMatch(/token_hash/);
    expect(await verifyArchive(each(all))).toMatchObject({ sheets: expect.any(Number) as number });
    await pool().query("DELETE FROM members WHERE account_id = 'archivetest1'");
    await pool().query("DELETE FROM accounts WHERE id = 'archivetest1'");
  });

  it('that was damaged, cut off or written by something else is refused before anything is stored', async () => {
    const lines = await archived();
    const count = async () =>
      Number(((await pool().query('SELECT COUNT(*) AS n FROM projects'))[0] as { n: number }[])[0].n);
    const before = await count();
    const changed = lines.map((line, k) => (k === 5 ? line.replace('"kind"', '"Kind"') : line));
    await expect(verifyArchive(each(changed))).rejects.toThrow(/damaged/);
    await expect(verifyArchive(each(lines.filter((_, k) => k !== 7)))).rejects.toThrow(/damaged/);
    await expect(verifyArchive(each(lines.slice(0, -1)))).rejects.toThrow(/cut off/);
    await expect(verifyArchive(each(['{"type":"other"}\n']))).rejects.toThrow(/no archive/);
    await expect(verifyArchive(each(['nonsense']))).rejects.toThrow(/cannot be read/);
    // Broken off in the middle, nothing of the project is left.
    const half = [
      lines[0],
      lines[1].replace(id, 'halfrestored'),
      ...lines.slice(2, 40),
      '{"type":"element"}\n',
      'broken',
    ];
    await expect(restore(half)).rejects.toThrow();
    expect(await count()).toBe(before);
  });
});
