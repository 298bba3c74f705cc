/** Who has which roles on a project. */
import type { RowDataPacket } from 'mysql2';
import { z } from 'zod';
import { pool, transaction } from '../database';
import { notFound, ServiceError } from '../errors';
import { projectRow } from '../projects';
import { note, type Doer } from './audit';
import { roles, type Role } from './permissions';
import { rolesIn, setRoles } from './roles';

export interface Member {
  readonly accountId: string;
  readonly name: string;
  readonly fullName: string;
  readonly roles: readonly Role[];
}

export async function membersOf(projectId: string): Promise<Member[]> {
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT a.id, a.name, a.full_name, m.roles FROM members m JOIN accounts a ON a.id = m.account_id
     WHERE m.project_id = ? ORDER BY a.full_name, a.id`,
    [projectId],
  );
  return rows.map((row) => ({
    accountId: row.id,
    name: row.name,
    fullName: row.full_name,
    roles: [...rolesIn(row.roles)],
  }));
}

/** `name`: what the account signs in with. No roles: no member any more. */
export const memberSchema = z.object({ name: z.string().max(80), roles: z.array(z.enum(roles)).max(roles.length) });

/** Error: `member.last` where nobody would be left who administers the project. */
export async function setMember(projectId: string, body: z.infer<typeof memberSchema>, doer: Doer): Promise<Member[]> {
  await transaction(async (connection) => {
    await projectRow(connection, projectId, true);
    const [accounts] = await connection.query<RowDataPacket[]>('SELECT id FROM accounts WHERE name = ?', [
      body.name.trim(),
    ]);
    if (accounts.length === 0) throw notFound('This account');
    const id = accounts[0].id as string;
    if (!body.roles.includes('administrator')) {
      const [others] = await connection.query<RowDataPacket[]>(
        `SELECT account_id FROM members WHERE project_id = ? AND FIND_IN_SET('administrator', roles)`,
        [projectId],
      );
      if (others.length === 1 && others[0].account_id === id)
        throw new ServiceError(409, 'member.last', 'Nobody would be left to administer this project.');
    }
    if (body.roles.length === 0)
      await connection.query('DELETE FROM members WHERE project_id = ? AND account_id = ?', [projectId, id]);
    else await setRoles(connection, projectId, id, body.roles);
    await note(
      doer,
      { action: 'membersChanged', projectId, target: body.name, detail: body.roles.join(', ') || 'none' },
      connection,
    );
  });
  return membersOf(projectId);
}
