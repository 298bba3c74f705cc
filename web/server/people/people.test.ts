/** Accounts, sessions, one-time codes, lock-out, roles, the audit log: in a real database. */
import { join } from 'node:path';
import { Secret, TOTP } from 'otpauth';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { closePool, pool } from '../database';
import { migrate } from '../migrate';
import { createProject, listProjects } from '../projects';
import {
  acceptInvitation,
  accountSchema,
  addAccount,
  changeAccount,
  changePassword,
  hasAdministrator,
  invitationFor,
  listAccounts,
  oneTimeCodes,
  signIn,
} from './accounts';
import { auditCsv, auditRows, note, type Doer } from './audit';
import { recoveryCodes, stepOf } from './codes';
import { lockS } from './guesses';
import { membersOf, setMember } from './members';
import { listensAt, modeOf, trustsProxy } from './mode';
import { fits, hashOf, weakness } from './passwords';
import { authored, mayCarryPasswords, nameFor, nobody } from './person';
import { beginSession, cookieName, endSession, sessionCookie, sessionOf, sessionsOf, tokenIn } from './sessions';
import { digestOfToken, locked, newToken, unlocked } from './tokens';

const doer: Doer = { accountId: null, name: 'test', address: '192.0.2.1' };
const secret = process.env.MESURA_SECRET;
beforeAll(async () => {
  process.env.MESURA_SECRET = 'a secret of the tests that is long enough';
  await migrate(join(import.meta.dirname, '../migrations'), process.env.MESURA_DATABASE_URL!);
});
afterAll(async () => {
  if (secret === undefined) delete process.env.MESURA_SECRET;
  else process.env.MESURA_SECRET = secret;
  await closePool();
});

let count = 0;
const good = 'quince lattice over brine';
/** An account with a password, each with a name of its own. */
async function account(over: { administrator?: boolean; fullName?: string } = {}) {
  const name = `person${++count}`;
  const { id, invitation } = await addAccount(
    accountSchema.parse({ name, fullName: over.fullName ?? `Person ${count}`, administrator: over.administrator }),
    doer,
  );
  await acceptInvitation(invitation, good, '192.0.2.1');
  return { id, name, doer: { ...doer, accountId: id, name: `Person ${count}` } };
}
const address = () => `198.51.100.${(++count % 250) + 1}`;
const enter = (name: string, password = good, code?: string, from = address()) =>
  signIn({ name, password, code }, from, 'test browser');

describe('whether people sign in', () => {
  it('is left to the owner on loopback, and never where the desk is reached from elsewhere', () => {
    expect(modeOf({})).toBe('ownDesk');
    expect(modeOf({ MESURA_LISTEN: '127.0.0.1' })).toBe('ownDesk');
    expect(modeOf({ MESURA_ACCOUNTS: 'required' })).toBe('accounts');
    for (const env of [
      { MESURA_LISTEN: '0.0.0.0' },
      { MESURA_LISTEN: '192.0.2.10' },
      { MESURA_LISTEN: '::' },
      { MESURA_LISTEN: '127.0.0.1.example' },
      { MESURA_HOSTS: 'desk.example' },
    ])
      expect(modeOf(env), JSON.stringify(env)).toBe('accounts');
    expect(() => modeOf({ MESURA_ACCOUNTS: 'yes' })).toThrow(/must be "required"/);
    expect([listensAt({}), trustsProxy({}), trustsProxy({ MESURA_PROXY: 'trusted' })]).toEqual([
      '127.0.0.1',
      false,
      true,
    ]);
    expect(() => trustsProxy({ MESURA_PROXY: 'yes' })).toThrow(/must be "trusted"/);
  });
  it('passwords go over TLS, or stay on this machine', () => {
    const heads = (over: Record<string, string>) => new Headers(over);
    expect(mayCarryPasswords(heads({ host: '127.0.0.1:3000' }))).toBe(true);
    expect(mayCarryPasswords(heads({ host: 'localhost:3000' }))).toBe(true);
    expect(mayCarryPasswords(heads({ host: 'desk.example' }))).toBe(false);
    expect(mayCarryPasswords(heads({ host: '127.0.0.1.example' }))).toBe(false);
    expect(mayCarryPasswords(heads({ host: 'desk.example', 'x-mesura-secure': '1' }))).toBe(true);
  });
  it('who is signed in signs by the account, whatever is sent', () => {
    const signed = { ...nobody, signedIn: true, name: 'Astrid Vale' };
    expect(nameFor(signed, 'somebody else')).toBe('Astrid Vale');
    expect(nameFor(nobody, '  Bo Harrow ')).toBe('Bo Harrow');
    expect(nameFor(nobody)).toBe('engineer');
    expect(authored({ author: 'x', a: 1 }, signed)).toEqual({ author: 'Astrid Vale', a: 1 });
    expect(authored({ author: 'x' }, nobody)).toEqual({ author: 'x' });
    expect(authored(null, signed)).toBeNull();
  });
});

