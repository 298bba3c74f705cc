/** Types that all projects share: stored once a name, read by everybody, carried by backups. */
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { elementId } from '@mesura/core/model/fields';
import type { LibraryEntryElement } from '@mesura/core/model/library';
import { archiveConnection, archiveLines, restoreArchive, verifyArchive } from './archive';
import { closePool, pool } from './database';
import { migrate } from './migrate';
import { sharedTypes, shareType, unshareType } from './sharedTypes';

const uri = process.env.MESURA_DATABASE_URL!;
const entry = (name: string): LibraryEntryElement => ({
  kind: 'libraryEntry',
  id: elementId('own'),
  name,
  for: 'switch',
  source: 'ours',
  data: { type: 'breaker', ratedKv: 12, ratedA: 1250, breakingKa: 25 },
});
beforeAll(async () => {
  await migrate(join(import.meta.dirname, 'migrations'), uri);
  await pool().query('DELETE FROM shared_types');
});
afterAll(closePool);

describe('shared types', () => {
  it('are stored under an identifier of their own, with who shared them', async () => {
    const [first] = await shareType({ entry: entry('Panel A'), author: 'J. Tarrant' });
    expect(first.entry).toMatchObject({ name: 'Panel A', for: 'switch', data: { breakingKa: 25 } });
    expect(first.entry.id).toMatch(/^shared-/);
    expect(first.author).toBe('J. Tarrant');
    expect((await shareType({ entry: entry('Panel B') })).map(({ entry: { name } }) => name)).toEqual([
      'Panel A',
      'Panel B',
    ]);
  });
  it('have a name once; nonsense is refused in words', async () => {
    await expect(shareType({ entry: entry('panel a') })).rejects.toMatchObject({ status: 409, code: 'type.name' });
    for (const body of [null, {}, { entry: { ...entry('x'), for: 'load' } }, { entry: entry('\u0000') }])
      await expect(shareType(body)).rejects.toMatchObject({ status: 422, code: 'type.invalid' });
    expect(await sharedTypes()).toHaveLength(2);
  });
  it('one that cannot be read is left out and hides no other', async () => {
    await pool().query("INSERT INTO shared_types (id, kind, name, data, author) VALUES ('odd', 'x', 'Odd', '{}', 'x')");
    expect((await sharedTypes()).map(({ entry: { name } }) => name)).toEqual(['Panel A', 'Panel B']);
    await pool().query("DELETE FROM shared_types WHERE id = 'odd'");
  });
  it('go into a backup of everything and come back, without doubling what is there', async () => {
    const connection = await archiveConnection(uri);
    const lines: string[] = [];
    for await (const line of archiveLines(connection)) lines.push(line);
    async function* each() {
      yield* lines;
    }
    await verifyArchive(each());
    expect(lines.filter((line) => line.includes('"type":"sharedType"'))).toHaveLength(2);
    const before = await sharedTypes();
    await pool().query('DELETE FROM shared_types WHERE name = ?', ['Panel A']);
    await restoreArchive(connection, each());
    await connection.end();
    expect(await sharedTypes()).toEqual(before);
  });
  it('are taken out by identifier', async () => {
    const [first] = await sharedTypes();
    expect((await unshareType(first.entry.id)).map(({ entry: { name } }) => name)).toEqual(['Panel B']);
    await expect(unshareType(first.entry.id)).rejects.toMatchObject({ status: 404 });
  });
});
