/** Migrations: SQL files applied once each, in the order of their names, under a lock so that two starts do not collide. */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { RowDataPacket } from 'mysql2';
import { pool } from './database';

/** Applies what is missing from the folder; returns the names applied. */
export async function migrate(folder: string): Promise<string[]> {
  const connection = await pool().getConnection();
  const applied: string[] = [];
  try {
    await connection.query("SELECT GET_LOCK('mesura-migrations', 60)");
    await connection.query(
      'CREATE TABLE IF NOT EXISTS migrations (name VARCHAR(120) NOT NULL PRIMARY KEY, applied_at DATETIME NOT NULL DEFAULT CURRENT_TIMESTAMP) ENGINE=InnoDB',
    );
    const [rows] = await connection.query<RowDataPacket[]>('SELECT name FROM migrations');
    const done = new Set(rows.map((row) => row.name as string));
    for (const name of readdirSync(folder)
      .filter((file) => file.endsWith('.sql'))
      .sort()) {
      if (done.has(name)) continue;
      for (const statement of statements(readFileSync(join(folder, name), 'utf8'))) await connection.query(statement);
      await connection.query('INSERT INTO migrations (name) VALUES (?)', [name]);
      applied.push(name);
    }
  } finally {
    await connection.query("SELECT RELEASE_LOCK('mesura-migrations')").catch(() => undefined);
    connection.release();
  }
  return applied;
}

/** A file's statements: each ends with a semicolon at the end of a line. */
const statements = (text: string): string[] =>
  text
    .split(/;\s*\n/)
    .map((statement) => statement.trim())
    .filter(Boolean);
