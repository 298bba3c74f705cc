'use client';

import { useCallback, useEffect, useState } from 'react';
import { Alert, Button, Checkbox, CopyButton, Menu, TextInput, Title } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconDownload } from '@tabler/icons-react';
import { api } from '../../project/api';
import type { Here } from '../../project/who';
import type { AccountCard } from '../../server/people/accounts';
import type { AuditRow } from '../../server/people/audit';
import { PageHead } from './AccountPage';
import { auditWords } from './auditWords';
import classes from './people.module.css';

const told = (error: unknown) =>
  notifications.show({ color: 'red', title: 'Not done', message: (error as Error).message });

/** For administrators of the installation: accounts, and what has been done. */
export function PeoplePage({ here }: { here: Here }) {
  const [accounts, setAccounts] = useState<readonly AccountCard[]>([]);
  const [link, setLink] = useState<{ name: string; address: string } | null>(null);
  const refresh = useCallback(async () => {
    try {
      setAccounts((await api<{ accounts: AccountCard[] }>('/accounts')).accounts);
    } catch (error) {
      told(error);
    }
  }, []);
  useEffect(() => {
    // eslint-disable-next-line react-hooks/set-state-in-effect -- fetched, and set when the answer is there
    void refresh();
  }, [refresh]);
  const invited = (name: string, token: string | null) =>
    token !== null && setLink({ name, address: `${window.location.origin}/join/${token}` });
  const add = async (form: HTMLFormElement) => {
    const data = new FormData(form);
    const name = String(data.get('name'));
    try {
      const { invitation } = await api<{ invitation: string }>('/accounts', {
        method: 'POST',
        json: { name, fullName: String(data.get('fullName')), administrator: data.get('administrator') === 'on' },
      });
      form.reset();
      invited(name, invitation);
      await refresh();
    } catch (error) {
      told(error);
    }
  };
  const change = async (account: AccountCard, json: Record<string, unknown>) => {
    try {
      const { invitation } = await api<{ invitation: string | null }>(`/accounts/${account.id}`, {
        method: 'PATCH',
        json,
      });
      invited(account.name, invitation);
      await refresh();
    } catch (error) {
      told(error);
    }
  };
  return (
    <main className={classes.page}>
      <PageHead here={here} title="People" />
      <section className={classes.section} aria-label="Accounts">
        <form
          className={classes.row}
          onSubmit={(event) => {
            event.preventDefault();
            void add(event.currentTarget);
          }}
        >
          <TextInput name="name" label="Signs in as" required maxLength={80} w={180} autoComplete="off" />
          <TextInput name="fullName" label="Name beside the work" required maxLength={80} w={220} autoComplete="off" />
          <Checkbox name="administrator" label="Administrator" mb={8} />
          <Button type="submit">Add and invite</Button>
        </form>
        {link && (
          <Alert color="verdigris" title={`Invitation for ${link.name}`} withCloseButton onClose={() => setLink(null)}>
            Hand this link on by a way that you trust. It counts once, within three days.
            <div className={classes.row}>
              <code aria-label="Invitation" style={{ overflowWrap: 'anywhere' }}>
                {link.address}
              </code>
              <CopyButton value={link.address}>
                {({ copied, copy }) => (
                  <Button size="compact-xs" variant="default" onClick={copy}>
                    {copied ? 'Copied' : 'Copy'}
                  </Button>
                )}
              </CopyButton>
            </div>
          </Alert>
        )}
        <table className={classes.table} aria-label="Accounts">
          <thead>
            <tr>
              <th>Signs in as</th>
              <th>Name</th>
              <th>State</th>
              <th>One-time codes</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {accounts.map((account) => (
              <tr key={account.id}>
                <td>{account.name}</td>
                <td>{account.fullName}</td>
                <td>
                  {account.blocked ? 'blocked' : account.hasPassword ? 'active' : 'invited'}
                  {account.administrator && ', administrator'}
                </td>
                <td>{account.hasCodes ? 'on' : 'off'}</td>
                <td>
                  <Menu position="bottom-end">
                    <Menu.Target>
                      <Button size="compact-xs" variant="default" aria-label={`Change ${account.name}`}>
                        Change
                      </Button>
                    </Menu.Target>
                    <Menu.Dropdown>
                      <Menu.Item onClick={() => void change(account, { invite: true })}>Invite anew</Menu.Item>
                      <Menu.Item onClick={() => void change(account, { administrator: !account.administrator })}>
                        {account.administrator ? 'No longer administrator' : 'Make administrator'}
                      </Menu.Item>
                      {account.hasCodes && (
                        <Menu.Item onClick={() => void change(account, { withoutCodes: true })}>
                          Take one-time codes off
                        </Menu.Item>
                      )}
                      <Menu.Item color="red" onClick={() => void change(account, { blocked: !account.blocked })}>
                        {account.blocked ? 'Let in again' : 'Block'}
                      </Menu.Item>
                    </Menu.Dropdown>
                  </Menu>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <AuditLog path="/audit" />
    </main>
  );
}

/** What was done, the latest first. */
export function AuditLog({ path }: { path: string }) {
  const [entries, setEntries] = useState<readonly AuditRow[]>([]);
  const [more, setMore] = useState(true);
  const load = useCallback(
    async (before: number | null) => {
      try {
        const next = (await api<{ entries: AuditRow[] }>(`${path}${before === null ? '' : `?before=${before}`}`))
          .entries;
        setEntries((known) => (before === null ? next : [...known, ...next]));
        setMore(next.length >= 200);
      } catch (error) {
        told(error);
      }
    },
    [path],
  );
  useEffect(() => {
    // eslint-disable-next-line react-hooks/set-state-in-effect -- fetched, and set when the answer is there
    void load(null);
  }, [load]);
  return (
    <section className={classes.section} aria-label="Audit log">
      <div className={classes.row}>
        <Title order={2} size={16} style={{ flex: 1 }}>
          Audit log
        </Title>
        <Button
          size="compact-sm"
          variant="default"
          component="a"
          href={`/api${path}?as=csv`}
          leftSection={<IconDownload size={14} />}
        >
          CSV
        </Button>
      </div>
      <table className={classes.table} aria-label="Audit log">
        <thead>
          <tr>
            <th>When</th>
            <th>Who</th>
            <th>What</th>
            <th>Project</th>
            <th>From</th>
          </tr>
        </thead>
        <tbody>
          {entries.map((entry) => (
            <tr key={entry.id}>
              <td className="figure">{entry.at.slice(0, 19).replace('T', ' ')}</td>
              <td>{entry.name}</td>
              <td>
                {auditWords[entry.action]}
                {entry.target && ` ${entry.target}`}
                {entry.detail && <span className={classes.note}> ({entry.detail})</span>}
              </td>
              <td>{entry.project ?? ''}</td>
              <td>{entry.address}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {more && entries.length > 0 && (
        <Button mt="sm" size="compact-sm" variant="default" onClick={() => void load(entries[entries.length - 1].id)}>
          Earlier
        </Button>
      )}
    </section>
  );
}
