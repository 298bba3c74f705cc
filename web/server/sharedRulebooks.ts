/** Rulebooks that all projects of this installation share, in versions. A project that uses one keeps a copy of its own. */
import type { RowDataPacket } from 'mysql2';
import { z } from 'zod';
import { rulebookSchema, type Rulebook } from '@mesura/core/model/rulebook';
import { unstorableText } from '@mesura/core/model/text';
import { ruleDifferences } from '@mesura/core/rules/exchange';
import { pool } from './database';
import { notFound, ServiceError } from './errors';
import { newId } from './projects';
import { plainText } from './texts';

export interface SharedRulebook {
  readonly id: string;
  readonly version: number;
  readonly book: Rulebook;
  readonly author: string;
  readonly sharedAt: string;
}

const mostBooks = 500;

/** By name, the latest version first. */
export async function sharedRulebooks(): Promise<SharedRulebook[]> {
  const [rows] = await pool().query<RowDataPacket[]>(
    'SELECT id, version, data, author, shared_at FROM shared_rulebooks ORDER BY name, version DESC LIMIT ?',
    [mostBooks],
  );
  return rows.flatMap((row): SharedRulebook[] => {
    const id = `shared-${row.id}`;
    // A book that a newer program has stored is left out, not guessed at.
    const book = rulebookSchema.safeParse({ ...JSON.parse(row.data as string), id });
    const { version, author } = row as { version: number; author: string };
    return book.success
      ? [{ id, version, book: book.data, author, sharedAt: (row.shared_at as Date).toISOString() }]
      : [];
  });
}

const bodySchema = z.object({ book: rulebookSchema, author: plainText(80).default('engineer') });

/** Shares a book under its name, as the next version. Errors: `rulebook.invalid`, `rulebook.same` when the latest version says the same, `rulebook.many`. */
export async function shareRulebook(body: unknown): Promise<SharedRulebook[]> {
  const parsed = bodySchema.safeParse(body);
  if (!parsed.success || unstorableText(parsed.data.book))
    throw new ServiceError(422, 'rulebook.invalid', 'This is no rulebook that can be shared.');
  const { book, author } = parsed.data;
  const all = await sharedRulebooks();
  if (all.length >= mostBooks)
    throw new ServiceError(
      409,
      'rulebook.many',
      `There are ${mostBooks} shared rulebooks already. Take out some first.`,
    );
  const latest = all.find((each) => each.book.name.toLowerCase() === book.name.toLowerCase());
  if (latest && ruleDifferences(latest.book, book).length === 0 && latest.book.note === book.note)
    throw new ServiceError(
      409,
      'rulebook.same',
      `Version ${latest.version} of "${latest.book.name}" says the same already.`,
    );
  const { id: _, shared: __, ...data } = book;
  // Two who share at the same time get two versions: the second one counts again. Counted before, not within the insert: that would lock gaps.
  for (let tries = 0; ; tries++) {
    const [[{ latest: version }]] = await pool().query<RowDataPacket[]>(
      'SELECT COALESCE(MAX(version), 0) AS latest FROM shared_rulebooks WHERE name = ?',
      [book.name],
    );
    const [stored] = (await pool().query(
      'INSERT IGNORE INTO shared_rulebooks (id, name, version, data, author) VALUES (?)',
      [[newId(), book.name, Number(version) + 1, JSON.stringify(data), author]],
    )) as unknown as [{ affectedRows: number }];
    if (stored.affectedRows > 0) return sharedRulebooks();
    if (tries >= 20) throw new ServiceError(503, 'rulebook.busy', 'Others share this rulebook right now. Try again.');
  }
}

/** Takes a version out; projects that use it keep theirs. */
export async function unshareRulebook(id: string): Promise<SharedRulebook[]> {
  const [gone] = (await pool().query('DELETE FROM shared_rulebooks WHERE id = ?', [
    id.replace(/^shared-/, ''),
  ])) as unknown as [{ affectedRows: number }];
  if (gone.affectedRows === 0) throw notFound('This rulebook');
  return sharedRulebooks();
}