describe('passwords', () => {
  it('are kept as Argon2id, with a salt of their own', async () => {
    const [p, q] = await Promise.all([hashOf(good), hashOf(good)]);
    expect(p).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
    expect(p).not.toBe(q);
    expect(await fits(p, good)).toBe(true);
    expect(await fits(p, `${good} `)).toBe(false);
    expect(await fits(null, 'nobody has this password')).toBe(false);
    // The same letters, however they were typed.
    expect(await fits(await hashOf('caf\u00e9 lattice over brine'), 'cafe\u0301 lattice over brine')).toBe(true);
  });
  it('are long, and not easily guessed; nothing else is asked of them', async () => {
    for (const weak of ['short', 'elevenchars', 'password1234', 'aaaaaaaaaaaaaaaa', 'qwertyuiopasdf', 'x'.repeat(129)])
      expect(await weakness(weak, []), weak).not.toBeNull();
    for (const fine of [good, 'correct horse battery staple', 'Ünïcödé ist erlaubt hier', ' spaces count as well '])
      expect(await weakness(fine, []), fine).toBeNull();
    expect(await weakness('astridvale12', ['astrid', 'Astrid Vale'])).not.toBeNull();
  });
  it('many at once wait for each other, and too many are sent away', async () => {
    const all = await Promise.allSettled(Array.from({ length: 60 }, () => fits(null, 'x')));
    expect(all.filter(({ status }) => status === 'fulfilled').length).toBeGreaterThanOrEqual(44);
    expect(all.some(({ status }) => status === 'rejected')).toBe(true);
    expect(await fits(null, 'x')).toBe(false);
  });
});

describe('one-time codes', () => {
  it('are those of RFC 6238, appendix B (the last six of its eight digits), once each', () => {
    const seed = Secret.fromUTF8('12345678901234567890').base32;
    for (const [seconds, code] of [
      [59, '287082'],
      [1111111109, '081804'],
      [1111111111, '050471'],
      [1234567890, '005924'],
      [2000000000, '279037'],
    ] as const) {
      const step = Math.floor(seconds / 30);
      expect(stepOf(seed, code, 0, seconds * 1000)).toBe(step);
      expect(stepOf(seed, `${code.slice(0, 3)} ${code.slice(3)}`, 0, seconds * 1000)).toBe(step);
      // One step early or late still counts, two do not; used once, it does not.
      expect(stepOf(seed, code, 0, (seconds + 30) * 1000)).toBe(step);
      expect(stepOf(seed, code, 0, (seconds + 75) * 1000)).toBeNull();
      expect(stepOf(seed, code, step, seconds * 1000)).toBeNull();
    }
    for (const code of ['', '28708', 'abcdef', '2870822', '000000']) expect(stepOf(seed, code, 0, 59_000)).toBeNull();
    expect(new Set(recoveryCodes()).size).toBe(10);
  });
  it('are kept under the secret of the installation', () => {
    const stored = locked('JBSWY3DP');
    expect(stored).not.toContain('JBSWY3DP');
    expect(unlocked(stored)).toBe('JBSWY3DP');
    expect(unlocked(`${stored.slice(0, -2)}xx`)).toBeNull();
    process.env.MESURA_SECRET = 'another secret that is also long enough';
    expect(unlocked(stored)).toBeNull();
    process.env.MESURA_SECRET = 'short';
    expect(unlocked(stored)).toBeNull();
    expect(() => locked('x')).toThrow();
    process.env.MESURA_SECRET = 'a secret of the tests that is long enough';
  });
  it('are put on with a proof, asked for at signing in, and count once; a recovery code helps once', async () => {
    const { name, doer: who } = await account();
    const begun = await oneTimeCodes({ step: 'begin', password: good }, who);
    expect(begun.address).toMatch(/^otpauth:\/\/totp\/Mesura:.*secret=/);
    const totp = new TOTP({ secret: Secret.fromBase32(begun.secret!) });
    await expect(
      oneTimeCodes({ step: 'confirm', password: good, secret: begun.secret!, code: '000000' }, who),
    ).rejects.toMatchObject({ code: 'codes.code' });
    await expect(oneTimeCodes({ step: 'begin', password: 'wrong password' }, who)).rejects.toMatchObject({
      code: 'password.wrong',
    });
    const { recovery } = await oneTimeCodes(
      { step: 'confirm', password: good, secret: begun.secret!, code: totp.generate() },
      who,
    );
    expect(recovery).toHaveLength(10);
    await expect(enter(name)).rejects.toMatchObject({ status: 401, code: 'signIn.code' });
    await expect(enter(name, good, '123')).rejects.toMatchObject({ code: 'signIn.code' });
    const code = totp.generate();
    expect(await enter(name, good, code)).toMatch(/^[\w-]{43}$/);
    await expect(enter(name, good, code)).rejects.toMatchObject({ code: 'signIn.code' });
    expect(await enter(name, good, recovery![0].toUpperCase())).toBeTruthy();
    await expect(enter(name, good, recovery![0])).rejects.toMatchObject({ code: 'signIn.code' });
    await oneTimeCodes({ step: 'off', password: good }, who);
    expect(await enter(name)).toBeTruthy();
  });
});

