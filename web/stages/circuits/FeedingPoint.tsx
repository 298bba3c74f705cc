'use client';

import { useState } from 'react';
import { Button, Popover, Select, Stack } from '@mantine/core';
import { IconBolt } from '@tabler/icons-react';
import { feedingPoint, freshFeeding, type FeedingGiven } from '@mesura/core/lowVoltage/feedingPoint';
import { earthingSystems } from '@mesura/core/model/circuit';
import { QuantityField } from '../../card/QuantityField';
import { useDesk } from '../../desk/deskState';
import { report } from '../../desk/report';
import { newId } from '../../project/newId';
import { useProjectStore } from '../../project/ProjectContext';
import { setCircuits } from './state';

/** A board fed from what is given at its main switch: the largest and the smallest prospective current. */
export function FeedingPoint() {
  const store = useProjectStore();
  const page = useDesk((state) => state.page);
  const [opened, setOpened] = useState(false);
  const [given, setGiven] = useState<FeedingGiven>(freshFeeding);
  const put = (part: Partial<FeedingGiven>): null => {
    setGiven({ ...given, ...part });
    return null;
  };
  const draw = () => {
    const { changes, board } = feedingPoint(store.getState().network, given, page, newId);
    if (report(store.getState().commit(changes, 'Board from a given prospective current'))) {
      setOpened(false);
      setCircuits({ board, chosen: null });
    }
  };
  const problem = given.minKa > given.maxKa ? 'The smallest current is above the largest.' : null;
  return (
    <Popover withinPortal position="bottom-start" trapFocus opened={opened} onChange={setOpened}>
      <Popover.Target>
        <Button
          size="compact-xs"
          variant="default"
          leftSection={<IconBolt size={13} />}
          title="A board fed from what is given at its main switch"
          onClick={() => setOpened(!opened)}
        >
          Board from a given current
        </Button>
      </Popover.Target>
      <Popover.Dropdown>
        <Stack gap={8} w={230}>
          <QuantityField
            stacked
            label="Voltage between phases"
            unit="V"
            value={given.unV}
            onCommit={(unV) => (unV === null || unV < 50 || unV > 1000 ? 'between 50 and 1000 V' : put({ unV }))}
          />
          <QuantityField
            stacked
            label="Largest prospective current"
            unit="kA"
            value={given.maxKa}
            onCommit={(maxKa) => (maxKa === null || maxKa <= 0 || maxKa > 300 ? 'must be above 0 kA' : put({ maxKa }))}
          />
          <QuantityField
            stacked
            label="Smallest prospective current"
            unit="kA"
            value={given.minKa}
            onCommit={(minKa) => (minKa === null || minKa <= 0 || minKa > 300 ? 'must be above 0 kA' : put({ minKa }))}
          />
          <QuantityField
            stacked
            label="X/R"
            unit=""
            value={given.xOverR}
            onCommit={(xOverR) =>
              xOverR === null || xOverR <= 0 || xOverR > 100 ? 'must be above 0' : put({ xOverR })
            }
          />
          <Select
            size="xs"
            label="Earthing"
            allowDeselect={false}
            comboboxProps={{ withinPortal: false }}
            value={given.system}
            data={[...earthingSystems]}
            onChange={(next) => put({ system: next as FeedingGiven['system'] })}
          />
          <Select
            size="xs"
            label="Judged by"
            allowDeselect={false}
            comboboxProps={{ withinPortal: false }}
            value={given.rules}
            data={[
              { value: 'building', label: 'IEC 60364 (installations)' },
              { value: 'machine', label: 'IEC 60204-1 (machines)' },
            ]}
            onChange={(next) => put({ rules: next as FeedingGiven['rules'] })}
          />
          {problem && <span role="alert">{problem}</span>}
          <Button size="xs" disabled={problem !== null} onClick={draw}>
            Draw the board
          </Button>
        </Stack>
      </Popover.Dropdown>
    </Popover>
  );
}
