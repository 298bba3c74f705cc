/** The log of a project: its steps, and what each did. */
import type { RowDataPacket } from 'mysql2';
import type { PoolConnection } from 'mysql2/promise';
import { z } from 'zod';
import { storedChangeSchema, type StoredChange } from '@mesura/core/model/storedChanges';
import type { LogEntry, StoredBatch } from '../project/protocol';

type Connection = Pick<PoolConnection, 'query'>;

const storedSchema = z.array(storedChangeSchema);

/** Changes as the log keeps them; those of older programs get the fields that came later. */
export const readChanges = (text: string): StoredChange[] => storedSchema.parse(JSON.parse(text));

const logColumns = 'revision, batch_id, label, origin, author, account_id, made_at';
const toEntry = (row: RowDataPacket): LogEntry => ({
  revision: Number(row.revision),
  batchId: row.batch_id,
  label: row.label,
  origin: row.origin,
  author: row.author,
  by: row.account_id as string | null,
  madeAt: (row.made_at as Date).toISOString(),
});

/** More than this is not sent along: whoever is so far behind reads the project anew. */
const most = { batches: 200, bytes: 2e6 };

/** Batches of others between two revisions; null when there are too many of them, or they are too large. */
export async function missedBatches(
  connection: Connection,
  projectId: string,
  since: number,
  below: number,
  clients: readonly string[],
): Promise<StoredBatch[] | null> {
  if (below <= since + 1) return [];
  const others = clients.length > 0 ? 'AND client NOT IN (?)' : '';
  const from = `FROM changes WHERE project_id = ? AND revision > ? AND revision < ? ${others}`;
  const values = [projectId, since, below, ...(clients.length > 0 ? [clients] : [])];
  const [[size]] = await connection.query<RowDataPacket[]>(
    `SELECT COUNT(*) AS batches, COALESCE(SUM(LENGTH(forward)), 0) AS bytes ${from}`,
    values,
  );
  if (Number(size.batches) > most.batches || Number(size.bytes) > most.bytes) return null;
  const [rows] = await connection.query<RowDataPacket[]>(
    `SELECT ${logColumns}, forward ${from} ORDER BY revision`,
    values,
  );
  return rows.map((row) => ({ ...toEntry(row), forward: readChanges(row.forward) }));
}

/** The last steps of a project, oldest first, without what they did: undo across reload. */
export async function lastSteps(connection: Connection, projectId: string, limit = 200): Promise<LogEntry[]> {
  const [rows] = await connection.query<RowDataPacket[]>(
    `SELECT ${logColumns} FROM changes WHERE project_id = ? ORDER BY revision DESC LIMIT ?`,
    [projectId, limit],
  );
  return rows.reverse().map(toEntry);
}
