/**
 * The one way a project changes: a batch, made on a revision, applied in one transaction or refused as a whole. Two people may
 * change different elements at the same time; a batch is refused when somebody else has changed an element it touches since its revision.
 */
import { setImmediate as turn } from 'node:timers/promises';
import type { RowDataPacket } from 'mysql2';
import type { PoolConnection } from 'mysql2/promise';
import { applyChanges, targetOf, type Change } from '@mesura/core/model/changes';
import { nameOf, type Element } from '@mesura/core/model/element';
import type { Network } from '@mesura/core/model/network';
import { compacted, type StoredChange } from '@mesura/core/model/storedChanges';
import type { Accepted, StoredBatch } from '../project/protocol';
import { readBatch, type Batch, type BatchInput, type ReadBatch } from './batch';
import { pool, transaction } from './database';
import { notFound, ServiceError } from './errors';
import { look } from './live/hub';
import { missedBatches, readChanges } from './log';
import { followModel, isAtHand, modelAt } from './models';
import { projectRow } from './projects';

type Connection = Pick<PoolConnection, 'query'>;

export type { Batch, BatchInput };

/** What was read of a request, or why it is none. */
export function acceptedBatch(read: ReadBatch): Batch {
  if (read.ok) return read.batch;
  throw new ServiceError(422, 'batch.invalid', 'The change is not valid; nothing was stored.', {
    problems: read.problems,
  });
}

export const parseBatch = (body: unknown): Batch => acceptedBatch(readBatch(body));

/** `accountId`: of the author, where people sign in. */
export async function storeBatch(
  projectId: string,
  input: BatchInput,
  accountId: string | null = null,
): Promise<Accepted> {
  const batch = { ...input, clients: input.clients ?? [] };
  // The model is brought up to date before the project is locked: under the lock it is at hand, or a step or two away.
  if (!isAtHand(projectId))
    await transaction(async (connection) => {
      const { revision } = await projectRow(connection, projectId);
      await modelAt(connection, projectId, revision);
    });
  const stored = await transaction(async (connection) => {
    const project = await projectRow(connection, projectId, true);
    const { baseRevision, clients } = batch;
    const twice = await revisionOfBatch(connection, projectId, batch.batchId);
    if (twice !== null) {
      const missed = await missedBatches(connection, projectId, baseRevision, twice, clients);
      return { revision: twice, missed, made: null };
    }
    if (baseRevision > project.revision)
      throw new ServiceError(
        409,
        'revision.unknown',
        'This change was made on a revision that the server does not know.',
        { revision: project.revision },
      );
    const network = await modelAt(connection, projectId, project.revision);
    await turn();
    if (baseRevision < project.revision) await refuseClash(connection, projectId, batch, network, project.revision);

    const applied = applyChanges(network, batch.changes);
    if (!applied.ok)
      throw new ServiceError(422, 'batch.refused', 'The change does not fit the project; nothing was stored.', {
        problems: applied.problems,
      });
    const revision = project.revision + 1;
    await write(connection, projectId, revision, batch.changes);
    const forward = compacted(network.elements, batch.changes);
    // Ten thousand symbols moved at once must not hold up everybody: others get a turn in between.
    await turn();
    const inverse = compacted(applied.network.elements, applied.inverse);
    await turn();
    await connection.query(
      'INSERT INTO changes (project_id, revision, batch_id, label, origin, author, account_id, client, touched, forward, inverse) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
      [
        projectId,
        revision,
        batch.batchId,
        batch.label,
        batch.origin,
        batch.author,
        accountId,
        clients[0] ?? '',
        new Set(batch.changes.map(targetOf)).size,
        JSON.stringify(forward),
        JSON.stringify(inverse),
      ],
    );
    await connection.query('UPDATE projects SET revision = ?, updated_at = CURRENT_TIMESTAMP(3) WHERE id = ?', [
      revision,
      projectId,
    ]);
    const missed = await missedBatches(connection, projectId, baseRevision, revision, clients);
    return { revision, missed, made: { from: project.revision, network: applied.network } };
  });
  // Only what is committed is remembered.
  if (stored.made) {
    followModel(projectId, stored.made.from, stored.revision, stored.made.network);
    look();
  }
  return { revision: stored.revision, missed: stored.missed };
}

