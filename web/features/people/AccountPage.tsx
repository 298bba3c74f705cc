'use client';

import { useCallback, useEffect, useState } from 'react';
import { Alert, Button, Image, PasswordInput, TextInput, Title } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { Mark } from '../../desk/Mark';
import { PersonMenu } from '../../desk/PersonMenu';
import { api } from '../../project/api';
import type { Here } from '../../project/who';
import type { AccountCard, CodesAnswer } from '../../server/people/accounts';
import type { SessionCard } from '../../server/people/sessions';
import { Tokens } from './Tokens';
import classes from './people.module.css';

interface Mine {
  readonly account: AccountCard;
  readonly sessions: readonly SessionCard[];
  readonly session: string;
}

const told = (error: unknown) =>
  notifications.show({ color: 'red', title: 'Not done', message: (error as Error).message });
const when = (at: string) => at.slice(0, 16).replace('T', ' ');

/** One's own account: password, one-time codes, sessions. */
export function AccountPage({ here }: { here: Here }) {
  const [mine, setMine] = useState<Mine | null>(null);
  const refresh = useCallback(async () => {
    try {
      setMine(await api<Mine>('/account'));
    } catch (error) {
      told(error);
    }
  }, []);
  useEffect(() => {
    // eslint-disable-next-line react-hooks/set-state-in-effect -- fetched, and set when the answer is there
    void refresh();
  }, [refresh]);
  return (
    <main className={classes.page}>
      <PageHead here={here} title="My account" />
      {mine && (
        <>
          <p className={classes.note}>
            {mine.account.fullName}, signed in as <strong>{mine.account.name}</strong>
            {mine.account.administrator && ', administrator of this installation'}
          </p>
          <Password />
          <Codes hasCodes={mine.account.hasCodes} refresh={refresh} />
          <Tokens />
          <Sessions mine={mine} refresh={refresh} />
        </>
      )}
    </main>
  );
}

export function PageHead({ here, title }: { here: Here; title: string }) {
  return (
    <header style={{ display: 'flex', alignItems: 'center', gap: 12 }}>
      <a href="/" className={classes.brand} style={{ margin: 0 }} aria-label="Mesura: to the projects">
        <Mark size={26} />
      </a>
      <Title order={1} size={22} style={{ flex: 1 }}>
        {title}
      </Title>
      <PersonMenu here={here} />
    </header>
  );
}

function Password() {
  const [busy, setBusy] = useState(false);
  const [failure, setFailure] = useState<string | null>(null);
  const change = async (form: HTMLFormElement) => {
    const of = (field: string) => String(new FormData(form).get(field));
    if (of('after') !== of('again')) return setFailure('The two new passwords differ.');
    setBusy(true);
    setFailure(null);
    try {
      await api('/account/password', { method: 'POST', json: { before: of('before'), after: of('after') } });
      form.reset();
      notifications.show({
        color: 'verdigris',
        title: 'The password is changed',
        message: 'All your other sessions have ended.',
      });
    } catch (error) {
      setFailure((error as Error).message);
    }
    setBusy(false);
  };
  return (
    <section className={classes.section} aria-label="Password">
      <Title order={2} size={16}>
        Password
      </Title>
      <form
        className={classes.row}
        onSubmit={(event) => {
          event.preventDefault();
          void change(event.currentTarget);
        }}
      >
        <PasswordInput name="before" label="Password of now" autoComplete="current-password" required w={220} />
        <PasswordInput name="after" label="New password" autoComplete="new-password" required w={220} />
        <PasswordInput name="again" label="Once more" autoComplete="new-password" required w={220} />
        <Button type="submit" variant="default" loading={busy}>
          Change
        </Button>
      </form>
      {failure && (
        <Alert color="red" role="alert">
          {failure}
        </Alert>
      )}
    </section>
  );
}

