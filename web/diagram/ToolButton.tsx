'use client';

import type { ReactNode } from 'react';
import { ActionIcon, Tooltip } from '@mantine/core';

interface Props {
  /** Shown on hover: what it does, and its key. */
  label: string;
  /** Spoken name, when it is not the label. */
  name?: string;
  icon: ReactNode;
  onClick?: () => void;
  size?: number;
  /** How it stands out while its tool is held. */
  held?: 'filled' | 'light' | false;
}

/** A small button over the drawing. */
export function ToolButton({ label, name = label, icon, onClick, size = 26, held }: Props) {
  return (
    <Tooltip label={label} openDelay={300}>
      <ActionIcon
        variant={held || 'subtle'}
        color={held ? undefined : 'gray'}
        size={size}
        aria-label={name}
        aria-pressed={held === undefined ? undefined : held !== false}
        onClick={onClick}
      >
        {icon}
      </ActionIcon>
    </Tooltip>
  );
}
