'use client';

import type { ReactNode } from 'react';
import { MantineProvider } from '@mantine/core';
import { ModalsProvider } from '@mantine/modals';
import { Notifications } from '@mantine/notifications';
import { resolver, theme } from '../theme/theme';

export function Providers({ children }: { children: ReactNode }) {
  return (
    <MantineProvider theme={theme} cssVariablesResolver={resolver} defaultColorScheme="light">
      <ModalsProvider>
        <Notifications position="bottom-right" limit={4} />
        {children}
      </ModalsProvider>
    </MantineProvider>
  );
}
