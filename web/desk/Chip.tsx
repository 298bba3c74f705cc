import type { ReactNode } from 'react';
import classes from './chip.module.css';

/** A verdict in a word or two. */
export const Chip = ({ state, children }: { state: 'pass' | 'warn' | 'fail'; children: ReactNode }) => (
  <span className={classes.chip} data-state={state}>
    {children}
  </span>
);
