/** Rulebooks that all projects share: in versions, read by everybody, carried by backups. */
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { elementId } from '@mesura/core/model/fields';
import type { Rulebook } from '@mesura/core/model/rulebook';
import { plainPractice } from '@mesura/core/rules/plainPractice';
import { archiveConnection, archiveLines, restoreArchive, verifyArchive } from './archive';
import { closePool, pool } from './database';
import { migrate } from './migrate';
import { sharedRulebooks, shareRulebook, unshareRulebook } from './sharedRulebooks';

const uri = process.env.MESURA_DATABASE_URL!;
const book = (name: string, factor = 1.2): Rulebook => ({
  ...plainPractice,
  id: elementId('own'),
  name,
  rules: plainPractice.rules.map((rule) =>
    rule.id === 'carries-load' ? { ...rule, formula: `${factor} * load` } : rule,
  ),
});
beforeAll(async () => {
  await migrate(join(import.meta.dirname, 'migrations'), uri);
  await pool().query('DELETE FROM shared_rulebooks');
});
afterAll(closePool);

describe('shared rulebooks', () => {
  it('count their versions by name, and keep each', async () => {
    await shareRulebook({ book: book('Company rules'), author: 'J. Tarrant' });
    await shareRulebook({ book: book('Company rules', 1.3), author: 'R. Okello' });
    const all = await shareRulebook({ book: book('Another') });
    expect(all.map(({ book: { name }, version, author }) => [name, version, author])).toEqual([
      ['Another', 1, 'engineer'],
      ['Company rules', 2, 'R. Okello'],
      ['Company rules', 1, 'J. Tarrant'],
    ]);
    const formula = (k: number) => all[k].book.rules.find(({ id }) => id === 'carries-load')!.formula;
    expect([formula(1), formula(2)]).toEqual(['1.3 * load', '1.2 * load']);
    expect(all[1].book).toMatchObject({ id: all[1].id, shared: null });
  });
  it('that say the same as the latest version are no new one; nonsense is refused in words', async () => {
    await expect(shareRulebook({ book: book('company rules', 1.3) })).rejects.toMatchObject({
      status: 409,
      code: 'rulebook.same',
    });
    for (const body of [null, {}, { book: { ...book('x'), rules: [{}] } }, { book: book('\u0000') }])
      await expect(shareRulebook(body)).rejects.toMatchObject({ status: 422, code: 'rulebook.invalid' });
    expect(await sharedRulebooks()).toHaveLength(3);
  });
  it('shared by several at the same time get a version each', async () => {
    await Promise.all([1.4, 1.5, 1.6, 1.7].map((factor) => shareRulebook({ book: book('Rush', factor) })));
    const versions = (await sharedRulebooks())
      .filter(({ book: { name } }) => name === 'Rush')
      .map(({ version }) => version);
    expect(versions).toEqual([4, 3, 2, 1]);
  });
  it('go into a backup of everything and come back; one that cannot be read hides no other', async () => {
    const connection = await archiveConnection(uri);
    const lines: string[] = [];
    for await (const line of archiveLines(connection)) lines.push(line);
    async function* each() {
      yield* lines;
    }
    await verifyArchive(each());
    const before = await sharedRulebooks();
    await pool().query("DELETE FROM shared_rulebooks WHERE name = 'Company rules'");
    await restoreArchive(connection, each());
    await connection.end();
    expect(await sharedRulebooks()).toEqual(before);
    await pool().query(
      "INSERT INTO shared_rulebooks (id, name, version, data, author) VALUES ('odd', 'Odd', 1, '{}', 'x')",
    );
    expect(await sharedRulebooks()).toEqual(before);
  });
  it('are taken out by identifier, a version at a time', async () => {
    const [, company] = await sharedRulebooks();
    const left = await unshareRulebook(company.id);
    expect(left.filter(({ book: { name } }) => name === 'Company rules').map(({ version }) => version)).toEqual([1]);
    await expect(unshareRulebook(company.id)).rejects.toMatchObject({ status: 404 });
  });
});
