/**
 * The one way a project changes: a batch, made on a revision, applied in one transaction or refused as a whole. Two people may
 * change different elements at the same time; a batch is refused when an element it touches has changed since its revision.
 */
import type { RowDataPacket } from 'mysql2';
import type { PoolConnection } from 'mysql2/promise';
import { z } from 'zod';
import { applyChanges, changeSchema, targetOf, type Change } from '@mesura/core/model/changes';
import { nameOf, type Element } from '@mesura/core/model/element';
import { networkOf } from '@mesura/core/model/network';
import { problemsOf } from '@mesura/core/model/problem';
import { pool, transaction } from './database';
import { ServiceError } from './errors';
import { projectRow, readElements } from './projects';

export const batchSchema = z.object({
  /** Made by the client: a batch sent twice, because the answer got lost, is applied once. */
  batchId: z.string().regex(/^[A-Za-z0-9-]{8,40}$/),
  baseRevision: z.int().min(0),
  label: z.string().max(200),
  origin: z.enum(['edit', 'undo', 'redo']),
  author: z.string().max(80).default('engineer'),
  changes: z.array(changeSchema).min(1).max(20000),
});
export type Batch = z.infer<typeof batchSchema>;

export interface StoredBatch {
  revision: number;
  batchId: string;
  label: string;
  origin: Batch['origin'];
  author: string;
  madeAt: string;
  forward: Change[];
  inverse: Change[];
}

export interface Accepted {
  revision: number;
  /** Batches of others since the base revision, to be taken over by the sender. */
  missed: StoredBatch[];
}

export function parseBatch(body: unknown): Batch {
  const parsed = batchSchema.safeParse(body);
  if (parsed.success) return parsed.data;
  throw new ServiceError(422, 'batch.invalid', 'The change is not valid; nothing was stored.', {
    problems: problemsOf(parsed.error).slice(0, 20),
  });
}

export async function storeBatch(projectId: string, batch: Batch): Promise<Accepted> {
  return transaction(async (connection) => {
    const project = await projectRow(connection, projectId, true);
    const known = await storedBatches(connection, projectId, batch.baseRevision);
    const twice = known.find((other) => other.batchId === batch.batchId);
    if (twice) return { revision: twice.revision, missed: known.filter((other) => other.revision < twice.revision) };
    if (batch.baseRevision > project.revision)
      throw new ServiceError(
        409,
        'revision.unknown',
        'This change was made on a revision that the server does not know.',
        { revision: project.revision },
      );

    const elements = await readElements(connection, projectId);
    const network = networkOf(elements);
    const touched = new Set(batch.changes.map(targetOf));
    const clashing = known.filter((other) => other.forward.some((change) => touched.has(targetOf(change))));
    if (clashing.length > 0) throw clash(clashing, touched, network.elements, project.revision);

    const applied = applyChanges(network, batch.changes);
    if (!applied.ok)
      throw new ServiceError(422, 'batch.refused', 'The change does not fit the project; nothing was stored.', {
        problems: applied.problems,
      });
    const revision = project.revision + 1;
    await write(connection, projectId, revision, batch.changes);
    await connection.query(
      'INSERT INTO changes (project_id, revision, batch_id, label, origin, author, forward, inverse) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
      [
        projectId,
        revision,
        batch.batchId,
        batch.label,
        batch.origin,
        batch.author,
        JSON.stringify(batch.changes),
        JSON.stringify(applied.inverse),
      ],
    );
    await connection.query('UPDATE projects SET revision = ?, updated_at = CURRENT_TIMESTAMP(3) WHERE id = ?', [
      revision,
      projectId,
    ]);
    return { revision, missed: known };
  });
}

function clash(
  clashing: StoredBatch[],
  touched: ReadonlySet<string>,
  elements: ReadonlyMap<string, Element>,
  revision: number,
): ServiceError {
  const ids = new Set(clashing.flatMap((batch) => batch.forward.map(targetOf)).filter((id) => touched.has(id)));
  const names = [...ids].map((id) => (elements.has(id) ? nameOf(elements.get(id)!) : id));
  const last = clashing[clashing.length - 1];
  return new ServiceError(
    409,
    'revision.clash',
    `${names.join(', ')} has been changed meanwhile by ${last.author} ("${last.label}").`,
    {
      revision,
      elements: [...ids],
    },
  );
}

async function write(
  connection: PoolConnection,
  projectId: string,
  revision: number,
  changes: readonly Change[],
): Promise<void> {
  // Only the last state of each element counts; a batch may touch one several times.
  const last = new Map(changes.map((change) => [targetOf(change), change]));
  const removed = [...last].filter(([, change]) => change.op === 'remove').map(([id]) => id);
  const kept = [...last.values()].flatMap((change) => (change.op === 'remove' ? [] : [change.element]));
  if (removed.length > 0)
    await connection.query('DELETE FROM elements WHERE project_id = ? AND id IN (?)', [projectId, removed]);
  for (let k = 0; k < kept.length; k += 1000)
    await connection.query(
      'INSERT INTO elements (project_id, id, kind, data, revision) VALUES ? ON DUPLICATE KEY UPDATE data = VALUES(data), revision = VALUES(revision)',
      [
        kept
          .slice(k, k + 1000)
          .map((element) => [projectId, element.id, element.kind, JSON.stringify(element), revision]),
      ],
    );
}

const changesSchema = z.array(changeSchema);

/** Changes as the log keeps them; those of older programs get the fields that came later. */
export const readChanges = (text: string): Change[] => changesSchema.parse(JSON.parse(text));

async function storedBatches(
  connection: Pick<PoolConnection, 'query'>,
  projectId: string,
  since: number,
  limit = 10000,
): Promise<StoredBatch[]> {
  const [rows] = await connection.query<RowDataPacket[]>(
    'SELECT revision, batch_id, label, origin, author, made_at, forward, inverse FROM changes WHERE project_id = ? AND revision > ? ORDER BY revision DESC LIMIT ?',
    [projectId, since, limit],
  );
  return rows.reverse().map((row) => ({
    revision: Number(row.revision),
    batchId: row.batch_id,
    label: row.label,
    origin: row.origin,
    author: row.author,
    madeAt: (row.made_at as Date).toISOString(),
    forward: readChanges(row.forward),
    inverse: readChanges(row.inverse),
  }));
}

/** The last batches of a project, oldest first: undo across reload, and the history. */
export async function history(projectId: string, since = 0, limit = 200): Promise<StoredBatch[]> {
  await projectRow(pool(), projectId);
  return storedBatches(pool(), projectId, since, limit);
}
