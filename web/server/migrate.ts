/**
 * Migrations: SQL files applied once each, in the order of their names, under a lock so that two starts do not collide. Every statement can be applied again: a
 * migration that was broken off is simply begun anew. Works on a connection of its own, with the rights to change tables.
 */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import mysql, { type Connection } from 'mysql2/promise';
import type { RowDataPacket } from 'mysql2';

/** Applies what is missing from the folder; returns the names applied. Throws where the database was made by a newer program. */
export async function migrate(folder: string, uri: string): Promise<string[]> {
  const connection = await mysql.createConnection({ uri, connectTimeout: 4000 });
  try {
    await connection.query("SELECT GET_LOCK('mesura-migrations', 60)");
    return await applied(connection, folder);
  } finally {
    await connection.end().catch(() => undefined);
  }
}

async function applied(connection: Connection, folder: string): Promise<string[]> {
  await connection.query(
    'CREATE TABLE IF NOT EXISTS migrations (name VARCHAR(120) NOT NULL PRIMARY KEY, applied_at DATETIME NOT NULL DEFAULT CURRENT_TIMESTAMP) ENGINE=InnoDB',
  );
  const [rows] = await connection.query<RowDataPacket[]>('SELECT name FROM migrations');
  const done = new Set(rows.map((row) => row.name as string));
  const files = readdirSync(folder)
    .filter((file) => file.endsWith('.sql'))
    .sort();
  const unknown = [...done].filter((name) => !files.includes(name)).sort();
  if (unknown.length > 0)
    throw new Error(
      `This database was made by a newer version of Mesura (${unknown.join(', ')}). Start that version, or put back a backup made with this one.`,
    );
  const missing = files.filter((name) => !done.has(name));
  for (const name of missing) {
    for (const statement of statements(readFileSync(join(folder, name), 'utf8'))) await connection.query(statement);
    await connection.query('INSERT INTO migrations (name) VALUES (?)', [name]);
  }
  return missing;
}

/** A file's statements: each ends with a semicolon at the end of a line. */
const statements = (text: string): string[] =>
  text
    .split(/;\s*\n/)
    .map((statement) => statement.trim())
    .filter(Boolean);

/** Rights of the application's own user, table by table: nothing issued is changed, no table is altered. */
const rights: Readonly<Record<string, string>> = {
  projects: 'SELECT, INSERT, UPDATE',
  elements: 'SELECT, INSERT, UPDATE, DELETE',
  removals: 'SELECT, INSERT, UPDATE',
  changes: 'SELECT, INSERT',
  versions: 'SELECT, INSERT',
  sheets: 'SELECT, INSERT',
  sheet_runs: 'SELECT, INSERT',
  sheet_events: 'SELECT, INSERT',
  readings: 'SELECT, INSERT',
  acceptances: 'SELECT, INSERT',
  facts: 'SELECT, INSERT, UPDATE',
  shared_types: 'SELECT, INSERT, DELETE',
  shared_rulebooks: 'SELECT, INSERT, DELETE',
  accounts: 'SELECT, INSERT, UPDATE',
  recovery_codes: 'SELECT, INSERT, DELETE',
  invitations: 'SELECT, INSERT, DELETE',
  sessions: 'SELECT, INSERT, UPDATE, DELETE',
  guesses: 'SELECT, INSERT, UPDATE, DELETE',
  members: 'SELECT, INSERT, UPDATE, DELETE',
  audit_log: 'SELECT, INSERT',
  api_tokens: 'SELECT, INSERT, UPDATE, DELETE',
  jobs: 'SELECT, INSERT, UPDATE, DELETE',
  presence: 'SELECT, INSERT, UPDATE, DELETE',
  migrations: 'SELECT',
};

/** Gives the application's user these rights and takes away all others. `uri`: of the owner of the tables. */
export async function grantRights(uri: string, database: string, user: string): Promise<void> {
  const connection = await mysql.createConnection({ uri, connectTimeout: 4000 });
  try {
    for (const [table, list] of Object.entries(rights))
      await connection.query(`GRANT ${list} ON \`${database}\`.\`${table}\` TO ${user}`);
  } finally {
    await connection.end().catch(() => undefined);
  }
}
