'use client';

import { ActionIcon, Popover, Tooltip, UnstyledButton } from '@mantine/core';
import { IconCheck, IconHelp } from '@tabler/icons-react';
import classes from './card.module.css';

interface Props {
  what: string;
  help: string | null;
  assumed: boolean;
  onConfirm: () => void;
}

/** After a field's label: what the quantity is and where it is found; whether its value was assumed, and the button that confirms it. */
export function Aside({ what, help, assumed, onConfirm }: Props) {
  if (!help && !assumed) return null;
  // Inside a label: a press must not go on to the field.
  const alone = (act: () => void) => (event: { preventDefault(): void; stopPropagation(): void }) => {
    event.preventDefault();
    event.stopPropagation();
    act();
  };
  return (
    <>
      {help && (
        <Popover width={290} position="top" withArrow shadow="md">
          <Popover.Target>
            <UnstyledButton
              className={classes.helpButton}
              aria-label={`About ${what}`}
              onClick={(event) => event.preventDefault()}
            >
              <IconHelp size={13} />
            </UnstyledButton>
          </Popover.Target>
          <Popover.Dropdown className={classes.helpText}>{help}</Popover.Dropdown>
        </Popover>
      )}
      {assumed && (
        <span className={classes.assumed}>
          assumed
          <Tooltip label="Confirm this value" openDelay={300}>
            <ActionIcon size={16} variant="subtle" aria-label={`Confirm ${what}`} onClick={alone(onConfirm)}>
              <IconCheck size={12} />
            </ActionIcon>
          </Tooltip>
        </span>
      )}
    </>
  );
}
