'use client';

import { useCallback, useEffect, useState } from 'react';
import { Alert, Button, Checkbox, Code, CopyButton, Group, NumberInput, TextInput, Title } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { api } from '../../project/api';
import type { TokenCard } from '../../server/programs/tokens';
import type { Scope } from '../../server/people/permissions';
import classes from './people.module.css';

const purposes: readonly { readonly scope: Scope; readonly label: string }[] = [
  { scope: 'read', label: 'Look at projects' },
  { scope: 'study', label: 'Run studies' },
  { scope: 'change', label: 'Change projects' },
];
const purposeOf = (scope: Scope) => purposes.find((each) => each.scope === scope)!.label.toLowerCase();
const when = (at: string) => at.slice(0, 16).replace('T', ' ');

/** Tokens by which programs work in one's name. */
export function Tokens() {
  const [tokens, setTokens] = useState<readonly TokenCard[]>([]);
  const [made, setMade] = useState<string | null>(null);
  const [label, setLabel] = useState('');
  const [scopes, setScopes] = useState<Scope[]>(['read', 'study']);
  const [days, setDays] = useState<number | string>(90);
  const [now, setNow] = useState(0);
  const take = useCallback(async (ask: () => Promise<{ tokens: TokenCard[]; token?: string }>) => {
    try {
      const answer = await ask();
      setTokens(answer.tokens);
      setNow(Date.now());
      return answer;
    } catch (error) {
      notifications.show({ color: 'red', title: 'Not done', message: (error as Error).message });
      return null;
    }
  }, []);
  useEffect(() => {
    // eslint-disable-next-line react-hooks/set-state-in-effect -- fetched, and set when the answer is there
    void take(() => api('/account/tokens'));
  }, [take]);
  const make = async () => {
    const answer = await take(() =>
      api('/account/tokens', { method: 'POST', json: { label: label.trim(), scopes, days } }),
    );
    if (!answer) return;
    setMade(answer.token ?? null);
    setLabel('');
  };
  const isReady = label.trim() !== '' && scopes.length > 0 && typeof days === 'number';
  return (
    <section className={classes.section} aria-label="Tokens for programs">
      <Title order={2} size={16}>
        Tokens for programs
      </Title>
      <p className={classes.note}>
        A program with a token works in your name, with your roles and no others, for what the token is made for. How:{' '}
        <a href="/programs">for programs</a>.
      </p>
      <form
        className={classes.row}
        onSubmit={(event) => {
          event.preventDefault();
          void make();
        }}
      >
        <TextInput
          label="What it is for"
          placeholder="Nightly check"
          value={label}
          maxLength={80}
          onChange={(event) => setLabel(event.currentTarget.value)}
          w={220}
        />
        <NumberInput
          label="Ends after (days)"
          value={days}
          onChange={setDays}
          min={1}
          max={366}
          clampBehavior="strict"
          w={140}
        />
        <Checkbox.Group label="It may" value={scopes} onChange={(values) => setScopes(values as Scope[])}>
          <Group gap="md" h={36}>
            {purposes.map((each) => (
              <Checkbox key={each.scope} value={each.scope} label={each.label} />
            ))}
          </Group>
        </Checkbox.Group>
        <Button type="submit" variant="default" disabled={!isReady}>
          Make a token
        </Button>
      </form>
      {made && (
        <Alert
          color="verdigris"
          title="Copy the token now; it is shown this once"
          mt="sm"
          withCloseButton
          onClose={() => setMade(null)}
        >
          <Group gap="sm">
            <Code aria-label="Token">{made}</Code>
            <CopyButton value={made}>
              {({ copied, copy }) => (
                <Button size="compact-xs" variant="default" onClick={copy}>
                  {copied ? 'Copied' : 'Copy'}
                </Button>
              )}
            </CopyButton>
          </Group>
        </Alert>
      )}
      {tokens.length > 0 && (
        <table className={classes.table}>
          <thead>
            <tr>
              <th>For</th>
              <th>May</th>
              <th>Last used</th>
              <th>Ends</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {tokens.map((token) => (
              <tr key={token.id}>
                <td>{token.label}</td>
                <td>{token.scopes.map(purposeOf).join(', ')}</td>
                <td className="figure">{token.usedAt ? when(token.usedAt) : 'never'}</td>
                <td className="figure">
                  {when(token.endsAt)}
                  {Date.parse(token.endsAt) < now && ' (ended)'}
                </td>
                <td>
                  <Button
                    size="compact-xs"
                    variant="default"
                    onClick={() => void take(() => api(`/account/tokens/${token.id}`, { method: 'DELETE' }))}
                    aria-label={`End ${token.label}`}
                  >
                    End
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
