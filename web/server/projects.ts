/** Projects: list, create, open, rename, duplicate, delete with undo, read as a file. */
import { randomInt } from 'node:crypto';
import type { RowDataPacket } from 'mysql2';
import type { PoolConnection } from 'mysql2/promise';
import { blankElements } from '@mesura/core/model/defaults';
import { elementSchema, type Element } from '@mesura/core/model/element';
import { readProject, writeProject } from '@mesura/core/formats/project';
import { pool, transaction } from './database';
import { notFound, ServiceError } from './errors';

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
}

/** Letters without those that are taken for one another. */
const alphabet = 'abcdefghjkmnpqrstuvwxyz23456789';
export const newId = (): string => Array.from({ length: 12 }, () => alphabet[randomInt(alphabet.length)]).join('');

export async function listProjects(): Promise<ProjectCard[]> {
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT p.id, p.name, p.notes, p.revision, p.updated_at,
       (SELECT COUNT(*) FROM elements e WHERE e.project_id = p.id AND e.kind NOT IN ('connection', 'projectSettings', 'gradingChart')) AS elements,
       (SELECT COUNT(*) FROM sheets s WHERE s.project_id = p.id) AS sheets
     FROM projects p WHERE p.deleted_at IS NULL ORDER BY p.updated_at DESC, p.id`,
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
): Promise<string> {
  const id = newId();
  await transaction((connection) => insertProject(connection, id, cleanName(name), notes, elements));
  return id;
}

export async function insertProject(
  connection: PoolConnection,
  id: string,
  name: string,
  notes: string,
  elements: Iterable<Element>,
): Promise<void> {
  await connection.query('INSERT INTO projects (id, name, notes, revision) VALUES (?, ?, ?, 1)', [id, name, notes]);
  const rows = [...elements].map((element) => [id, element.id, element.kind, JSON.stringify(element), 1]);
  for (let k = 0; k < rows.length; k += 1000)
    await connection.query('INSERT INTO elements (project_id, id, kind, data, revision) VALUES ?', [
      rows.slice(k, k + 1000),
    ]);
}

export function cleanName(name: unknown): string {
  const text = typeof name === 'string' ? name.trim() : '';
  if (text.length < 1 || text.length > 120)
    throw new ServiceError(422, 'project.name', 'The name of a project has 1 to 120 characters.');
  return text;
}

/** Elements as stored, each checked on the way out. */
export async function readElements(connection: Pick<PoolConnection, 'query'>, projectId: string): Promise<Element[]> {
  const [rows] = await connection.query<RowDataPacket[]>(
    'SELECT data FROM elements WHERE project_id = ? ORDER BY seq',
    [projectId],
  );
  return rows.map((row) => elementSchema.parse(JSON.parse(row.data)));
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

/** A project with all its elements, in one consistent view. */
export const openProject = (id: string): Promise<OpenProject> =>
  transaction(async (connection) => ({
    ...(await projectRow(connection, id)),
    elements: await readElements(connection, id),
  }));

export async function renameProject(id: string, name: string): Promise<void> {
  const clean = cleanName(name);
  await transaction(async (connection) => {
    await projectRow(connection, id, true);
    await connection.query('UPDATE projects SET name = ?, updated_at = CURRENT_TIMESTAMP(3) WHERE id = ?', [clean, id]);
  });
}

export async function duplicateProject(id: string): Promise<string> {
  const { name, notes, elements } = await openProject(id);
  return createProject(`${name.slice(0, 110)} (copy)`, elements, notes);
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

export async function importProject(text: string): Promise<string> {
  const read = readProject(text);
  if (!read.ok)
    throw new ServiceError(422, 'project.file', 'This file cannot be read as a project.', {
      problems: read.problems.slice(0, 20),
    });
  const { name, notes, elements } = read.project;
  const withSettings = elements.some((element) => element.kind === 'projectSettings')
    ? elements
    : [...blankElements(), ...elements];
  return createProject(name, withSettings, notes);
}
