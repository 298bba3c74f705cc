'use client';

import type { ReactNode } from 'react';
import { MantineProvider } from '@mantine/core';
import { ModalsProvider } from '@mantine/modals';
import { Notifications } from '@mantine/notifications';
import { config } from 'zod';
import { resolver, theme } from '../theme/theme';

// The page may not make code of texts (content security policy); without this zod would try.
config({ jitless: true });

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
