'use client';

import { useState } from 'react';
import { Alert, Button, PasswordInput, TextInput } from '@mantine/core';
import { api, type ApiError } from '../../project/api';
import { Entrance } from './Entrance';
import classes from './people.module.css';

/** Name, password and, where the account has them, a one-time code. `isFirst`: nobody administers this installation yet. */
export function SignIn({ to, isFirst }: { to: string; isFirst: boolean }) {
  const [failure, setFailure] = useState<ApiError | null>(null);
  const [busy, setBusy] = useState(false);
  const [asksCode, setAsksCode] = useState(false);
  const submit = async (form: FormData) => {
    setBusy(true);
    setFailure(null);
    const text = (field: string) => String(form.get(field) ?? '');
    try {
      await api('/session', {
        method: 'POST',
        json: { name: text('name'), password: text('password'), ...(asksCode && { code: text('code') }) },
      });
      window.location.assign(to);
    } catch (error) {
      const refusal = error as ApiError;
      if (refusal.code === 'signIn.code' && !asksCode) setAsksCode(true);
      else setFailure(refusal);
      setBusy(false);
    }
  };
  return (
    <Entrance>
      {isFirst && (
        <Alert color="ochre" title="Nobody administers this desk yet" mb="md">
          The first account is made on the machine itself: <code>npm run account -- add NAME --administrator</code>
        </Alert>
      )}
      <form
        className={classes.form}
        onSubmit={(event) => {
          event.preventDefault();
          void submit(new FormData(event.currentTarget));
        }}
      >
        <TextInput name="name" label="Name" autoComplete="username" required maxLength={80} autoFocus />
        <PasswordInput name="password" label="Password" autoComplete="current-password" required maxLength={400} />
        {asksCode && (
          <TextInput
            name="code"
            label="One-time code"
            description="Six digits of your authenticator, or one of your recovery codes"
            autoComplete="one-time-code"
            inputMode="numeric"
            required
            maxLength={40}
            autoFocus
          />
        )}
        {failure && (
          <Alert color="red" role="alert">
            {failure.message}
          </Alert>
        )}
        <Button type="submit" loading={busy}>
          Sign in
        </Button>
      </form>
      <p className={classes.note}>
        Forgotten your password? An administrator of this installation can invite you anew.
      </p>
    </Entrance>
  );
}
