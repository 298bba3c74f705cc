import type { ReactNode } from 'react';
import { Title } from '@mantine/core';
import { Mark } from '../../desk/Mark';
import classes from './people.module.css';

/** Pages before the desk: signing in, and setting a password. */
export const Entrance = ({ children }: { children: ReactNode }) => (
  <main className={classes.narrow}>
    <div className={classes.brand}>
      <Mark size={30} />
      <Title order={1} size={24}>
        mesura
      </Title>
    </div>
    {children}
  </main>
);
