/** Sessions: a random token in a cookie, its digest in the database. They end when they are not used, at the latest after a week, and whenever their owner says so. */
import type { RowDataPacket } from 'mysql2';
import { pool } from '../database';
import { notFound } from '../errors';
import { newId } from '../projects';
import type { Role } from './permissions';
import { rolesIn } from './roles';
import { digestOfToken, newToken } from './tokens';

export const sessionLimits = { idleH: 12, wholeH: 7 * 24 };

/** A name that browsers take over TLS only, for this host only, where there is TLS. */
export const cookieName = (secure: boolean): string => (secure ? '__Host-mesura' : 'mesura');

export function sessionCookie(token: string, secure: boolean): string {
  const age = token === '' ? 0 : sessionLimits.wholeH * 3600;
  return `${cookieName(secure)}=${token}; Path=/; HttpOnly; SameSite=Strict; Max-Age=${age}${secure ? '; Secure' : ''}`;
}

/** The token among the cookies of a request; empty where there is none. */
export function tokenIn(cookies: string | null, secure: boolean): string {
  for (const part of (cookies ?? '').split(';')) {
    const [name, value = ''] = part.trim().split('=', 2);
    if (name === cookieName(secure) && /^[A-Za-z0-9_-]{43}$/.test(value)) return value;
  }
  return '';
}

export async function beginSession(accountId: string, address: string, browser: string): Promise<string> {
  const token = newToken();
  await pool().query('INSERT INTO sessions (id, token_hash, account_id, address, browser) VALUES (?)', [
    [newId(), digestOfToken(token), accountId, address.slice(0, 60), browser.slice(0, 200)],
  ]);
  // Those that have run out are of no use to anybody.
  await pool().query(
    'DELETE FROM sessions WHERE seen_at < NOW(3) - INTERVAL ? HOUR OR begun_at < NOW(3) - INTERVAL ? HOUR',
    [sessionLimits.idleH, sessionLimits.wholeH],
  );
  return token;
}

export interface SignedIn {
  readonly sessionId: string;
  readonly accountId: string;
  readonly name: string;
  readonly fullName: string;
  readonly administrator: boolean;
  readonly roles: ReadonlySet<Role>;
  readonly engineerSomewhere: boolean;
}

/** Who holds this token, with the roles on a project; null where it is none, or has run out, or the account is blocked. */
export async function sessionOf(token: string, projectId: string | null): Promise<SignedIn | null> {
  if (token === '') return null;
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT s.id, s.account_id, a.name, a.full_name, a.administrator, m.roles,
       s.seen_at < NOW(3) - INTERVAL 1 MINUTE AS stale,
       EXISTS (SELECT 1 FROM members e WHERE e.account_id = a.id AND FIND_IN_SET('engineer', e.roles)) AS engineer
     FROM sessions s JOIN accounts a ON a.id = s.account_id
     LEFT JOIN members m ON m.account_id = a.id AND m.project_id = ?
     WHERE s.token_hash = ? AND a.blocked_at IS NULL
       AND s.seen_at >= NOW(3) - INTERVAL ? HOUR AND s.begun_at >= NOW(3) - INTERVAL ? HOUR`,
    [projectId ?? '', digestOfToken(token), sessionLimits.idleH, sessionLimits.wholeH],
  );
  if (rows.length === 0) return null;
  const [row] = rows;
  if (row.stale) await pool().query('UPDATE sessions SET seen_at = NOW(3) WHERE id = ?', [row.id]);
  return {
    sessionId: row.id,
    accountId: row.account_id,
    name: row.name,
    fullName: row.full_name,
    administrator: Boolean(row.administrator),
    roles: rolesIn(row.roles),
    engineerSomewhere: Boolean(row.engineer),
  };
}

export interface SessionCard {
  readonly id: string;
  readonly begunAt: string;
  readonly seenAt: string;
  readonly address: string;
  readonly browser: string;
}

export async function sessionsOf(accountId: string): Promise<SessionCard[]> {
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT id, begun_at, seen_at, address, browser FROM sessions WHERE account_id = ?
       AND seen_at >= NOW(3) - INTERVAL ? HOUR AND begun_at >= NOW(3) - INTERVAL ? HOUR ORDER BY seen_at DESC`,
    [accountId, sessionLimits.idleH, sessionLimits.wholeH],
  );
  return rows.map((row) => ({
    id: row.id,
    begunAt: (row.begun_at as Date).toISOString(),
    seenAt: (row.seen_at as Date).toISOString(),
    address: row.address,
    browser: row.browser,
  }));
}

/** Ends one of one's own sessions. */
export async function endSession(accountId: string, sessionId: string): Promise<void> {
  const [result] = await pool().query('DELETE FROM sessions WHERE id = ? AND account_id = ?', [sessionId, accountId]);
  if ((result as { affectedRows: number }).affectedRows === 0) throw notFound('This session');
}

/** All sessions of an account, less one that goes on. */
export async function endSessions(accountId: string, except = ''): Promise<void> {
  await pool().query('DELETE FROM sessions WHERE account_id = ? AND id <> ?', [accountId, except]);
}