describe('signing in', () => {
  it('begins a session whose token only its browser knows', async () => {
    const { id, name } = await account({ fullName: 'Astrid Vale' });
    const token = await enter(name.toUpperCase());
    const session = (await sessionOf(token, null))!;
    expect(session).toMatchObject({ accountId: id, fullName: 'Astrid Vale', administrator: false });
    const [stored] = (await pool().query('SELECT * FROM sessions WHERE account_id = ?', [id]))[0] as {
      token_hash: string;
    }[];
    expect(JSON.stringify(stored)).not.toContain(token);
    expect(stored.token_hash).toBe(digestOfToken(token));
    expect(await sessionOf(newToken(), null)).toBeNull();
    expect(await sessionOf('', null)).toBeNull();
  });
  it('tells nobody whether it was the name or the password', async () => {
    const { name } = await account();
    const refusal = (of: Promise<unknown>) =>
      of.then(
        () => null,
        ({ status, code, message }) => ({ status, code, message }),
      );
    const wrong = await refusal(enter(name, 'not the password'));
    expect(wrong).toMatchObject({ status: 401, code: 'signIn.refused' });
    expect(await refusal(enter('nobody-of-this-name', 'not the password'))).toEqual(wrong);
    expect(await refusal(enter("x' OR '1'='1", "x' OR '1'='1"))).toEqual(wrong);
  });
  it('locks out who guesses, for a while that grows; the right password does not open it then', async () => {
    expect([4, 5, 6, 7, 8, 30].map((failures) => lockS(failures, 5))).toEqual([0, 60, 120, 240, 480, 3600]);
    const { name } = await account();
    for (let k = 0; k < 5; k++)
      await expect(enter(name, `guess ${k}`)).rejects.toMatchObject({ code: 'signIn.refused' });
    await expect(enter(name)).rejects.toMatchObject({ status: 429, code: 'signIn.locked' });
    // Unknown names too: nothing is learnt from it.
    for (let k = 0; k < 5; k++)
      await expect(enter('nobody-else', `guess ${k}`)).rejects.toMatchObject({ code: 'signIn.refused' });
    await expect(enter('nobody-else', 'x')).rejects.toMatchObject({ code: 'signIn.locked' });
    await pool().query('UPDATE guesses SET until_at = NOW(3) - INTERVAL 1 SECOND');
    expect(await enter(name)).toBeTruthy();
    // Free again: the count begins anew.
    await expect(enter(name, 'wrong')).rejects.toMatchObject({ code: 'signIn.refused' });
    expect(await enter(name)).toBeTruthy();
  });
  it('many guesses at once count as many', async () => {
    const { name } = await account();
    const all = await Promise.allSettled(Array.from({ length: 12 }, (_, k) => enter(name, `guess ${k}`)));
    expect(all.every(({ status }) => status === 'rejected')).toBe(true);
    await expect(enter(name)).rejects.toMatchObject({ code: 'signIn.locked' });
  });
  it('locks an address that tries many names', async () => {
    const from = '203.0.113.9';
    for (let k = 0; k < 60; k++) await enter(`name${k}-${count}`, 'x', undefined, from).catch(() => undefined);
    const { name } = await account();
    await expect(enter(name, good, undefined, from)).rejects.toMatchObject({ code: 'signIn.locked' });
    expect(await enter(name)).toBeTruthy();
  });
  it('without the code takes no wrong code back: codes cannot be guessed by asking in between', async () => {
    const { name, doer: who } = await account();
    const { secret: seed } = await oneTimeCodes({ step: 'begin', password: good }, who);
    const totp = new TOTP({ secret: Secret.fromBase32(seed!) });
    await oneTimeCodes({ step: 'confirm', password: good, secret: seed!, code: totp.generate() }, who);
    for (let k = 0; k < 5; k++) {
      await enter(name, good, '000000').catch(() => undefined);
      await enter(name, good).catch(() => undefined);
    }
    await expect(enter(name, good, totp.generate())).rejects.toMatchObject({ code: 'signIn.locked' });
  });
});

