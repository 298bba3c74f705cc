/** Projects: list, create, open, rename, duplicate, delete with undo, read as a file. */
import { randomInt } from 'node:crypto';
import type { RowDataPacket } from 'mysql2';
import type { PoolConnection } from 'mysql2/promise';
import { blankElements } from '@mesura/core/model/defaults';
import type { Element } from '@mesura/core/model/element';
import { isStorable } from '@mesura/core/model/text';
import { writeProject } from '@mesura/core/formats/project/project';
import { pool, transaction } from './database';
import type { LogEntry } from '../project/protocol';
import { notFound, ServiceError } from './errors';
import { lastSteps } from './log';
import { modelAt } from './models';
import { roles } from './people/permissions';
import { setRoles } from './people/roles';
import { rowOf, rowsOfBlock, unpackedRows, type Row, type RowBlock } from './rows';
import { inSlices } from './slices';
import { inThread } from './workers';

export interface ProjectCard {
  id: string;
  name: string;
  notes: string;
  revision: number;
  updatedAt: string;
  elements: number;
  sheets: number;
}

export interface OpenProject {
  id: string;
  name: string;
  notes: string;
  revision: number;
  elements: Element[];
  log: LogEntry[];
}

/** Letters without those that are taken for one another. */
const alphabet = 'abcdefghjkmnpqrstuvwxyz23456789';
export const newId = (): string => Array.from({ length: 12 }, () => alphabet[randomInt(alphabet.length)]).join('');

/** Those that an account belongs to; null: all, on the desk of their owner. */
export async function listProjects(accountId: string | null = null): Promise<ProjectCard[]> {
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT p.id, p.name, p.notes, p.revision, p.updated_at,
       (SELECT COUNT(*) FROM elements e WHERE e.project_id = p.id AND e.kind NOT IN ('connection', 'projectSettings', 'gradingChart')) AS elements,
       (SELECT COUNT(*) FROM sheets s WHERE s.project_id = p.id) AS sheets
     FROM projects p WHERE p.deleted_at IS NULL ${accountId === null ? '' : 'AND p.id IN (SELECT m.project_id FROM members m WHERE m.account_id = ?)'}
     ORDER BY p.updated_at DESC, p.id`,
    accountId === null ? [] : [accountId],
  );
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    notes: row.notes,
    revision: Number(row.revision),
    updatedAt: (row.updated_at as Date).toISOString(),
    elements: Number(row.elements),
    sheets: Number(row.sheets),
  }));
}

export async function createProject(
  name: string,
  elements: Iterable<Element> = blankElements(),
  notes = '',
  accountId: string | null = null,
): Promise<string> {
  const id = newId();
  await transaction(async (connection) => {
    await insertProject(connection, id, cleanName(name), notes, elements);
    await beginMembership(connection, id, accountId);
  });
  return id;
}

export async function insertProject(
  connection: PoolConnection,
  id: string,
  name: string,
  notes: string,
  elements: Iterable<Element>,
): Promise<void> {
  await insertProjectRow(connection, id, name, notes);
  await insertRows(connection, id, await inSlices([...elements], rowOf));
}

const insertProjectRow = (connection: PoolConnection, id: string, name: string, notes: string) =>
  connection.query('INSERT INTO projects (id, name, notes, revision) VALUES (?, ?, ?, 1)', [id, name, notes]);

async function insertRows(connection: PoolConnection, id: string, rows: readonly Row[]): Promise<void> {
  for (let k = 0; k < rows.length; k += rowsOfBlock)
    await connection.query('INSERT INTO elements (project_id, id, kind, data, revision) VALUES ?', [
      rows.slice(k, k + rowsOfBlock).map((row) => [id, row.id, row.kind, row.data, 1]),
    ]);
}

export function cleanName(name: unknown): string {
  const text = typeof name === 'string' ? name.trim() : '';
  if (text.length < 1 || text.length > 120 || !isStorable(text))
    throw new ServiceError(422, 'project.name', 'The name of a project has 1 to 120 characters.');
  return text;
}

export async function projectRow(connection: Pick<PoolConnection, 'query'>, id: string, lock = false) {
  const [rows] = await connection.query<RowDataPacket[]>(
    `SELECT id, name, notes, revision FROM projects WHERE id = ? AND deleted_at IS NULL ${lock ? 'FOR UPDATE' : ''}`,
    [id],
  );
  if (rows.length === 0) throw notFound('This project');
  return {
    id: rows[0].id as string,
    name: rows[0].name as string,
    notes: rows[0].notes as string,
    revision: Number(rows[0].revision),
  };
}

/** A project with all its elements, in one consistent view: what it costs is what the model costs, however long its history. */
export const openProject = (id: string): Promise<OpenProject> =>
  transaction(async (connection) => {
    const project = await projectRow(connection, id);
    const { elements } = await modelAt(connection, id, project.revision);
    return { ...project, elements: [...elements.values()], log: await lastSteps(connection, id) };
  });

export async function renameProject(id: string, name: string): Promise<void> {
  const clean = cleanName(name);
  await transaction(async (connection) => {
    await projectRow(connection, id, true);
    await connection.query('UPDATE projects SET name = ?, updated_at = CURRENT_TIMESTAMP(3) WHERE id = ?', [clean, id]);
  });
}

export async function duplicateProject(id: string, accountId: string | null = null): Promise<string> {
  const { name, notes, elements } = await openProject(id);
  return createProject(`${name.slice(0, 110)} (copy)`, elements, notes, accountId);
}

/** Deleting hides; {@link restoreProject} brings it back. */
export async function deleteProject(id: string): Promise<void> {
  await transaction(async (connection) => {
    await projectRow(connection, id, true);
    await connection.query('UPDATE projects SET deleted_at = CURRENT_TIMESTAMP(3) WHERE id = ?', [id]);
  });
}

export async function restoreProject(id: string): Promise<void> {
  const [result] = await pool().query('UPDATE projects SET deleted_at = NULL WHERE id = ?', [id]);
  if ((result as { affectedRows: number }).affectedRows === 0) throw notFound('This project');
}

export async function exportProject(id: string): Promise<{ name: string; text: string }> {
  const { name, notes, elements } = await openProject(id);
  return { name, text: writeProject({ name, notes, elements }) };
}

/** A project file read in a thread and stored; a file without settings gets the usual ones. */
export async function importProject(
  text: string,
  signal?: AbortSignal,
  accountId: string | null = null,
): Promise<string> {
  const read = await inThread({ task: 'project', text }, signal);
  if (!read.ok)
    throw new ServiceError(422, 'project.file', 'This file cannot be read as a project.', { problems: read.problems });
  const { name, notes, rows, hasSettings } = read;
  return storeRows(name, notes, rows, hasSettings, accountId);
}

/** A project from rows that are checked; without settings it gets the usual ones. Each block is read when its turn comes. */
export async function storeRows(
  name: string,
  notes: string,
  rows: readonly RowBlock[],
  hasSettings: boolean,
  accountId: string | null,
): Promise<string> {
  const id = newId();
  await transaction(async (connection) => {
    await insertProjectRow(connection, id, name, notes);
    if (!hasSettings) await insertRows(connection, id, blankElements().map(rowOf));
    for (const block of rows) await insertRows(connection, id, unpackedRows(block));
    await beginMembership(connection, id, accountId);
  });
  return id;
}

/** Who begins a project may do everything in it, and gives it out of hand. */
async function beginMembership(connection: PoolConnection, id: string, accountId: string | null): Promise<void> {
  if (accountId !== null) await setRoles(connection, id, accountId, roles);
}
