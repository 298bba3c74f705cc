'use client';

import { ActionIcon, Button, Checkbox, Group, MultiSelect, NumberInput, Select, TextInput } from '@mantine/core';
import { IconPlus, IconTrash } from '@tabler/icons-react';
import { kinds, nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { find, ofKind } from '@mesura/core/model/network';
import {
  currentInput,
  isStarPoint,
  starPointKinds,
  type Relay,
  type RelayInput,
  type TripCircuit,
} from '@mesura/core/model/protection';
import { entriesFor, secondaryIn, withEntry } from '@mesura/core/equipment/use';
import { newId } from '../../project/newId';
import { useProject } from '../../project/ProjectContext';
import { FunctionsForm } from './FunctionsForm';
import card from '../../card/card.module.css';
import bench from '../../card/bench.module.css';

const row = { root: card.row, label: card.label };

/** Where a relay measures, what it trips, and its functions. */
export function RelayForm({ relay }: { relay: Relay }) {
  const commit = useProject((state) => state.commit);
  const network = useProject((state) => state.network);
  const store = (changed: Relay, what: string) =>
    void commit([{ op: 'update', element: changed }], `${relay.name}: ${what}`);
  const types = entriesFor(network, 'relay');
  const setDevice = (id: string | null) => {
    const type = types.find((each) => each.id === id);
    const changed = type && withEntry(relay, type, secondaryIn(network, relay));
    if (changed) store(changed, `type ${type.title}`);
  };
  const putInput = (input: RelayInput, what: string) =>
    store({ ...relay, inputs: relay.inputs.map((each) => (each.id === input.id ? input : each)) }, what);
  const putCircuit = (circuit: TripCircuit, what: string) =>
    store({ ...relay, circuits: relay.circuits.map((each) => (each.id === circuit.id ? circuit : each)) }, what);
  const addInput = (type: RelayInput['type']) =>
    store(
      {
        ...relay,
        inputs: [
          ...relay.inputs,
          {
            ...currentInput(null),
            id: newId(),
            type,
            star: isStarPoint({ type }) ? { side: 0, primaryA: 100, secondaryA: 1 } : null,
          },
        ],
      },
      `add a ${type} input`,
    );
  const add = (label: string, act: () => void) => (
    <Button size="compact-xs" variant="subtle" leftSection={<IconPlus size={13} />} onClick={act}>
      {label}
    </Button>
  );
  return (
    <>
      <h3 className={bench.subtitle}>Measuring and tripping</h3>
      <div className={card.form}>
        <Select
          label="Type"
          size="xs"
          searchable
          placeholder={relay.device}
          data={types.map(({ id, title }) => ({ value: id, label: title }))}
          value={relay.entry ?? types.find(({ title }) => title === relay.device)?.id ?? null}
          onChange={setDevice}
          classNames={row}
        />
        {relay.inputs.map((input, k) => (
          <InputFields
            key={input.id}
            input={input}
            number={relay.inputs.length > 1 ? ` ${k + 1}` : ''}
            onChange={putInput}
            onRemove={
              relay.inputs.length > 1 && !relay.functions.some((fn) => fn.input === input.id)
                ? () => store({ ...relay, inputs: relay.inputs.filter(({ id }) => id !== input.id) }, 'remove an input')
                : undefined
            }
          />
        ))}
        {relay.circuits.map((circuit) => (
          <CircuitFields
            key={circuit.id}
            circuit={circuit}
            only={relay.circuits.length === 1}
            onChange={putCircuit}
            onRemove={() =>
              store(
                {
                  ...relay,
                  circuits: relay.circuits.filter(({ id }) => id !== circuit.id),
                  functions: relay.functions.map((fn) => ({
                    ...fn,
                    circuits: fn.circuits.filter((id) => id !== circuit.id),
                  })),
                },
                'remove a trip circuit',
              )
            }
          />
        ))}
        <Group gap={4}>
          {add('Current input', () => addInput('current'))}
          {add('Voltage input', () => addInput('voltage'))}
          {add('Star-point input', () => addInput('neutral'))}
          {add('Trip circuit', () =>
            store(
              {
                ...relay,
                circuits: [...relay.circuits, { id: newId(), name: `Trip ${relay.circuits.length + 1}`, breakers: [] }],
              },
              'add a trip circuit',
            ),
          )}
        </Group>
      </div>
      <FunctionsForm element={relay} />
    </>
  );
}

function InputFields({
  input,
  number,
  onChange,
  onRemove,
}: {
  input: RelayInput;
  /** Beside the label, where there are several. */
  number: string;
  onChange: (input: RelayInput, what: string) => void;
  onRemove?: () => void;
}) {
  const network = useProject((state) => state.network);
  const ct = find(network, 'currentTransformer', input.element);
  const at =
    input.type === 'current'
      ? (['currentTransformer'] as const)
      : input.type === 'voltage'
        ? (['voltageTransformer'] as const)
        : starPointKinds;
  const title = input.type in starTitles ? 'Star point of' : kinds[at[0]].title;
  return (
    <>
      <Group gap={4} wrap="nowrap" align="flex-end">
        <Select
          style={{ flex: 1 }}
          label={`${title}${number}`}
          size="xs"
          searchable
          clearable
          data={at.flatMap((kind) => ofKind(network, kind).map((each) => ({ value: each.id, label: each.name })))}
          value={input.element}
          onChange={(id) => onChange({ ...input, element: id as ElementId | null }, title.toLowerCase())}
          classNames={row}
        />
        {onRemove && (
          <ActionIcon variant="subtle" color="red" size={26} aria-label={`Remove input${number}`} onClick={onRemove}>
            <IconTrash size={14} />
          </ActionIcon>
        )}
      </Group>
      {input.star && <StarFields input={input} star={input.star} number={number} onChange={onChange} />}
      {input.type === 'current' && (
        <>
          <Select
            label={`Protected side${number}`}
            size="xs"
            allowDeselect={false}
            disabled={!ct}
            data={[
              { value: '1', label: ct ? sideName(ct.turn, 1) : 'terminal 2' },
              { value: '0', label: ct ? sideName(ct.turn, 0) : 'terminal 1' },
            ]}
            value={String(input.towards)}
            onChange={(side) => onChange({ ...input, towards: Number(side) as 0 | 1 }, 'protected side')}
            classNames={row}
          />
          <Checkbox
            size="xs"
            label={`Polarity reversed${number}`}
            checked={input.reversed}
            onChange={(event) => onChange({ ...input, reversed: event.currentTarget.checked }, 'polarity')}
          />
        </>
      )}
    </>
  );
}

const starTitles = { neutral: 'in its neutral', winding: 'through its windings' } as const;
const sideTitles = ['HV', 'MV or LV', 'LV'];

/** A current transformer at a star point, which is not drawn. */
function StarFields({
  input,
  star,
  number,
  onChange,
}: {
  input: RelayInput;
  star: NonNullable<RelayInput['star']>;
  number: string;
  onChange: (input: RelayInput, what: string) => void;
}) {
  const network = useProject((state) => state.network);
  const element = input.element && network.elements.get(input.element);
  const sides = element ? Math.min(kinds[element.kind].terminals, 3) : 1;
  const put = (more: Partial<typeof star>, what: string) => onChange({ ...input, star: { ...star, ...more } }, what);
  const current = (field: 'primaryA' | 'secondaryA', label: string) => (
    <NumberInput
      label={`${label}${number}`}
      size="xs"
      min={0.01}
      defaultValue={star[field]}
      rightSection={<span className={card.unit}>A</span>}
      classNames={row}
      onBlur={(event) => {
        const value = Number(event.currentTarget.value);
        if (value > 0 && value !== star[field]) put({ [field]: value }, label.toLowerCase());
      }}
    />
  );
  return (
    <>
      <Select
        label={`Measured${number}`}
        size="xs"
        allowDeselect={false}
        data={Object.entries(starTitles).map(([value, label]) => ({ value, label }))}
        value={input.type}
        onChange={(type) => onChange({ ...input, type: type as RelayInput['type'] }, 'what is measured')}
        classNames={row}
      />
      {sides > 1 && (
        <Select
          label={`Side${number}`}
          size="xs"
          allowDeselect={false}
          data={Array.from({ length: sides }, (_, k) => ({
            value: String(k),
            label: sides === 2 && k === 1 ? 'LV' : sideTitles[k],
          }))}
          value={String(Math.min(star.side, sides - 1))}
          onChange={(side) => put({ side: Number(side) }, 'side')}
          classNames={row}
        />
      )}
      {current('primaryA', 'Primary current')}
      {current('secondaryA', 'Secondary current')}
      <Checkbox
        size="xs"
        label={`Polarity reversed${number}`}
        checked={input.reversed}
        onChange={(event) => onChange({ ...input, reversed: event.currentTarget.checked }, 'polarity')}
      />
    </>
  );
}

function CircuitFields({
  circuit,
  only,
  onChange,
  onRemove,
}: {
  circuit: TripCircuit;
  only: boolean;
  onChange: (circuit: TripCircuit, what: string) => void;
  onRemove: () => void;
}) {
  const network = useProject((state) => state.network);
  return (
    <>
      {!only && (
        <Group gap={4} wrap="nowrap" align="flex-end">
          <TextInput
            style={{ flex: 1 }}
            label="Trip circuit"
            size="xs"
            defaultValue={circuit.name}
            maxLength={40}
            classNames={row}
            onBlur={(event) => {
              const name = event.currentTarget.value.trim();
              if (name && name !== circuit.name) onChange({ ...circuit, name }, 'trip circuit');
            }}
          />
          <ActionIcon variant="subtle" color="red" size={26} aria-label={`Remove ${circuit.name}`} onClick={onRemove}>
            <IconTrash size={14} />
          </ActionIcon>
        </Group>
      )}
      <MultiSelect
        label={only ? 'Trips' : `${circuit.name} opens`}
        size="xs"
        searchable
        data={ofKind(network, 'switch')
          .filter(({ type }) => type === 'breaker' || type === 'recloser' || type === 'contactor')
          .map((each) => ({ value: each.id, label: nameOf(each) }))}
        value={circuit.breakers}
        onChange={(ids) => onChange({ ...circuit, breakers: ids as ElementId[] }, 'trips')}
      />
    </>
  );
}

/** Side of a CT as it stands on the drawing: terminal 1 lies below an unturned one. */
const sideName = (turn: number, terminal: 0 | 1): string =>
  ['below', 'to the left', 'above', 'to the right'][(turn / 90 + (terminal === 1 ? 0 : 2)) % 4];
