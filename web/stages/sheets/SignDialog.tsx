'use client';

import { useRef, useState } from 'react';
import { Button, Group, Modal, Progress as Bar, Textarea, TextInput } from '@mantine/core';
import { useHere, who } from '../../project/who';
import type { Progress } from './steps';
import bench from '../../card/bench.module.css';

export interface Asked {
  readonly title: string;
  /** What the signature means. */
  readonly help: string;
  readonly verb: string;
  /** Whether words are asked for, and under which name; `must`: without them nothing is done. */
  readonly words: { readonly label: string; readonly must: boolean } | null;
  run(
    given: { readonly text: string; readonly as: string | undefined },
    onProgress: (progress: Progress) => void,
    isWanted: () => boolean,
  ): Promise<unknown>;
}

/** Who took which step last on this desk: written once, offered again. */
const lastNames = new Map<string, string>();

/** Asks for a signature: with accounts it is that of who is signed in, on one's own desk a name is written. */
export function SignDialog({ asked, onClose }: { asked: Asked; onClose: () => void }) {
  const { ownDesk, name } = useHere();
  const [text, setText] = useState('');
  const [as, setAs] = useState(() => lastNames.get(asked.verb) ?? (who() === 'engineer' ? '' : who()));
  const [progress, setProgress] = useState<Progress | null>(null);
  const wanted = useRef(true);
  const sign = async () => {
    setProgress({ done: 0, of: 1 });
    wanted.current = true;
    if (ownDesk) lastNames.set(asked.verb, as.trim());
    await asked.run({ text, as: ownDesk ? as.trim() : undefined }, setProgress, () => wanted.current);
    onClose();
  };
  const isMissing = (asked.words?.must && text.trim() === '') || (ownDesk && as.trim() === '');
  return (
    <Modal opened onClose={() => !progress && onClose()} title={asked.title}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (!isMissing) void sign();
        }}
      >
        {asked.words && (
          <Textarea
            label={asked.words.label}
            value={text}
            maxLength={400}
            autosize
            minRows={2}
            onChange={(event) => setText(event.currentTarget.value)}
            data-autofocus
            required={asked.words.must}
          />
        )}
        {ownDesk ? (
          <TextInput
            label="Signed by"
            description="This desk has no accounts: the sheet will say “not signed in” beside the name"
            value={as}
            onChange={(event) => setAs(event.currentTarget.value)}
            maxLength={80}
            mt="sm"
            required
            {...(!asked.words && { 'data-autofocus': true })}
          />
        ) : (
          <p className={bench.muted}>Signed by {name}</p>
        )}
        <p className={bench.muted}>{asked.help}</p>
        {progress && progress.of > 1 && (
          <Bar value={(100 * progress.done) / progress.of} aria-label={`${progress.done} of ${progress.of}`} mb="sm" />
        )}
        <Group justify="flex-end">
          {progress && progress.of > 1 && (
            <Button variant="default" onClick={() => (wanted.current = false)}>
              Stop
            </Button>
          )}
          <Button type="submit" loading={progress !== null} disabled={isMissing}>
            {asked.verb}
          </Button>
        </Group>
      </form>
    </Modal>
  );
}
