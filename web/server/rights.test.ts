/** What the application's own user may do in the database, and what not even a fault in the application could. */
import { statSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import mysql, { type Connection } from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { closePool, pool } from './database';
import { grantRights, migrate } from './migrate';

const migrations = join(import.meta.dirname, 'migrations');
const owner = process.env.MESURA_DATABASE_URL!;
let application: Connection;
beforeAll(async () => {
  await migrate(migrations, owner);
  await grantRights(owner, 'mesura', "'mesura'@'127.0.0.1'");
  application = await mysql.createConnection({ uri: process.env.MESURA_TEST_APPLICATION_URL! });
});
afterAll(async () => {
  await application.end();
  await closePool();
});

describe('the application in the database', () => {
  it('reads and writes rows', async () => {
    await application.query("INSERT INTO projects (id, name, notes) VALUES ('rightstest01', 'x', '')");
    await application.query("UPDATE projects SET name = 'y' WHERE id = 'rightstest01'");
    expect((await application.query('SELECT * FROM sheets'))[0]).toBeDefined();
  });
  it.each([
    "UPDATE sheets SET reason = 'forged'",
    'DELETE FROM sheets',
    'TRUNCATE TABLE sheets',
    'DROP TRIGGER sheets_are_immutable',
    "UPDATE sheet_runs SET reason = 'forged'",
    "UPDATE sheet_events SET name = 'forged'",
    'DELETE FROM sheet_events',
    "UPDATE readings SET name = 'forged'",
    'DELETE FROM acceptances',
    "UPDATE audit_log SET name = 'forged'",
    'DELETE FROM audit_log',
    'DELETE FROM accounts',
    'DROP TABLE versions',
    'ALTER TABLE sheets ADD COLUMN x INT',
    'CREATE TABLE x (y INT)',
    "UPDATE changes SET label = 'forged'",
    'DELETE FROM changes',
    'DELETE FROM projects',
    "INSERT INTO migrations (name) VALUES ('x')",
    'SELECT * FROM mysql.global_priv',
    "SELECT * FROM projects INTO OUTFILE '/tmp/mesura-outfile'",
    "CREATE USER 'x'@'127.0.0.1'",
    'SET GLOBAL general_log = 1',
    "GRANT ALL ON mesura.* TO 'mesura'@'127.0.0.1'",
  ])('cannot %s', async (statement) => {
    await expect(application.query(statement)).rejects.toThrow(/denied/i);
  });
  it('a database of a newer program is refused in words', async () => {
    await pool().query("INSERT INTO migrations (name) VALUES ('0099_future.sql')");
    await expect(migrate(migrations, owner)).rejects.toThrow(/made by a newer version of Mesura \(0099_future\.sql\)/);
    await pool().query("DELETE FROM migrations WHERE name = '0099_future.sql'");
  });
  it('a migration broken off after any of its statements is begun anew', async () => {
    for (const name of readdirSync(migrations)) {
      await pool().query('DELETE FROM migrations WHERE name = ?', [name]);
      expect(await migrate(migrations, owner)).toEqual([name]);
    }
  });
});

describe('the instance on the machine', () => {
  it('lets nobody but its owner into its folder', () => {
    const dir = process.env.MESURA_TEST_DATABASE_DIR!;
    expect((statSync(dir).mode & 0o777).toString(8)).toBe('700');
    for (const name of readdirSync(dir)) expect(statSync(join(dir, name)).mode & 0o077, name).toBe(0);
    expect(readdirSync(dir)).not.toContain('init.sql');
  });
  it('lets root in by the socket of the system’s root only, and no one without a name', async () => {
    const login = (user: string, password?: string) =>
      mysql
        .createConnection({ uri: owner.replace(/\/\/.*@/, `//${user}:${password ?? ''}@`), connectTimeout: 3000 })
        .then((connection) => connection.end().then(() => 'let in'))
        .catch((error: { code: string }) => error.code);
    expect(await login('root')).toMatch(/DENIED|ER_/);
    expect(await login('nobody')).toMatch(/DENIED|ER_/);
    expect(await login('mesura', 'guessed')).toMatch(/DENIED|ER_/);
  });
});
