/** Tokens by which programs work in the name of a person: shown once, kept as digests, for some purposes, up to a day. */
import type { RowDataPacket } from 'mysql2';
import { z } from 'zod';
import { pool } from '../database';
import { notFound, ServiceError } from '../errors';
import { scopes, type Scope } from '../people/permissions';
import { rolesIn } from '../people/roles';
import type { SignedIn } from '../people/sessions';
import { digestOfToken, newToken } from '../people/tokens';
import { newId } from '../projects';
import { plainText } from '../texts';

/** By which a token is known when it turns up where it should not be. */
const prefix = 'mesura_';
const longestDays = 366;
const mostTokens = 40;

export const tokenSchema = z.strictObject({
  label: plainText(80),
  scopes: z.array(z.enum(scopes)).min(1).max(scopes.length),
  days: z.int().min(1).max(longestDays),
});

export interface TokenCard {
  readonly id: string;
  readonly label: string;
  readonly scopes: readonly Scope[];
  readonly createdAt: string;
  readonly endsAt: string;
  readonly usedAt: string | null;
}

const scopesIn = (text: string): Scope[] => scopes.filter((scope) => text.split(',').includes(scope));

/** The token itself is in the answer and nowhere else. Error: `tokens.many`. */
export async function makeToken(accountId: string, { label, scopes: asked, days }: z.infer<typeof tokenSchema>) {
  if ((await tokensOf(accountId)).length >= mostTokens)
    throw new ServiceError(409, 'tokens.many', `Nobody has more than ${mostTokens} tokens: end one first.`);
  const token = `${prefix}${newToken()}`;
  await pool().query(
    'INSERT INTO api_tokens (id, token_hash, account_id, label, scopes, ends_at) VALUES (?, ?, ?, ?, ?, NOW(3) + INTERVAL ? DAY)',
    [newId(), digestOfToken(token), accountId, label, [...new Set(asked)].join(','), days],
  );
  return { token, tokens: await tokensOf(accountId) };
}

/** Also those that have run out, for a month: so that their owner sees why a program stopped. */
export async function tokensOf(accountId: string): Promise<TokenCard[]> {
  await pool().query('DELETE FROM api_tokens WHERE account_id = ? AND ends_at < NOW(3) - INTERVAL 30 DAY', [accountId]);
  const [rows] = await pool().query<RowDataPacket[]>(
    'SELECT id, label, scopes, created_at, ends_at, used_at FROM api_tokens WHERE account_id = ? ORDER BY created_at, id',
    [accountId],
  );
  return rows.map((row) => ({
    id: row.id,
    label: row.label,
    scopes: scopesIn(row.scopes),
    createdAt: (row.created_at as Date).toISOString(),
    endsAt: (row.ends_at as Date).toISOString(),
    usedAt: (row.used_at as Date | null)?.toISOString() ?? null,
  }));
}

export async function endToken(accountId: string, id: string): Promise<void> {
  const [result] = await pool().query('DELETE FROM api_tokens WHERE id = ? AND account_id = ?', [id, accountId]);
  if ((result as { affectedRows: number }).affectedRows === 0) throw notFound('This token');
}

/** The token that a request carries; null where it carries none. */
export function bearerIn(head: string | null): string | null {
  return /^Bearer +(\S{1,200})$/i.exec(head ?? '')?.[1] ?? null;
}

/** Whose token it is, with the roles on a project; null where it is none, has run out, or its owner is blocked. */
export async function ownerOf(
  token: string,
  projectId: string | null,
): Promise<(SignedIn & { readonly scopes: ReadonlySet<Scope> }) | null> {
  if (!token.startsWith(prefix)) return null;
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT t.id, t.account_id, t.scopes, a.name, a.full_name, a.administrator, m.roles,
       t.used_at IS NULL OR t.used_at < NOW(3) - INTERVAL 1 MINUTE AS stale,
       EXISTS (SELECT 1 FROM members e WHERE e.account_id = a.id AND FIND_IN_SET('engineer', e.roles)) AS engineer
     FROM api_tokens t JOIN accounts a ON a.id = t.account_id
     LEFT JOIN members m ON m.account_id = a.id AND m.project_id = ?
     WHERE t.token_hash = ? AND a.blocked_at IS NULL AND t.ends_at > NOW(3)`,
    [projectId ?? '', digestOfToken(token)],
  );
  if (rows.length === 0) return null;
  const [row] = rows;
  if (row.stale) await pool().query('UPDATE api_tokens SET used_at = NOW(3) WHERE id = ?', [row.id]);
  return {
    sessionId: '',
    accountId: row.account_id,
    name: row.name,
    fullName: row.full_name,
    administrator: Boolean(row.administrator),
    roles: rolesIn(row.roles),
    engineerSomewhere: Boolean(row.engineer),
    scopes: new Set(scopesIn(row.scopes)),
  };
}
