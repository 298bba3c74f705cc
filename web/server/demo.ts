/** The demo project: loaded once into a new database, and left alone after that, even when somebody deletes it. */
import type { RowDataPacket } from 'mysql2';
import { readProject } from '@mesura/core/formats/project/project';
import { transaction } from './database';
import { insertProject, newId } from './projects';

export async function loadDemoOnce(text: string): Promise<boolean> {
  return transaction(async (connection) => {
    const [rows] = await connection.query<RowDataPacket[]>("SELECT value FROM facts WHERE name = 'demo' FOR UPDATE");
    if (rows.length > 0) return false;
    const read = readProject(text);
    if (!read.ok) throw new Error(`The demo project is faulty: ${read.problems[0].message}`);
    const id = newId();
    await insertProject(connection, id, read.project.name, read.project.notes, read.project.elements);
    await connection.query("INSERT INTO facts (name, value) VALUES ('demo', ?)", [id]);
    return true;
  });
}
