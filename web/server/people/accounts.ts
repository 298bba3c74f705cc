/**
 * Accounts: added by an administrator of the installation, or the first one at the terminal. Nobody is given a password: an invitation, once and for three days, leads
 * to a page where its owner sets one. The same way helps who has forgotten it.
 */
import type { RowDataPacket } from 'mysql2';
import { z } from 'zod';
import { pool, transaction } from '../database';
import { notFound, ServiceError } from '../errors';
import { newId } from '../projects';
import { plainText } from '../texts';
import { note, type Doer } from './audit';
import { codeAddress, newSecret, plainRecovery, recoveryCodes, stepOf } from './codes';
import { forgive, takeAttempt, takeBack } from './guesses';
import { Busy, fits, hashOf, weakness } from './passwords';
import { beginSession, endSessions } from './sessions';
import { canLock, digestOfToken, locked, newToken, unlocked } from './tokens';

const invitationH = 72;

export interface AccountCard {
  readonly id: string;
  readonly name: string;
  readonly fullName: string;
  readonly administrator: boolean;
  readonly blocked: boolean;
  readonly hasPassword: boolean;
  readonly hasCodes: boolean;
  readonly createdAt: string;
}

const card = (row: RowDataPacket): AccountCard => ({
  id: row.id,
  name: row.name,
  fullName: row.full_name,
  administrator: Boolean(row.administrator),
  blocked: row.blocked_at !== null,
  hasPassword: row.password_hash !== null,
  hasCodes: row.code_secret !== null,
  createdAt: (row.created_at as Date).toISOString(),
});

export async function listAccounts(): Promise<AccountCard[]> {
  const [rows] = await pool().query<RowDataPacket[]>('SELECT * FROM accounts ORDER BY name');
  return rows.map(card);
}

export async function hasAdministrator(): Promise<boolean> {
  const [rows] = await pool().query<RowDataPacket[]>(
    'SELECT 1 FROM accounts WHERE administrator AND blocked_at IS NULL LIMIT 1',
  );
  return rows.length > 0;
}

async function accountRow(where: 'id' | 'name', value: string): Promise<RowDataPacket | null> {
  const [rows] = await pool().query<RowDataPacket[]>(`SELECT * FROM accounts WHERE ${where} = ?`, [value]);
  return rows[0] ?? null;
}

export async function accountCard(id: string): Promise<AccountCard> {
  const row = await accountRow('id', id);
  if (!row) throw notFound('This account');
  return card(row);
}

export const accountSchema = z.object({
  /** What one signs in with. */
  name: plainText(80)
    .transform((text) => text.trim())
    .refine((text) => /^[\p{L}\p{N}._@+-]{2,80}$/u.test(text)),
  /** What stands beside what one does. */
  fullName: plainText(80)
    .transform((text) => text.trim())
    .refine((text) => text.length > 0),
  administrator: z.boolean().default(false),
});

/** Adds an account without a password, and invites its owner. Error: `account.name` where the name is taken. */
export async function addAccount(
  body: z.infer<typeof accountSchema>,
  doer: Doer,
): Promise<{ id: string; invitation: string }> {
  const id = newId();
  const invitation = newToken();
  try {
    await transaction(async (connection) => {
      await connection.query('INSERT INTO accounts (id, name, full_name, administrator) VALUES (?)', [
        [id, body.name, body.fullName, body.administrator],
      ]);
      await connection.query(
        'INSERT INTO invitations (token_hash, account_id, ends_at) VALUES (?, ?, NOW(3) + INTERVAL ? HOUR)',
        [digestOfToken(invitation), id, invitationH],
      );
      await note(
        doer,
        { action: 'accountAdded', target: body.name, detail: body.administrator ? 'administrator' : '' },
        connection,
      );
    });
  } catch (error) {
    if ((error as { code?: string }).code === 'ER_DUP_ENTRY')
      throw new ServiceError(409, 'account.name', `There is an account "${body.name}" already.`);
    throw error;
  }
  return { id, invitation };
}

export const accountChangeSchema = z.object({
  fullName: accountSchema.shape.fullName.optional(),
  administrator: z.boolean().optional(),
  blocked: z.boolean().optional(),
  /** Takes the one-time codes off, for who has lost them. */
  withoutCodes: z.literal(true).optional(),
  /** A new invitation: the password of before stays until it is used. */
  invite: z.literal(true).optional(),
});

