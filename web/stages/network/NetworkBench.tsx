'use client';

import { Button, Group, Kbd, Text } from '@mantine/core';
import { IconTrash } from '@tabler/icons-react';
import { kinds, nameOf, settingsId } from '@mesura/core/model/element';
import { find, settingsOf } from '@mesura/core/model/network';
import { useFindings } from '../../desk/findings';
import { Chip } from '../../desk/Chip';
import { ActionKey } from '../../diagram/around/ActionKey';
import { removeSelected } from '../../diagram/hands/putting';
import { ElementForm } from '../../card/ElementForm';
import { LoadHere } from '../../card/LoadHere';
import { ElementFaults } from '../faults/ElementFaults';
import { useProject, useProjectStore, useSelected } from '../../project/ProjectContext';
import { ChartPictureCard } from './ChartPictureCard';
import { JoinedTo, NoteText, SelectionCard } from './SelectionCard';
import { CouplingForm, LineTowerForm, OffDrawing, TowerForm } from './LineLinks';
import { familiesFor, FunctionsForm } from './FunctionsForm';
import { RelayForm } from './RelayForm';
import { TypeOf } from './TypeOf';
import bench from '../../card/bench.module.css';

/** Data of what is selected; of the project when nothing is. */
export function NetworkBench() {
  const store = useProjectStore();
  const selected = useSelected();
  const many = useProject((state) => state.selection.length);
  const network = useProject((state) => state.network);
  const { value: findings } = useFindings();
  const settings = network.elements.get(settingsId) ?? settingsOf(network);

  if (selected && selected.kind !== 'projectSettings') {
    const problems =
      findings?.filter(
        // What is assumed stands at its fields.
        ({ code, element, elements }) => code !== 'data.assumed' && (elements ?? [element]).includes(selected.id),
      ) ?? [];
    return (
      <section aria-label={`Data of ${nameOf(selected)}`}>
        <Group justify="space-between" mb={6}>
          <h2 className={bench.title}>
            {selected.kind === 'chartPicture' ? find(network, 'gradingChart', selected.chart)?.name : nameOf(selected)}{' '}
            <span className={bench.kind}>{kinds[selected.kind].title}</span>
          </h2>
          <Button
            size="compact-xs"
            variant="subtle"
            color="red"
            leftSection={<IconTrash size={14} />}
            onClick={() => removeSelected(store)}
          >
            Delete
          </Button>
        </Group>
        <TypeOf element={selected} />
        {problems.map((problem) => (
          <p key={problem.message} className={bench.problem}>
            <Chip state={problem.severity === 'error' ? 'fail' : 'warn'}>
              {problem.severity === 'error' ? 'error' : 'warning'}
            </Chip>{' '}
            {problem.message} {problem.todo && <span className={bench.muted}>{problem.todo}</span>}
          </p>
        ))}
        {selected.kind === 'textNote' ? (
          <NoteText note={selected} />
        ) : selected.kind === 'chartPicture' ? (
          <ChartPictureCard picture={selected} />
        ) : selected.kind === 'connection' ? (
          <Text size="sm" c="dimmed">
            A connection has no impedance and no data. Delete it with <ActionKey id="delete" />.
          </Text>
        ) : (
          <ElementForm key={selected.id} elements={[selected]} />
        )}
        {selected.kind === 'relay' && <RelayForm relay={selected} />}
        {selected.kind === 'switch' && familiesFor(selected).length > 0 && <FunctionsForm element={selected} />}
        {selected.kind === 'line' && <LineTowerForm line={selected} />}
        {selected.kind === 'tower' && <TowerForm tower={selected} />}
        {selected.kind === 'lineCoupling' && <CouplingForm coupling={selected} />}
        <JoinedTo element={selected} />
        {selected.kind === 'bus' && selected.system === 'ac' && <ElementFaults bus={selected} />}
        <LoadHere element={selected} />
      </section>
    );
  }
  if (many > 1) return <SelectionCard />;
  return (
    <section aria-label="Project settings">
      <h2 className={bench.title}>Project settings</h2>
      <ElementForm elements={[settings]} />
      <OffDrawing />
      <h3 className={bench.subtitle}>Drawing by hand</h3>
      <ul className={bench.help}>
        <li>
          Select a busbar, press <ActionKey id="feeder" />, then the keys of the symbols of a feeder:{' '}
          <ActionKey id="place-k" /> breaker, <ActionKey id="place-c" /> current transformer, <ActionKey id="place-l" />{' '}
          line, <ActionKey id="place-t" /> transformer, <ActionKey id="place-b" /> bus … <Kbd size="xs">Enter</Kbd> ends
          it, <ActionKey id="again" /> draws the same again.
        </li>
        <li>
          Pick a symbol above the drawing, or press its key, and click where it shall stand; dropped on a connection, it
          is inserted.
        </li>
        <li>
          Drag from terminal to terminal to connect; a busbar takes connections anywhere along it. What does not go
          together says why.
        </li>
        <li>
          Select to see and change data here. <Kbd size="xs">Shift</Kbd>-drag selects many, <ActionKey id="turn" />{' '}
          turns, arrow keys nudge, <ActionKey id="delete" /> deletes, <Kbd size="xs">Ctrl Z</Kbd> takes back.
        </li>
        <li>
          Fields take <span className="figure">11k</span>, <span className="figure">0.4 kV</span>,{' '}
          <span className="figure">2,5</span>, <span className="figure">1e3</span>. Every change is stored at once.
        </li>
        <li>
          <Kbd size="xs">Ctrl K</Kbd> finds any element or command, <Kbd size="xs">?</Kbd> lists all keys.
        </li>
      </ul>
    </section>
  );
}
