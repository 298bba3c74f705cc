/** The history of a project: who changed what and when, states of before, named versions, what differs between two. */
import { setImmediate as turn } from 'node:timers/promises';
import type { RowDataPacket } from 'mysql2';
import type { PoolConnection } from 'mysql2/promise';
import { z } from 'zod';
import { differenceOf, idsOf, inOrder, type ElementDifference } from '@mesura/core/model/difference';
import type { Element } from '@mesura/core/model/element';
import { networkOf } from '@mesura/core/model/network';
import { applyStored } from '@mesura/core/model/storedChanges';
import { readChanges } from './log';
import { pool, transaction } from './database';
import { ServiceError } from './errors';
import { modelAt } from './models';
import { nameFor, nobody, type Person } from './people/person';
import { projectRow } from './projects';
import { inSlices } from './slices';
import { plainText } from './texts';

export interface HistoryEntry {
  revision: number;
  label: string;
  origin: 'edit' | 'undo' | 'redo';
  author: string;
  madeAt: string;
  /** Number of elements that the step touched. */
  touched: number;
}

export interface Version {
  id: number;
  revision: number;
  name: string;
  author: string;
  madeAt: string;
}

const pageOfHistory = 100;

/** The latest changes first, those before a revision when one is given. */
export async function historyOf(projectId: string, before: number | null = null): Promise<HistoryEntry[]> {
  await projectRow(pool(), projectId);
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT revision, label, origin, author, made_at, COALESCE(touched, JSON_LENGTH(forward)) AS touched FROM changes
     WHERE project_id = ? AND revision < ? ORDER BY revision DESC LIMIT ?`,
    [projectId, before ?? Number.MAX_SAFE_INTEGER, pageOfHistory],
  );
  return rows.map((row) => ({
    revision: Number(row.revision),
    label: row.label,
    origin: row.origin,
    author: row.author,
    madeAt: (row.made_at as Date).toISOString(),
    touched: Number(row.touched),
  }));
}

export async function versionsOf(projectId: string): Promise<Version[]> {
  const [rows] = await pool().query<RowDataPacket[]>(
    'SELECT id, revision, name, author, made_at FROM versions WHERE project_id = ? ORDER BY revision DESC, id DESC',
    [projectId],
  );
  return rows.map((row) => ({
    id: Number(row.id),
    revision: Number(row.revision),
    name: row.name,
    author: row.author,
    madeAt: (row.made_at as Date).toISOString(),
  }));
}

const versionSchema = z.object({
  revision: z.int().min(1),
  name: plainText(120)
    .transform((text) => text.trim())
    .refine((text) => text.length > 0),
  author: plainText(80).default('engineer'),
});

/** Gives a revision a name. Errors: `version.invalid`, `version.name` when it is taken, `revision.unknown`. */
export async function nameVersion(
  projectId: string,
  body: unknown,
  by: Pick<Person, 'signedIn' | 'name' | 'accountId'> = nobody,
): Promise<Version[]> {
  const parsed = versionSchema.safeParse(body);
  if (!parsed.success) throw new ServiceError(422, 'version.invalid', 'A version needs a name of 1 to 120 characters.');
  const { revision, name } = parsed.data;
  const author = nameFor(by, parsed.data.author);
  await transaction(async (connection) => {
    const project = await projectRow(connection, projectId, true);
    if (revision > project.revision) throw unknownRevision();
    const [taken] = await connection.query<RowDataPacket[]>(
      'SELECT id FROM versions WHERE project_id = ? AND name = ?',
      [projectId, name],
    );
    if (taken.length > 0) throw new ServiceError(409, 'version.name', `There is a version "${name}" already.`);
    await connection.query(
      'INSERT INTO versions (project_id, revision, name, author, account_id) VALUES (?, ?, ?, ?, ?)',
      [projectId, revision, name, author, by.accountId],
    );
  });
  return versionsOf(projectId);
}

const unknownRevision = () => new ServiceError(404, 'revision.unknown', 'This revision does not exist.');

/** The elements as they were at a revision: the changes since then taken back, the last first. */
export const stateAt = (projectId: string, revision: number): Promise<Element[]> =>
  transaction((connection) => elementsAt(connection, projectId, revision));

async function elementsAt(connection: PoolConnection, projectId: string, revision: number): Promise<Element[]> {
  const project = await projectRow(connection, projectId);
  if (!Number.isInteger(revision) || revision < 1 || revision > project.revision) throw unknownRevision();
  let { elements } = await modelAt(connection, projectId, project.revision);
  // One step after the other: the history of years must not be in memory at once.
  for (let from = project.revision; from > revision;) {
    const [rows] = await connection.query<RowDataPacket[]>(
      'SELECT revision, inverse FROM changes WHERE project_id = ? AND revision <= ? AND revision > ? ORDER BY revision DESC LIMIT 20',
      [projectId, from, revision],
    );
    if (rows.length === 0) break;
    for (const row of rows) {
      elements = applyStored(elements, readChanges(row.inverse));
      await turn();
    }
    from = Number(rows[rows.length - 1].revision) - 1;
  }
  return [...elements.values()];
}

/** What differs between two revisions, in one consistent view. */
export const compareRevisions = (projectId: string, from: number, to: number): Promise<ElementDifference[]> =>
  transaction(async (connection) => {
    const before = networkOf(await elementsAt(connection, projectId, from));
    const after = networkOf(await elementsAt(connection, projectId, to));
    return inOrder(await inSlices(idsOf(before, after), (id) => differenceOf(before, after, id)));
  });
