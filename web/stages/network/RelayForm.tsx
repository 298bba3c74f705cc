'use client';

import { ActionIcon, Group, Menu, MultiSelect, Select, Switch, Tooltip } from '@mantine/core';
import { Button } from '@mantine/core';
import { IconPlus, IconTrash } from '@tabler/icons-react';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { find, ofKind } from '@mesura/core/model/network';
import { functionCodes, type OvercurrentFunction, type Relay } from '@mesura/core/model/protection';
import { genericRelays, newFunction } from '@mesura/core/protection/overcurrent/library';
import { newId } from '../../project/newId';
import { FunctionRow } from '../grading/FunctionRow';
import { useProject } from '../../project/ProjectContext';
import card from '../../card/card.module.css';
import bench from '../bench.module.css';

/** Where a relay measures, what it trips, and its functions. */
export function RelayForm({ relay }: { relay: Relay }) {
  const network = useProject((state) => state.network);
  const commit = useProject((state) => state.commit);
  const store = (changed: Relay, what: string) => {
    const result = commit([{ op: 'update', element: changed }], `${relay.name}: ${what}`);
    return result.ok ? null : result.problems[0].message;
  };
  const ct = find(network, 'currentTransformer', relay.ct);
  const ranges =
    genericRelays.find((device) => device.title === relay.device)?.ranges ??
    relay.functions[0]?.ranges ??
    genericRelays[0].ranges;
  const setDevice = (title: string | null) => {
    const device = genericRelays.find((each) => each.title === title);
    if (device)
      store(
        { ...relay, device: device.title, functions: relay.functions.map((fn) => ({ ...fn, ranges: device.ranges })) },
        'device',
      );
  };
  return (
    <>
      <h3 className={bench.subtitle}>Measuring and tripping</h3>
      <div className={card.form}>
        <Select
          label="Generic device"
          size="xs"
          data={genericRelays.map((device) => device.title)}
          value={relay.device}
          onChange={setDevice}
          classNames={{ root: card.row, label: card.label }}
        />
        <Select
          label="Current transformer"
          size="xs"
          searchable
          clearable
          data={ofKind(network, 'currentTransformer').map((each) => ({ value: each.id, label: each.name }))}
          value={relay.ct}
          onChange={(id) => store({ ...relay, ct: id as ElementId | null }, 'current transformer')}
          classNames={{ root: card.row, label: card.label }}
        />
        <Select
          label="Protects what lies"
          size="xs"
          allowDeselect={false}
          disabled={!ct}
          data={[
            { value: '1', label: ct ? sideName(ct.turn, 1) : 'terminal 2' },
            { value: '0', label: ct ? sideName(ct.turn, 0) : 'terminal 1' },
          ]}
          value={String(relay.towards)}
          onChange={(side) => store({ ...relay, towards: Number(side) as 0 | 1 }, 'protected side')}
          classNames={{ root: card.row, label: card.label }}
        />
        <MultiSelect
          label="Trips"
          size="xs"
          searchable
          data={ofKind(network, 'switch')
            .filter((each) => each.type === 'breaker')
            .map((each) => ({ value: each.id, label: nameOf(each) }))}
          value={relay.trips}
          onChange={(ids) => store({ ...relay, trips: ids as ElementId[] }, 'trips')}
        />
      </div>
      <Group justify="space-between" mt={16} mb={4}>
        <h3 className={bench.subtitle} style={{ margin: 0 }}>
          Functions
        </h3>
        <Menu>
          <Menu.Target>
            <Button size="compact-xs" variant="light" leftSection={<IconPlus size={13} />}>
              Add function
            </Button>
          </Menu.Target>
          <Menu.Dropdown>
            {functionCodes.map((code) => (
              <Menu.Item
                key={code}
                onClick={() =>
                  store(
                    { ...relay, functions: [...relay.functions, newFunction(newId(), code, ranges)] },
                    `add ${code}`,
                  )
                }
              >
                {code} {titles[code]}
              </Menu.Item>
            ))}
          </Menu.Dropdown>
        </Menu>
      </Group>
      {relay.functions.map((fn) => (
        <FunctionRow
          key={fn.id}
          fn={fn}
          ct={ct}
          onChange={(changed) => store(withFn(relay, changed), `${fn.code} settings`)}
          extra={
            <>
              <Tooltip label="In use" openDelay={300}>
                <Switch
                  size="xs"
                  aria-label={`${fn.code} in use`}
                  checked={fn.enabled}
                  onChange={(event) =>
                    store(withFn(relay, { ...fn, enabled: event.currentTarget.checked }), `${fn.code} in use`)
                  }
                />
              </Tooltip>
              <ActionIcon
                variant="subtle"
                color="red"
                size={22}
                aria-label={`Remove ${fn.code}`}
                onClick={() =>
                  store(
                    { ...relay, functions: relay.functions.filter((other) => other.id !== fn.id) },
                    `remove ${fn.code}`,
                  )
                }
              >
                <IconTrash size={14} />
              </ActionIcon>
            </>
          }
        />
      ))}
      {relay.functions.length === 0 && <p className={bench.muted}>No function yet.</p>}
    </>
  );
}

const titles = {
  '51': 'phase, delayed',
  '50': 'phase, high-set',
  '51N': 'earth, delayed',
  '50N': 'earth, high-set',
} as const;

const withFn = (relay: Relay, fn: OvercurrentFunction): Relay => ({
  ...relay,
  functions: relay.functions.map((other) => (other.id === fn.id ? fn : other)),
});

/** Side of a CT as it stands on the drawing: terminal 1 lies below an unturned one. */
const sideName = (turn: number, terminal: 0 | 1): string =>
  ['below', 'to the left', 'above', 'to the right'][(turn / 90 + (terminal === 1 ? 0 : 2)) % 4];
