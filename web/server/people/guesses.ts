/**
 * Lock-out on guessing. Each attempt counts before it is looked at, so that many at once count as many; one that fits takes the count of its name away. Counted by
 * name, known or not, and by address.
 */
import { createHash } from 'node:crypto';
import type { RowDataPacket } from 'mysql2';
import { pool } from '../database';

/** From so many failures on it is locked: a minute, then twice as long each time, up to an hour. */
const allowed = { name: 5, address: 60 };
const firstLockS = 60;
const longestLockS = 3600;
/** Failures older than this no longer count. */
const forgottenS = 24 * 3600;

type Kind = keyof typeof allowed;

/** Names that somebody has tried are none of the database's business. */
const target = (kind: Kind, text: string): string =>
  createHash('sha256').update(`${kind} ${text.trim().toLowerCase()}`).digest('hex');

/** Seconds for which a lock holds after so many failures; nought below the limit. */
export const lockS = (failures: number, limit: number): number =>
  failures < limit ? 0 : Math.min(firstLockS * 2 ** Math.min(failures - limit, 20), longestLockS);

/** Seconds that are left of a lock on the name or the address; otherwise counts the attempt and answers nought. */
export async function takeAttempt(name: string, address: string): Promise<number> {
  let left = 0;
  for (const [kind, text] of [
    ['name', name],
    ['address', address],
  ] as const) {
    const id = target(kind, text);
    const [rows] = await pool().query<RowDataPacket[]>(
      'SELECT GREATEST(TIMESTAMPDIFF(SECOND, NOW(3), until_at) + 1, 0) AS wait FROM guesses WHERE target = ? AND until_at > NOW(3)',
      [id],
    );
    if (rows.length > 0) left = Math.max(left, Number(rows[0].wait));
  }
  if (left > 0) return left;
  await count('name', name);
  await count('address', address);
  return 0;
}

async function count(kind: Kind, text: string): Promise<void> {
  const id = target(kind, text);
  await pool().query(
    `INSERT INTO guesses (target, failures, last_at) VALUES (?, 1, NOW(3))
     ON DUPLICATE KEY UPDATE failures = IF(last_at < NOW(3) - INTERVAL ? SECOND, 1, failures + 1), last_at = NOW(3)`,
    [id, forgottenS],
  );
  const [rows] = await pool().query<RowDataPacket[]>('SELECT failures FROM guesses WHERE target = ?', [id]);
  const lock = lockS(Number(rows[0]?.failures ?? 0), allowed[kind]);
  if (lock > 0)
    await pool().query('UPDATE guesses SET until_at = NOW(3) + INTERVAL ? SECOND WHERE target = ?', [lock, id]);
}

/** The right one came: the name is free again. */
export async function forgive(name: string, address: string): Promise<void> {
  await pool().query('DELETE FROM guesses WHERE target = ?', [target('name', name)]);
  await uncount('address', address);
}

/** An attempt that was none: right as far as it went. Failures of before go on counting. */
export async function takeBack(name: string, address: string): Promise<void> {
  await uncount('name', name);
  await uncount('address', address);
}

async function uncount(kind: Kind, text: string): Promise<void> {
  await pool().query(
    'UPDATE guesses SET failures = IF(failures > 0, failures - 1, 0), until_at = IF(failures < ?, NULL, until_at) WHERE target = ?',
    [allowed[kind], target(kind, text)],
  );
}
