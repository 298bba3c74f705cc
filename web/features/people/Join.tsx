'use client';

import { useState } from 'react';
import { Alert, Button, PasswordInput } from '@mantine/core';
import { api } from '../../project/api';
import { Entrance } from './Entrance';
import classes from './people.module.css';

/** Where an invitation leads: its owner sets a password. */
export function Join({
  token,
  invited,
  least,
}: {
  token: string;
  invited: { name: string; fullName: string } | null;
  least: number;
}) {
  const [failure, setFailure] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const submit = async (form: FormData) => {
    if (form.get('password') !== form.get('again')) return setFailure('The two passwords differ.');
    setBusy(true);
    setFailure(null);
    try {
      await api(`/invitations/${token}`, { method: 'POST', json: { password: String(form.get('password')) } });
      window.location.assign('/sign-in');
    } catch (error) {
      setFailure((error as Error).message);
      setBusy(false);
    }
  };
  return (
    <Entrance>
      {!invited ? (
        <Alert color="ochre" title="This invitation does not count any more">
          It has been used, or has run out. Ask an administrator for another one.
        </Alert>
      ) : (
        <form
          className={classes.form}
          onSubmit={(event) => {
            event.preventDefault();
            void submit(new FormData(event.currentTarget));
          }}
        >
          <p className={classes.note}>
            Welcome, {invited.fullName}. You sign in as <strong>{invited.name}</strong>.
          </p>
          <input type="hidden" name="username" autoComplete="username" value={invited.name} readOnly />
          <PasswordInput
            name="password"
            label="New password"
            description={`At least ${least} characters; a few words that do not belong together are best`}
            autoComplete="new-password"
            required
            maxLength={400}
            autoFocus
          />
          <PasswordInput name="again" label="Once more" autoComplete="new-password" required maxLength={400} />
          {failure && (
            <Alert color="red" role="alert">
              {failure}
            </Alert>
          )}
          <Button type="submit" loading={busy}>
            Set the password
          </Button>
        </form>
      )}
    </Entrance>
  );
}
