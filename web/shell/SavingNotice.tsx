'use client';

import { useState } from 'react';
import dynamic from 'next/dynamic';
import { Button, Group, Modal } from '@mantine/core';
import { useProject, useProjectStore } from '../project/ProjectContext';
import classes from './desk.module.css';

const Differences = dynamic(() => import('../features/history/Differences').then((module) => module.Differences), {
  ssr: false,
});

/** Says plainly when something is not stored or could not be done, and what can be done. */
export function SavingNotice() {
  const store = useProjectStore();
  const saving = useProject((state) => state.saving);
  const notice = useProject((state) => state.notice);
  return (
    <>
      {notice && (
        <div className={classes.notice} role="alert">
          <span>{notice}</span>
          <Button size="compact-xs" variant="default" onClick={() => store.getState().dismissNotice()}>
            Close
          </Button>
        </div>
      )}
      {saving.status === 'waiting' && (
        <div className={classes.notice} role="alert">
          Not saved: {saving.message} Your changes are kept in this browser and are sent again by themselves.
        </div>
      )}
      {saving.status === 'refused' && <Refused {...saving} />}
    </>
  );
}

/** Changes that were set aside; they are kept in this browser until somebody decides. */
function Refused({
  message,
  problems,
  labels,
}: {
  message: string;
  problems: readonly { message: string }[];
  labels: readonly string[];
}) {
  const store = useProjectStore();
  const [first, ...more] = labels;
  const [opened, setOpened] = useState(false);
  const resolve = (keep: 'mine' | 'theirs') => {
    setOpened(false);
    void store.getState().resolveRefusal(keep);
  };
  const choice = (size: 'compact-xs' | 'sm') => (
    <>
      <Button size={size} variant="light" color="red" onClick={() => resolve('mine')}>
        Store mine on top
      </Button>
      <Button size={size} variant="default" onClick={() => resolve('theirs')}>
        Drop mine, load what is stored
      </Button>
    </>
  );
  return (
    <div className={classes.notice} data-refused role="alert">
      <span>
        Not saved: {message}{' '}
        {problems
          .slice(0, 2)
          .map((problem) => problem.message)
          .join('; ')}{' '}
        Set aside: “{first}”{more.length > 0 ? ` and ${more.length} more` : ''}.
      </span>
      <Button size="compact-xs" variant="light" color="red" onClick={() => setOpened(true)}>
        Compare both versions
      </Button>
      {choice('compact-xs')}
      <Modal opened={opened} onClose={() => setOpened(false)} title="Stored by others, and yours" size="lg">
        {opened && (
          <Differences
            list={store.getState().bothVersions()}
            heads={['stored', 'yours']}
            onGo={(id) => {
              setOpened(false);
              store.getState().select([id]);
            }}
          />
        )}
        <Group justify="flex-end" mt="md">
          {choice('sm')}
        </Group>
      </Modal>
    </div>
  );
}
