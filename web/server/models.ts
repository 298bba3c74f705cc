/**
 * The models of the projects that are worked on, kept between requests: a revision once read and checked is not read again for every edit. A copy counts only for
 * the revision, and the state of the database, that it was made of.
 */
import type { RowDataPacket } from 'mysql2';
import type { PoolConnection } from 'mysql2/promise';
import { elementSchema, type Element } from '@mesura/core/model/element';
import { networkOf, type Network } from '@mesura/core/model/network';
import { applyStored } from '@mesura/core/model/storedChanges';
import { readChanges } from './log';
import { inSlices } from './slices';

type Connection = Pick<PoolConnection, 'query'>;

interface Model {
  readonly revision: number;
  /** Changes when a backup is put back. */
  readonly epoch: string;
  readonly network: Network;
}

// Next loads modules more than once (routes, hot reload); the models must be kept once.
const shared = globalThis as typeof globalThis & { mesuraModels?: Map<string, Model> };
const models = (shared.mesuraModels ??= new Map<string, Model>());
const mostElements = 120_000;

/** Whether some revision of a project is kept: the one wanted is then the same, or a few steps away. */
export const isAtHand = (projectId: string): boolean => models.has(projectId);

/** The model at the revision that the same transaction has read of the project. */
export async function modelAt(connection: Connection, projectId: string, revision: number): Promise<Network> {
  const epoch = await epochOf(connection);
  const known = models.get(projectId);
  if (known && known.revision === revision && known.epoch === epoch) {
    keepModel(projectId, known);
    return known.network;
  }
  const ahead = known && known.epoch === epoch ? await followed(connection, projectId, known, revision) : null;
  const network = ahead ?? networkOf(await readElements(connection, projectId));
  keepModel(projectId, { revision, epoch, network });
  return network;
}

/** Further behind than these steps a model is read anew. */
const mostSteps = 200;

/** A model that another process has gone on from: the steps since, read from the log, instead of every element. */
async function followed(
  connection: Connection,
  projectId: string,
  { revision: from, network }: Model,
  to: number,
): Promise<Network | null> {
  if (to <= from || to - from > mostSteps) return null;
  const [rows] = await connection.query<RowDataPacket[]>(
    'SELECT forward FROM changes WHERE project_id = ? AND revision > ? AND revision <= ? ORDER BY revision',
    [projectId, from, to],
  );
  if (rows.length !== to - from) return null;
  let elements: Network['elements'] = network.elements;
  for (const row of rows) elements = applyStored(elements, readChanges(row.forward));
  return { elements };
}

/** After a batch was stored, and its transaction is done. */
export function followModel(projectId: string, from: number, revision: number, network: Network): void {
  const known = models.get(projectId);
  if (known?.revision === from) keepModel(projectId, { ...known, revision, network });
}

function keepModel(projectId: string, model: Model): void {
  models.delete(projectId);
  models.set(projectId, model);
  let sum = 0;
  for (const { network } of models.values()) sum += network.elements.size;
  for (const [id, { network }] of models) {
    if (sum <= mostElements || id === projectId) break;
    models.delete(id);
    sum -= network.elements.size;
  }
}

export const forgetModels = (): void => models.clear();

async function epochOf(connection: Connection): Promise<string> {
  const [rows] = await connection.query<RowDataPacket[]>("SELECT value FROM facts WHERE name = 'epoch'");
  return String(rows[0]?.value ?? '');
}

/** Elements as stored, each checked on the way out. */
export async function readElements(connection: Connection, projectId: string): Promise<Element[]> {
  const [rows] = await connection.query<RowDataPacket[]>(
    'SELECT data FROM elements WHERE project_id = ? ORDER BY seq',
    [projectId],
  );
  return inSlices(rows, (row) => elementSchema.parse(JSON.parse(row.data)));
}