/** Error: `account.last` where nobody would be left who administers. */
export async function changeAccount(
  id: string,
  change: z.infer<typeof accountChangeSchema>,
  doer: Doer,
): Promise<{ invitation: string | null }> {
  const before = await accountCard(id);
  const invitation = change.invite ? newToken() : null;
  await transaction(async (connection) => {
    // Locks them all: two administrators must not take each other away at once.
    const [administrators] = await connection.query<RowDataPacket[]>(
      'SELECT id FROM accounts WHERE administrator AND blocked_at IS NULL AND password_hash IS NOT NULL FOR UPDATE',
    );
    const others = administrators.filter((row) => row.id !== id);
    if (before.administrator && others.length === 0 && (change.administrator === false || change.blocked === true))
      throw new ServiceError(409, 'account.last', `Without ${before.name} nobody would be left to administer.`);
    if (change.fullName !== undefined)
      await connection.query('UPDATE accounts SET full_name = ? WHERE id = ?', [change.fullName, id]);
    if (change.administrator !== undefined)
      await connection.query('UPDATE accounts SET administrator = ? WHERE id = ?', [change.administrator, id]);
    if (change.blocked !== undefined)
      await connection.query('UPDATE accounts SET blocked_at = ? WHERE id = ?', [
        change.blocked ? new Date() : null,
        id,
      ]);
    if (change.withoutCodes) {
      await connection.query('UPDATE accounts SET code_secret = NULL, code_step = 0 WHERE id = ?', [id]);
      await connection.query('DELETE FROM recovery_codes WHERE account_id = ?', [id]);
    }
    // Who is shut out, or has lost what proves him, has no business in sessions of before.
    if (change.blocked || change.withoutCodes || change.administrator === false)
      await connection.query('DELETE FROM sessions WHERE account_id = ?', [id]);
    if (invitation !== null) {
      await connection.query('DELETE FROM invitations WHERE account_id = ?', [id]);
      await connection.query(
        'INSERT INTO invitations (token_hash, account_id, ends_at) VALUES (?, ?, NOW(3) + INTERVAL ? HOUR)',
        [digestOfToken(invitation), id, invitationH],
      );
    }
    const { invite: _, ...told } = change;
    if (Object.keys(told).length > 0)
      await note(
        doer,
        { action: 'accountChanged', target: before.name, detail: JSON.stringify(told).slice(0, 400) },
        connection,
      );
    if (invitation !== null) await note(doer, { action: 'accountInvited', target: before.name }, connection);
  });
  return { invitation };
}

const gone = () =>
  new ServiceError(404, 'invitation', 'This invitation has been used, or has run out. Ask for another one.');

