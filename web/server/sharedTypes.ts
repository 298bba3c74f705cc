/** Types of equipment that all projects of this installation share. A project that uses one keeps a copy of its own. */
import type { RowDataPacket } from 'mysql2';
import { z } from 'zod';
import { libraryEntrySchema, type LibraryEntryElement } from '@mesura/core/model/library';
import { unstorableText } from '@mesura/core/model/text';
import { pool } from './database';
import { notFound, ServiceError } from './errors';
import { newId } from './projects';
import { plainText } from './texts';

export interface SharedType {
  readonly entry: LibraryEntryElement;
  readonly author: string;
  readonly sharedAt: string;
}

/** More than these are no library that anybody keeps in order. */
const mostTypes = 5000;

export async function sharedTypes(): Promise<SharedType[]> {
  const [rows] = await pool().query<RowDataPacket[]>(
    'SELECT id, data, author, shared_at FROM shared_types ORDER BY kind, name LIMIT ?',
    [mostTypes],
  );
  return rows.flatMap((row): SharedType[] => {
    // A type that a newer program has stored is left out, not guessed at.
    const entry = libraryEntrySchema.safeParse({ ...JSON.parse(row.data as string), id: `shared-${row.id}` });
    return entry.success
      ? [{ entry: entry.data, author: row.author, sharedAt: (row.shared_at as Date).toISOString() }]
      : [];
  });
}

const bodySchema = z.object({ entry: libraryEntrySchema, author: plainText(80).default('engineer') });

/** Shares a type under its name. Errors: `type.invalid`, `type.name` when one of this kind has the name, `type.many`. */
export async function shareType(body: unknown): Promise<SharedType[]> {
  const parsed = bodySchema.safeParse(body);
  if (!parsed.success || unstorableText(parsed.data.entry))
    throw new ServiceError(422, 'type.invalid', 'This is no type of equipment that can be shared.');
  const { entry, author } = parsed.data;
  const [[{ count }]] = await pool().query<RowDataPacket[]>('SELECT COUNT(*) AS count FROM shared_types');
  if (Number(count) >= mostTypes)
    throw new ServiceError(409, 'type.many', `There are ${mostTypes} shared types already. Take out some first.`);
  const { id: _, ...data } = entry;
  const [stored] = (await pool().query('INSERT IGNORE INTO shared_types (id, kind, name, data, author) VALUES (?)', [
    [newId(), entry.for, entry.name, JSON.stringify(data), author],
  ])) as unknown as [{ affectedRows: number }];
  if (stored.affectedRows === 0)
    throw new ServiceError(409, 'type.name', `A type "${entry.name}" is shared already. Give this one another name.`);
  return sharedTypes();
}

/** Takes a type out again; projects that use it keep theirs. */
export async function unshareType(id: string): Promise<SharedType[]> {
  const [gone] = (await pool().query('DELETE FROM shared_types WHERE id = ?', [
    id.replace(/^shared-/, ''),
  ])) as unknown as [{ affectedRows: number }];
  if (gone.affectedRows === 0) throw notFound('This type');
  return sharedTypes();
}