describe('sessions', () => {
  it('stand in a cookie that scripts do not see, and that is bound to its host by TLS', () => {
    expect(sessionCookie('t', false)).toBe('mesura=t; Path=/; HttpOnly; SameSite=Strict; Max-Age=604800');
    expect(sessionCookie('t', true)).toBe('__Host-mesura=t; Path=/; HttpOnly; SameSite=Strict; Max-Age=604800; Secure');
    expect(sessionCookie('', true)).toContain('Max-Age=0');
    const token = newToken();
    expect(tokenIn(`a=b; ${cookieName(false)}=${token}; c=d`, false)).toBe(token);
    // A cookie that came without TLS says nothing where there is TLS.
    expect(tokenIn(`mesura=${token}`, true)).toBe('');
    for (const cookies of [null, '', 'mesura', 'mesura=', 'mesura=short', `mesura=${token}x`])
      expect(tokenIn(cookies, false)).toBe('');
  });
  it('are seen and ended by their owner only, and run out', async () => {
    const [one, other] = [await account(), await account()];
    const token = await enter(one.name);
    const second = await beginSession(one.id, '192.0.2.5', 'another browser');
    const list = await sessionsOf(one.id);
    expect(list.map(({ browser }) => browser).sort()).toEqual(['another browser', 'test browser']);
    await expect(endSession(other.id, list[0].id)).rejects.toMatchObject({ status: 404 });
    await endSession(one.id, (await sessionOf(second, null))!.sessionId);
    expect(await sessionOf(second, null)).toBeNull();
    await pool().query('UPDATE sessions SET seen_at = NOW(3) - INTERVAL 13 HOUR WHERE account_id = ?', [one.id]);
    expect(await sessionOf(token, null)).toBeNull();
    const third = await enter(one.name);
    await pool().query('UPDATE sessions SET begun_at = NOW(3) - INTERVAL 8 DAY WHERE account_id = ?', [one.id]);
    expect(await sessionOf(third, null)).toBeNull();
  });
  it('end with a new password, but for the one that it was set in; and with the account', async () => {
    const { id, name, doer: who } = await account();
    const [here, there] = [await enter(name), await enter(name)];
    const { sessionId } = (await sessionOf(here, null))!;
    await expect(
      changePassword(sessionId, { before: 'wrong one here', after: 'marrow kelp tide lantern' }, who),
    ).rejects.toMatchObject({ code: 'password.wrong' });
    await expect(changePassword(sessionId, { before: good, after: 'password1234' }, who)).rejects.toMatchObject({
      code: 'password.weak',
    });
    await changePassword(sessionId, { before: good, after: 'marrow kelp tide lantern' }, who);
    expect(await sessionOf(here, null)).not.toBeNull();
    expect(await sessionOf(there, null)).toBeNull();
    await expect(enter(name)).rejects.toMatchObject({ code: 'signIn.refused' });
    const now = await enter(name, 'marrow kelp tide lantern');
    await changeAccount(id, { blocked: true }, doer);
    expect(await sessionOf(now, null)).toBeNull();
    await expect(enter(name, 'marrow kelp tide lantern')).rejects.toMatchObject({ code: 'signIn.refused' });
  });
});

