'use client';

import { useCallback, useEffect, useState } from 'react';
import { Button, Checkbox, Modal, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { api } from '../../project/api';
import type { Member } from '../../server/people/members';
import type { Role } from '../../server/people/permissions';
import { AuditLog } from './PeoplePage';
import classes from './people.module.css';

/** What each may do. */
const roleHelp: Readonly<Record<Role, string>> = {
  viewer: 'Looks at everything, and prints it',
  engineer: 'Changes the project, and prepares sheets',
  checker: 'Checks sheets of others, or rejects them',
  approver: 'Approves and so issues sheets, withdraws them',
  administrator: 'Names, deletes and exports the project, and gives roles',
};
const roles = Object.keys(roleHelp) as Role[];

/** Who belongs to a project, and in which roles. */
export function MembersDialog({ project, onClose }: { project: { id: string; name: string }; onClose: () => void }) {
  const [members, setMembers] = useState<readonly Member[]>([]);
  const [own, setOwn] = useState<readonly Role[]>([]);
  const [name, setName] = useState('');
  const path = `/projects/${project.id}/members`;
  const tell = (error: unknown) =>
    notifications.show({ color: 'red', title: 'Not done', message: (error as Error).message });
  const refresh = useCallback(async () => {
    try {
      const answer = await api<{ members: Member[]; own: Role[] }>(path);
      setMembers(answer.members);
      setOwn(answer.own);
    } catch (error) {
      tell(error);
    }
  }, [path]);
  useEffect(() => {
    // eslint-disable-next-line react-hooks/set-state-in-effect -- fetched, and set when the answer is there
    void refresh();
  }, [refresh]);
  const set = async (of: string, to: readonly Role[]) => {
    try {
      setMembers((await api<{ members: Member[] }>(path, { method: 'POST', json: { name: of, roles: to } })).members);
      setName('');
    } catch (error) {
      tell(error);
    }
  };
  const manages = own.includes('administrator');
  return (
    <Modal opened onClose={onClose} title={`People of ${project.name}`} size="xl">
      <table className={classes.table} aria-label="Members">
        <thead>
          <tr>
            <th>Name</th>
            {roles.map((role) => (
              <th key={role} title={roleHelp[role]}>
                {role}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {members.map((member) => (
            <tr key={member.accountId}>
              <td>
                {member.fullName} <span className={classes.note}>({member.name})</span>
              </td>
              {roles.map((role) => (
                <td key={role}>
                  <Checkbox
                    size="xs"
                    aria-label={`${member.fullName}: ${role}`}
                    checked={member.roles.includes(role)}
                    disabled={!manages}
                    onChange={(event) =>
                      void set(
                        member.name,
                        event.currentTarget.checked
                          ? [...member.roles, role]
                          : member.roles.filter((each) => each !== role),
                      )
                    }
                  />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {manages && (
        <form
          className={classes.row}
          onSubmit={(event) => {
            event.preventDefault();
            void set(name, ['viewer']);
          }}
        >
          <TextInput
            label="Add by the name that is signed in with"
            value={name}
            onChange={(event) => setName(event.currentTarget.value)}
            w={280}
          />
          <Button type="submit" variant="default" disabled={name.trim() === ''}>
            Add as viewer
          </Button>
        </form>
      )}
      {manages && <AuditLog path={`/projects/${project.id}/audit`} />}
    </Modal>
  );
}
