/** Who has a project open, and where they are: rows that age, so that of a page or a server that ended without a word nothing stays. Times are the database's. */
import type { RowDataPacket } from 'mysql2';
import { z } from 'zod';
import { elementIdSchema } from '@mesura/core/model/fields';
import { storableText } from '@mesura/core/model/text';
import type { PersonHere } from '../../project/protocol';
import { pool } from '../database';

/** A page tells where it is. */
export const placeSchema = z.object({
  client: z.string().regex(/^[A-Za-z0-9_-]{1,40}$/),
  /** On one's own desk, as it was typed. */
  name: z.string().max(80).default(''),
  stage: z.string().regex(/^[A-Za-z0-9-]{0,30}$/),
  page: elementIdSchema.nullable(),
  /** What is selected; of a large selection its first elements. */
  selection: z.array(elementIdSchema).max(50),
});
export type Place = z.output<typeof placeSchema>;

const storedSchema = placeSchema.pick({ stage: true, page: true, selection: true });

/** Not seen for so long: gone. */
const goneAfterS = 12;

export async function putPlace(
  projectId: string,
  { client, stage, page, selection }: Place,
  { accountId, name }: { readonly accountId: string | null; readonly name: string },
): Promise<void> {
  // Under another account's page of the same name nothing is written.
  await pool().query(
    `INSERT INTO presence (project_id, client, account_id, name, place) VALUES (?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE name = IF(account_id <=> VALUES(account_id), VALUES(name), name),
       place = IF(account_id <=> VALUES(account_id), VALUES(place), place), seen_at = CURRENT_TIMESTAMP(3)`,
    [
      projectId,
      client,
      accountId,
      storableText(name).trim().slice(0, 80) || 'engineer',
      JSON.stringify({ stage, page, selection }),
    ],
  );
}

/** Pages that this server has a stream to are here still; what nobody has seen for a minute is removed. */
export async function keepPlaces(clients: readonly (readonly [projectId: string, client: string])[]): Promise<void> {
  if (clients.length > 0)
    await pool().query('UPDATE presence SET seen_at = CURRENT_TIMESTAMP(3) WHERE (project_id, client) IN (?)', [
      clients,
    ]);
  await pool().query('DELETE FROM presence WHERE seen_at < CURRENT_TIMESTAMP(3) - INTERVAL 1 MINUTE');
}

export const leavePlace = async (projectId: string, client: string): Promise<void> => {
  await pool().query('DELETE FROM presence WHERE project_id = ? AND client = ?', [projectId, client]);
};

export interface Standing {
  /** Null: the project is not there any more. */
  readonly revision: number | null;
  readonly people: readonly PersonHere[];
}

/** How projects stand: their revisions, and who is there, in the order in which they came to be known. */
export async function standingOf(projectIds: readonly string[]): Promise<Map<string, Standing>> {
  const [projects] = await pool().query<RowDataPacket[]>(
    'SELECT id, revision FROM projects WHERE id IN (?) AND deleted_at IS NULL',
    [projectIds],
  );
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT project_id, client, name, place FROM presence
     WHERE project_id IN (?) AND seen_at > CURRENT_TIMESTAMP(3) - INTERVAL ${goneAfterS} SECOND ORDER BY client`,
    [projectIds],
  );
  const people = new Map<string, RowDataPacket[]>();
  for (const row of rows) people.set(row.project_id as string, [...(people.get(row.project_id as string) ?? []), row]);
  const revisions = new Map(projects.map((row) => [row.id as string, Number(row.revision)]));
  return new Map(
    projectIds.map((id) => [
      id,
      {
        revision: revisions.get(id) ?? null,
        people: (people.get(id) ?? []).flatMap((row): PersonHere[] => {
          const place = storedSchema.safeParse(parsed(row.place as string));
          return place.success ? [{ client: row.client as string, name: row.name as string, ...place.data }] : [];
        }),
      },
    ]),
  );
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