/** One-time codes after RFC 6238. */
function Codes({ hasCodes, refresh }: { hasCodes: boolean; refresh: () => Promise<void> }) {
  const [password, setPassword] = useState('');
  const [begun, setBegun] = useState<(CodesAnswer & { picture?: string }) | null>(null);
  const [code, setCode] = useState('');
  const [recovery, setRecovery] = useState<readonly string[] | null>(null);
  const ask = async (json: unknown) => {
    try {
      return await api<CodesAnswer & { picture?: string }>('/account/codes', { method: 'POST', json });
    } catch (error) {
      told(error);
      return null;
    }
  };
  const confirm = async () => {
    const answer = await ask({ step: 'confirm', password, secret: begun?.secret, code });
    if (!answer?.recovery) return;
    setRecovery(answer.recovery);
    setBegun(null);
    setPassword('');
    setCode('');
    await refresh();
  };
  const off = async () => {
    if (!(await ask({ step: 'off', password }))) return;
    setPassword('');
    setRecovery(null);
    await refresh();
  };
  return (
    <section className={classes.section} aria-label="One-time codes">
      <Title order={2} size={16}>
        One-time codes
      </Title>
      <p className={classes.note}>
        {hasCodes
          ? 'On: signing in asks for a code of your authenticator.'
          : 'Off. With codes on, a stolen password alone opens nothing.'}
      </p>
      <div className={classes.row}>
        <PasswordInput
          label="Your password"
          value={password}
          onChange={(event) => setPassword(event.currentTarget.value)}
          w={220}
          autoComplete="current-password"
        />
        {hasCodes ? (
          <Button variant="default" disabled={password === ''} onClick={() => void off()}>
            Take codes off
          </Button>
        ) : (
          <Button
            variant="default"
            disabled={password === ''}
            onClick={() => void ask({ step: 'begin', password }).then(setBegun)}
          >
            Begin
          </Button>
        )}
      </div>
      {begun?.secret && (
        <div className={classes.row} style={{ alignItems: 'flex-start' }}>
          {begun.picture && (
            <Image
              className={classes.picture}
              alt="Picture for your authenticator"
              src={`data:image/svg+xml;utf8,${encodeURIComponent(begun.picture)}`}
            />
          )}
          <div>
            <p className={classes.note}>
              Read the picture with your authenticator, or type this key:
              <br />
              <code aria-label="Key">{begun.secret}</code>
            </p>
            <TextInput
              label="Code that it shows"
              value={code}
              onChange={(event) => setCode(event.currentTarget.value)}
              inputMode="numeric"
              maxLength={10}
              w={160}
            />
            <Button mt="sm" onClick={() => void confirm()} disabled={code.trim() === ''}>
              Put codes on
            </Button>
          </div>
        </div>
      )}
      {recovery && (
        <Alert color="verdigris" title="Keep these recovery codes; they are shown this once" mt="sm">
          Each lets you in once when your authenticator is lost.
          <ul className={classes.codes} aria-label="Recovery codes">
            {recovery.map((each) => (
              <li key={each}>{each}</li>
            ))}
          </ul>
        </Alert>
      )}
    </section>
  );
}

function Sessions({ mine, refresh }: { mine: Mine; refresh: () => Promise<void> }) {
  const end = async (id: string) => {
    try {
      await api(`/account/sessions/${id}`, { method: 'DELETE' });
      await refresh();
    } catch (error) {
      told(error);
    }
  };
  return (
    <section className={classes.section} aria-label="Sessions">
      <Title order={2} size={16}>
        Sessions
      </Title>
      <table className={classes.table}>
        <thead>
          <tr>
            <th>Begun</th>
            <th>Last seen</th>
            <th>From</th>
            <th>Browser</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {mine.sessions.map((session) => (
            <tr key={session.id}>
              <td className="figure">{when(session.begunAt)}</td>
              <td className="figure">{when(session.seenAt)}</td>
              <td>{session.address}</td>
              <td>{session.browser.slice(0, 80)}</td>
              <td>
                {session.id === mine.session ? (
                  'this one'
                ) : (
                  <Button size="compact-xs" variant="default" onClick={() => void end(session.id)}>
                    End
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
