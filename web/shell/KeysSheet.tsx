'use client';

import { Modal, Kbd } from '@mantine/core';
import { keyName, type Action } from '../desk/actions';
import { useDesk } from '../desk/deskState';
import classes from './desk.module.css';

const further: readonly [string, string, string][] = [
  ['Drawing', 'Ctrl C, X, V', 'Copy, cut, paste, also into another project'],
  ['Drawing', 'Double click on a busbar', 'Draw a feeder from there'],
  ['Drawing', 'Double click on a symbol', 'To its data'],
  ['View', 'Shift and drag', 'Select with a box'],
];

/** All keys, by group: opened by "?". */
export function KeysSheet({ actions }: { actions: readonly Action[] }) {
  const open = useDesk((state) => state.keysOpen);
  const set = useDesk((state) => state.set);
  const withKeys = actions.filter(({ keys }) => keys.length > 0);
  const groups = [...new Set(withKeys.map(({ group }) => group))];
  return (
    <Modal
      opened={open}
      onClose={() => set({ keysOpen: false })}
      title="Keys"
      size="xl"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <div className={classes.keySheet}>
        {groups.map((group) => (
          <section key={group} aria-label={group}>
            <h3>{group}</h3>
            <dl>
              {withKeys
                .filter((action) => action.group === group)
                .map(({ id, title, keys }) => (
                  <div key={id}>
                    <dt>
                      {keys.map((each) => (
                        <Kbd key={each} size="xs">
                          {keyName(each)}
                        </Kbd>
                      ))}
                    </dt>
                    <dd>{title}</dd>
                  </div>
                ))}
              {further
                .filter(([where]) => where === group)
                .map(([, keys, title]) => (
                  <div key={keys}>
                    <dt>
                      <Kbd size="xs">{keys}</Kbd>
                    </dt>
                    <dd>{title}</dd>
                  </div>
                ))}
            </dl>
          </section>
        ))}
      </div>
    </Modal>
  );
}
