'use client';

import { Button } from '@mantine/core';
import { useProject, useProjectStore } from '../project/ProjectContext';
import classes from './desk.module.css';

/** Says plainly when something is not stored, and what can be done. */
export function SavingNotice() {
  const store = useProjectStore();
  const saving = useProject((state) => state.saving);
  if (saving.status === 'waiting')
    return (
      <div className={classes.notice} role="alert">
        Not saved: {saving.message} Your changes are kept in this browser and are sent again by themselves.
      </div>
    );
  if (saving.status !== 'refused') return null;
  return (
    <div className={classes.notice} data-refused role="alert">
      <span>
        Not saved: {saving.message}{' '}
        {saving.problems
          .slice(0, 2)
          .map((problem) => problem.message)
          .join('; ')}
      </span>
      <Button
        size="compact-xs"
        variant="light"
        color="red"
        onClick={() => void store.getState().resolveRefusal('mine')}
      >
        Store mine on top
      </Button>
      <Button size="compact-xs" variant="default" onClick={() => void store.getState().resolveRefusal('theirs')}>
        Drop mine, load what is stored
      </Button>
    </div>
  );
}
