'use client';

import type { ReactNode } from 'react';
import { ActionIcon, Menu, Tooltip, type MenuProps } from '@mantine/core';

interface Props {
  /** Shown on hover: what it does, and its key. */
  label: string;
  /** Spoken name, when it is not the label. */
  name?: string;
  icon: ReactNode;
  size?: number;
}

interface ButtonProps extends Props {
  onClick: () => void;
  /** How it stands out while its tool is held. */
  held?: 'filled' | 'light' | false;
}

/** A small button over the drawing. */
export function ToolButton({ label, name = label, icon, onClick, size = 26, held }: ButtonProps) {
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

/** A small button over the drawing that opens a menu. */
export function ToolMenu({
  label,
  name = label,
  icon,
  size = 26,
  title,
  children,
  ...menu
}: Props & { title: string } & MenuProps) {
  return (
    <Menu {...menu}>
      <Menu.Target>
        <Tooltip label={label} openDelay={300}>
          <ActionIcon variant="subtle" color="gray" size={size} aria-label={name}>
            {icon}
          </ActionIcon>
        </Tooltip>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Label>{title}</Menu.Label>
        {children}
      </Menu.Dropdown>
    </Menu>
  );
}