async function invited(token: string): Promise<RowDataPacket> {
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT a.id, a.name, a.full_name FROM invitations i JOIN accounts a ON a.id = i.account_id
     WHERE i.token_hash = ? AND i.ends_at > NOW(3) AND a.blocked_at IS NULL`,
    [digestOfToken(token)],
  );
  if (rows.length === 0) throw gone();
  return rows[0];
}

export async function invitationFor(token: string): Promise<{ name: string; fullName: string }> {
  const { name, full_name: fullName } = await invited(token);
  return { name, fullName };
}

/** Sets the password that an invitation leads to; it counts once, and ends all sessions. Errors: `invitation`, `password.weak`. */
export async function acceptInvitation(token: string, password: string, address: string): Promise<void> {
  const { id, name, full_name: fullName } = await invited(token);
  const hash = await newHash(password, [name, fullName]);
  await transaction(async (connection) => {
    const [used] = await connection.query('DELETE FROM invitations WHERE token_hash = ?', [digestOfToken(token)]);
    if ((used as { affectedRows: number }).affectedRows === 0) throw gone();
    await connection.query('UPDATE accounts SET password_hash = ? WHERE id = ?', [hash, id]);
    await connection.query('DELETE FROM sessions WHERE account_id = ?', [id]);
    await note(
      { accountId: id, name: fullName, address },
      { action: 'passwordSet', target: name, detail: 'by invitation' },
      connection,
    );
  });
}

async function newHash(password: string, about: readonly string[]): Promise<string> {
  const wrong = await weakness(password, about);
  if (wrong) throw new ServiceError(422, 'password.weak', wrong);
  return inPeace(() => hashOf(password));
}

/** Too many passwords at once are told as what they are. */
async function inPeace<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof Busy)
      throw new ServiceError(503, 'signIn.busy', 'Too many people sign in at once. Try again in a moment.');
    throw error;
  }
}

const refused = () =>
  new ServiceError(401, 'signIn.refused', 'Name and password do not belong together, or the account is blocked.');
const wait = (seconds: number) =>
  new ServiceError(
    429,
    'signIn.locked',
    `Too many attempts. Try again in ${seconds < 90 ? `${seconds} seconds` : `${Math.ceil(seconds / 60)} minutes`}.`,
    { seconds },
  );

export const signInSchema = z.object({
  name: z.string().min(1).max(200),
  password: z.string().min(1).max(400),
  code: z.string().max(40).optional(),
});

/** A session for who proves to be the owner of an account. Errors: `signIn.refused`, `signIn.locked`, `signIn.code` where a one-time code is asked for too. */
export async function signIn(
  { name, password, code }: z.infer<typeof signInSchema>,
  address: string,
  browser: string,
): Promise<string> {
  const left = await takeAttempt(name, address);
  const nobody: Doer = { accountId: null, name: name.slice(0, 80), address };
  if (left > 0) {
    await note(nobody, { action: 'signInLocked', target: name });
    throw wait(left);
  }
  const row = await accountRow('name', name.trim().slice(0, 80));
  const proven = await inPeace(() => fits(row?.password_hash ?? null, password));
  if (!row || !proven || row.blocked_at !== null) {
    await note(nobody, { action: 'signInRefused', target: name });
    throw refused();
  }
  const doer: Doer = { accountId: row.id, name: row.full_name, address };
  if (row.code_secret !== null) {
    if (!code?.trim()) {
      // The password was right: what is missing counts as no guess, and takes no wrong code away.
      await takeBack(name, address);
      throw new ServiceError(401, 'signIn.code', 'Type the one-time code that your authenticator shows.');
    }
    if (!(await codeFits(row, code))) {
      await note(nobody, { action: 'signInRefused', target: name, detail: 'one-time code' });
      throw new ServiceError(401, 'signIn.code', 'This code does not fit, or was used already.');
    }
  }
  await forgive(name, address);
  const token = await beginSession(row.id, address, browser);
  await note(doer, { action: 'signedIn', target: row.name });
  return token;
}

/** Each code counts once, also in two requests at a time. */
async function codeFits(row: RowDataPacket, code: string): Promise<boolean> {
  const secret = unlocked(row.code_secret);
  const step = secret === null ? null : stepOf(secret, code, Number(row.code_step), Date.now());
  const [result] =
    step === null
      ? await pool().query('DELETE FROM recovery_codes WHERE account_id = ? AND code_hash = ?', [
          row.id,
          digestOfToken(plainRecovery(code)),
        ])
      : await pool().query('UPDATE accounts SET code_step = ? WHERE id = ? AND code_step < ?', [step, row.id, step]);
  return (result as { affectedRows: number }).affectedRows === 1;
}

export const passwordChangeSchema = z.object({ before: z.string().max(400), after: z.string().max(400) });

/** A new password for one's own account; ends all other sessions. Errors: `signIn.refused`, `signIn.locked`, `password.weak`. */
export async function changePassword(
  sessionId: string,
  { before, after }: z.infer<typeof passwordChangeSchema>,
  doer: Doer,
): Promise<void> {
  const row = await proven(doer, before);
  const hash = await newHash(after, [row.name, row.full_name]);
  await pool().query('UPDATE accounts SET password_hash = ? WHERE id = ?', [hash, row.id]);
  await endSessions(row.id, sessionId);
  await note(doer, { action: 'passwordSet', target: row.name });
}

/** The account of who is signed in, once the password has been typed again. */
async function proven({ accountId, address }: Doer, password: string): Promise<RowDataPacket> {
  const row = await accountRow('id', accountId ?? '');
  if (!row) throw notFound('This account');
  const left = await takeAttempt(row.name, address);
  if (left > 0) throw wait(left);
  if (!(await inPeace(() => fits(row.password_hash, password))))
    throw new ServiceError(403, 'password.wrong', 'The password of now is another one.');
  await forgive(row.name, address);
  return row;
}

export const codesSchema = z.discriminatedUnion('step', [
  z.object({ step: z.literal('begin'), password: z.string().max(400) }),
  z.object({
    step: z.literal('confirm'),
    password: z.string().max(400),
    secret: z.string().max(80),
    code: z.string().max(20),
  }),
  z.object({ step: z.literal('off'), password: z.string().max(400) }),
]);

export interface CodesAnswer {
  readonly secret?: string;
  readonly address?: string;
  readonly recovery?: readonly string[];
}

/** Puts one-time codes on in two steps, the second with a code that proves that the authenticator has the secret; or takes them off. */
export async function oneTimeCodes(body: z.infer<typeof codesSchema>, doer: Doer): Promise<CodesAnswer> {
  const row = await proven(doer, body.password);
  if (body.step === 'off') {
    await pool().query('UPDATE accounts SET code_secret = NULL, code_step = 0 WHERE id = ?', [row.id]);
    await pool().query('DELETE FROM recovery_codes WHERE account_id = ?', [row.id]);
    await note(doer, { action: 'codesOff', target: row.name });
    return {};
  }
  if (!canLock())
    throw new ServiceError(
      409,
      'codes.secret',
      'One-time codes need a secret of the installation: set MESURA_SECRET to at least 32 characters.',
    );
  if (body.step === 'begin') {
    const secret = newSecret();
    return { secret, address: codeAddress(secret, row.name) };
  }
  if (!/^[A-Z2-7]{32}$/.test(body.secret) || stepOf(body.secret, body.code, 0, Date.now()) === null)
    throw new ServiceError(422, 'codes.code', 'This code does not fit. Is the clock of your telephone right?');
  const recovery = recoveryCodes();
  await transaction(async (connection) => {
    // The step of the proof may be used again: signing in comes next, and often within the same half minute.
    await connection.query('UPDATE accounts SET code_secret = ?, code_step = 0 WHERE id = ?', [
      locked(body.secret),
      row.id,
    ]);
    await connection.query('DELETE FROM recovery_codes WHERE account_id = ?', [row.id]);
    await connection.query('INSERT INTO recovery_codes (account_id, code_hash) VALUES ?', [
      recovery.map((code) => [row.id, digestOfToken(plainRecovery(code))]),
    ]);
    await note(doer, { action: 'codesOn', target: row.name }, connection);
  });
  return { recovery };
}
