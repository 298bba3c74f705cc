/** Accounts at the terminal, behind scripts/account.mjs: MESURA_DATABASE_URL names the database. */
import { readFileSync } from 'node:fs';
import { userInfo } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import type { RowDataPacket } from 'mysql2';
import { closePool, pool } from '../web/server/database';
import { migrate } from '../web/server/migrate';
import { accountSchema, addAccount, changeAccount, listAccounts } from '../web/server/people/accounts';
import { note, type Doer } from '../web/server/people/audit';
import { memberSchema, setMember } from '../web/server/people/members';
import { roles, type Role } from '../web/server/people/permissions';
import { setRoles } from '../web/server/people/roles';

const usage = `npm run account -- list
npm run account -- add NAME [--called "FULL NAME"] [--administrator] [--all-projects]
npm run account -- invite NAME                  a new invitation, for who has forgotten the password
npm run account -- roles NAME PROJECT ROLES     ${roles.join(', ')}; "none" takes them away

An account has no password until its owner sets one by the invitation, which counts once and for three days.`;

const doer: Doer = { accountId: null, name: `terminal (${userInfo().username})`, address: 'terminal' };

function linkOf(invitation: string): string {
  const dataDir = process.env.MESURA_DATA_DIR ?? join(import.meta.dirname, '../.data');
  let port = process.env.PORT ?? '3000';
  try {
    port = String((JSON.parse(readFileSync(join(dataDir, 'run.json'), 'utf8')) as { port: number }).port);
  } catch {
    // It does not run just now.
  }
  return `http://127.0.0.1:${port}/join/${invitation}`;
}

async function idOf(name: string): Promise<string> {
  const found = (await listAccounts()).find((account) => account.name.toLowerCase() === name.toLowerCase());
  if (!found) throw new Error(`There is no account "${name}".`);
  return found.id;
}

async function add(name: string, called: string | undefined, administrator: boolean, everywhere: boolean) {
  const body = accountSchema.safeParse({ name, fullName: called ?? name, administrator });
  if (!body.success)
    throw new Error('An account needs a name of 2 to 80 letters, digits or . _ @ + -, and the name of its owner.');
  const { id, invitation } = await addAccount(body.data, doer);
  if (everywhere) {
    const [projects] = await pool().query<RowDataPacket[]>('SELECT id FROM projects');
    for (const project of projects) {
      await setRoles(pool(), project.id, id, roles);
      await note(doer, { action: 'membersChanged', projectId: project.id, target: name, detail: roles.join(', ') });
    }
  }
  console.log(`${name} is added. The password is set here, once and within three days:\n  ${linkOf(invitation)}`);
}

async function setProjectRoles(name: string, project: string, list: string): Promise<void> {
  const [rows] = await pool().query<RowDataPacket[]>('SELECT id FROM projects WHERE id = ? OR name = ?', [
    project,
    project,
  ]);
  if (rows.length !== 1) throw new Error(`${rows.length} projects are called "${project}"; give the identifier.`);
  const named = list === 'none' ? [] : list.split(',').map((role) => role.trim());
  const body = memberSchema.safeParse({ name, roles: named as Role[] });
  if (!body.success) throw new Error(`Roles are ${roles.join(', ')}, parted by commas.`);
  const members = await setMember(rows[0].id, body.data, doer);
  for (const member of members) console.log(`${member.name}: ${member.roles.join(', ')}`);
}

try {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
      called: { type: 'string' },
      administrator: { type: 'boolean', default: false },
      'all-projects': { type: 'boolean', default: false },
    },
  });
  const [what, name, project, list] = positionals;
  await migrate(join(import.meta.dirname, '../web/server/migrations'), process.env.MESURA_OWNER_URL!);
  if (what === 'list')
    for (const account of await listAccounts())
      console.log(
        [
          account.name,
          account.fullName,
          account.blocked ? 'blocked' : account.hasPassword ? 'active' : 'invited',
          account.administrator ? 'administrator' : '',
          account.hasCodes ? 'one-time codes' : '',
        ]
          .filter(Boolean)
          .join(' · '),
      );
  else if (what === 'add' && name) await add(name, values.called, values.administrator, values['all-projects']);
  else if (what === 'invite' && name) {
    const { invitation } = await changeAccount(await idOf(name), { invite: true }, doer);
    console.log(`The password of ${name} is set here, once and within three days:\n  ${linkOf(invitation!)}`);
  } else if (what === 'roles' && name && project && list) await setProjectRoles(name, project, list);
  else {
    console.error(usage);
    process.exitCode = 2;
  }
} catch (error) {
  console.error((error as Error).message);
  process.exitCode = 1;
} finally {
  await closePool();
}