describe('accounts', () => {
  it('have no password until their owner sets one, by an invitation that counts once and not for ever', async () => {
    const { id, invitation } = await addAccount(accountSchema.parse({ name: 'cleo', fullName: 'Cleo Marsh' }), doer);
    await expect(enter('cleo', '')).rejects.toBeTruthy();
    await expect(enter('cleo', 'nobody has this password')).rejects.toMatchObject({ code: 'signIn.refused' });
    expect(await invitationFor(invitation)).toEqual({ name: 'cleo', fullName: 'Cleo Marsh' });
    await expect(acceptInvitation(invitation, 'cleomarsh1234', 'x')).rejects.toMatchObject({ code: 'password.weak' });
    await expect(acceptInvitation(newToken(), good, 'x')).rejects.toMatchObject({ status: 404 });
    const twice = await Promise.allSettled([
      acceptInvitation(invitation, good, 'x'),
      acceptInvitation(invitation, good, 'x'),
    ]);
    expect(twice.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
    await expect(invitationFor(invitation)).rejects.toMatchObject({ code: 'invitation' });
    const { invitation: anew } = await changeAccount(id, { invite: true }, doer);
    await pool().query('UPDATE invitations SET ends_at = NOW(3) - INTERVAL 1 SECOND WHERE account_id = ?', [id]);
    await expect(acceptInvitation(anew!, good, 'x')).rejects.toMatchObject({ code: 'invitation' });
    await expect(addAccount(accountSchema.parse({ name: 'CLEO', fullName: 'x' }), doer)).rejects.toMatchObject({
      code: 'account.name',
    });
    for (const name of ['', 'x', 'a b', '<b>', 'x'.repeat(81)])
      expect(accountSchema.safeParse({ name, fullName: 'x' }).success, name).toBe(false);
    expect((await listAccounts()).some((each) => JSON.stringify(each).includes('argon2'))).toBe(false);
  });
  it('always have somebody who administers', async () => {
    await pool().query('UPDATE accounts SET administrator = FALSE');
    expect(await hasAdministrator()).toBe(false);
    const first = await account({ administrator: true });
    const refused = { status: 409, code: 'account.last' };
    await expect(changeAccount(first.id, { administrator: false }, doer)).rejects.toMatchObject(refused);
    await expect(changeAccount(first.id, { blocked: true }, doer)).rejects.toMatchObject(refused);
    const second = await account({ administrator: true });
    // At once: one of them stays.
    const both = await Promise.allSettled([
      changeAccount(first.id, { administrator: false }, doer),
      changeAccount(second.id, { administrator: false }, doer),
    ]);
    expect(both.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
    expect(await hasAdministrator()).toBe(true);
  });
});

describe('members of a project', () => {
  it('see it; whoever begins one administers it; the last one who does stays', async () => {
    const [owner, other] = [await account(), await account()];
    const id = await createProject('Tollgate', undefined, '', owner.id);
    expect((await listProjects(owner.id)).map((project) => project.id)).toEqual([id]);
    expect(await listProjects(other.id)).toEqual([]);
    expect((await membersOf(id))[0].roles).toContain('administrator');
    await setMember(id, { name: other.name, roles: ['viewer', 'checker'] }, doer);
    expect((await listProjects(other.id)).map((project) => project.id)).toEqual([id]);
    expect((await sessionOf(await enter(other.name), id))!.roles).toEqual(new Set(['viewer', 'checker']));
    await expect(setMember(id, { name: owner.name, roles: ['engineer'] }, doer)).rejects.toMatchObject({
      code: 'member.last',
    });
    await expect(setMember(id, { name: owner.name, roles: [] }, doer)).rejects.toMatchObject({ code: 'member.last' });
    await expect(setMember(id, { name: 'nobody-here', roles: ['viewer'] }, doer)).rejects.toMatchObject({
      status: 404,
    });
    expect(await setMember(id, { name: other.name, roles: [] }, doer)).toHaveLength(1);
    expect(await listProjects(other.id)).toEqual([]);
  });
});

describe('the audit log', () => {
  it('says who did what, when and from where, without secrets, and is only added to', async () => {
    const { name } = await account();
    await enter(name, 'a wrong password').catch(() => undefined);
    await enter(name);
    const rows = await auditRows(null, null);
    expect(rows.slice(0, 2).map(({ action, target }) => [action, target])).toEqual([
      ['signedIn', name],
      ['signInRefused', name],
    ]);
    expect(rows[0].address).toMatch(/^198\.51\.100\./);
    const text = await auditCsv(null);
    for (const word of [good, 'a wrong password', 'argon2']) expect(text).not.toContain(word);
    expect(text.split('\r\n')[0]).toBe('id,at,account,name,action,project,target,detail,address');
    await note({ ...doer, name: '=cmd()' }, { action: 'refused', target: '@SUM(1)' });
    expect(await auditCsv(null)).toMatch(/'=cmd\(\).*'@SUM\(1\)/);
    await expect(pool().query("UPDATE audit_log SET name = 'forged'")).rejects.toThrow(/cannot be changed/);
    await expect(pool().query('DELETE FROM audit_log')).rejects.toThrow(/cannot be shortened/);
  });
});
