import { Menu } from '@mantine/core';
import { IconKey, IconLogout, IconUsers } from '@tabler/icons-react';
import { api } from '../project/api';
import { initials, type Here } from '../project/who';
import classes from './person.module.css';

/** Who is signed in, and the way to one's account. */
export function PersonMenu({ here }: { here: Here }) {
  const leave = async () => {
    await api('/session', { method: 'DELETE' }).catch(() => undefined);
    window.location.assign('/sign-in');
  };
  return (
    <Menu position="bottom-end" width={230}>
      <Menu.Target>
        <button type="button" className={classes.who} aria-label={`Signed in as ${here.name}`} title={here.name}>
          {initials(here.name)}
        </button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Label>
          {here.name}
          {here.roles.length > 0 && <div>here: {here.roles.join(', ')}</div>}
        </Menu.Label>
        <Menu.Item component="a" href="/account" leftSection={<IconKey size={14} />}>
          My account
        </Menu.Item>
        {here.administrator && (
          <Menu.Item component="a" href="/people" leftSection={<IconUsers size={14} />}>
            People and audit log
          </Menu.Item>
        )}
        <Menu.Item leftSection={<IconLogout size={14} />} onClick={() => void leave()}>
          Sign out
        </Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}