async function revisionOfBatch(connection: Connection, projectId: string, batchId: string): Promise<number | null> {
  const [rows] = await connection.query<RowDataPacket[]>(
    'SELECT revision FROM changes WHERE project_id = ? AND batch_id = ?',
    [projectId, batchId],
  );
  return rows.length > 0 ? Number(rows[0].revision) : null;
}

interface Touch {
  readonly id: string;
  readonly revision: number;
  readonly client: string;
  readonly author: string;
  readonly label: string;
}

/** Every element knows the revision that touched it last, and so does what was removed: however old the base is, nothing is overlooked. */
async function refuseClash(
  connection: Connection,
  projectId: string,
  { changes, baseRevision, clients }: Required<BatchInput>,
  network: Network,
  revision: number,
): Promise<void> {
  const ids = [...new Set(changes.map(targetOf))];
  const own = new Set(clients);
  const found: Touch[] = [];
  for (let k = 0; k < ids.length; k += 1000)
    for (const table of ['elements', 'removals']) {
      const [rows] = await connection.query<RowDataPacket[]>(
        `SELECT e.id, e.revision, c.client, c.author, c.label FROM ${table} e
         LEFT JOIN changes c ON c.project_id = e.project_id AND c.revision = e.revision
         WHERE e.project_id = ? AND e.id IN (?) AND e.revision > ?`,
        [projectId, ids.slice(k, k + 1000), baseRevision],
      );
      found.push(...(rows as unknown as Touch[]).filter(({ client }) => !client || !own.has(client)));
    }
  if (found.length === 0) return;
  const last = found.reduce((p, q) => (Number(q.revision) > Number(p.revision) ? q : p));
  const clashing = [...new Set(found.map(({ id }) => id))];
  const names = clashing.map((id) => {
    const element: Element | undefined = network.elements.get(id as Element['id']);
    return element ? nameOf(element) : id;
  });
  const shown = names.length > 5 ? `${names.slice(0, 5).join(', ')} and ${names.length - 5} more` : names.join(', ');
  throw new ServiceError(
    409,
    'revision.clash',
    `${shown} ${names.length > 1 ? 'have' : 'has'} been changed meanwhile by ${last.author ?? 'somebody'} ("${last.label ?? ''}").`,
    { revision, elements: clashing.slice(0, 200) },
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
  for (let k = 0; k < removed.length; k += 1000) {
    const some = removed.slice(k, k + 1000);
    await connection.query('DELETE FROM elements WHERE project_id = ? AND id IN (?)', [projectId, some]);
    await connection.query(
      'INSERT INTO removals (project_id, id, revision) VALUES ? ON DUPLICATE KEY UPDATE revision = VALUES(revision)',
      [some.map((id) => [projectId, id, revision])],
    );
  }
  for (let k = 0; k < kept.length; k += 500)
    await connection.query(
      'INSERT INTO elements (project_id, id, kind, data, revision) VALUES ? ON DUPLICATE KEY UPDATE data = VALUES(data), revision = VALUES(revision)',
      [
        kept
          .slice(k, k + 500)
          .map((element) => [projectId, element.id, element.kind, JSON.stringify(element), revision]),
      ],
    );
}

/** Steps after a revision with what they did; null when there are too many to send. */
export async function stepsSince(projectId: string, revision: number): Promise<StoredBatch[] | null> {
  const project = await projectRow(pool(), projectId);
  return missedBatches(pool(), projectId, revision, project.revision + 1, []);
}

/** What one step did, and what takes it back. */
export async function stepAt(
  projectId: string,
  revision: number,
): Promise<{ forward: StoredChange[]; inverse: StoredChange[] }> {
  await projectRow(pool(), projectId);
  const [rows] = await pool().query<RowDataPacket[]>(
    'SELECT forward, inverse FROM changes WHERE project_id = ? AND revision = ?',
    [projectId, revision],
  );
  if (rows.length === 0) throw notFound('This step');
  return { forward: readChanges(rows[0].forward), inverse: readChanges(rows[0].inverse) };
}
