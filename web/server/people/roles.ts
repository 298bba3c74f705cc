/** Roles as they are stored. */
import type { PoolConnection } from 'mysql2/promise';
import { roles, type Role } from './permissions';

export const rolesIn = (stored: string | null): ReadonlySet<Role> => {
  const named = new Set((stored ?? '').split(','));
  return new Set(roles.filter((role) => named.has(role)));
};

export async function setRoles(
  connection: Pick<PoolConnection, 'query'>,
  projectId: string,
  accountId: string,
  named: readonly Role[],
): Promise<void> {
  await connection.query(
    'INSERT INTO members (project_id, account_id, roles) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE roles = VALUES(roles)',
    [projectId, accountId, named.join(',')],
  );
}
