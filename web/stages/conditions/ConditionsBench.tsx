'use client';

import { ActionIcon, Button, NumberInput, Select, Tooltip } from '@mantine/core';
import { IconCopy, IconTrash, IconX } from '@tabler/icons-react';
import { useState } from 'react';
import type { Condition } from '@mesura/core/model/condition';
import { conditionChanges, conditionSummary, without, withTap, withVoltage } from '@mesura/core/model/conditionEdit';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { ofKind, type Network } from '@mesura/core/model/network';
import { isBuiltIn } from '@mesura/core/model/state';
import { TextField } from '../../card/TextField';
import { LongText } from '../../card/LongText';
import { useCondition, useConditions } from '../../desk/condition';
import { useDesk } from '../../desk/deskState';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { commitCondition, duplicate, remove } from './edit';
import card from '../../card/card.module.css';
import bench from '../../card/bench.module.css';

/** The conditions of the project, and what the chosen one changes of the network as drawn. */
export function ConditionsBench() {
  const store = useProjectStore();
  const network = useProject((state) => state.network);
  const conditions = useConditions();
  const chosen = useCondition();
  const choose = (id: ElementId) => useDesk.getState().set({ condition: id });
  return (
    <section aria-label="Conditions">
      <div className={bench.head}>
        <h2 className={bench.title}>Conditions</h2>
        <span className={bench.spacer} />
        <Button
          size="compact-xs"
          leftSection={<IconCopy size={13} />}
          onClick={() => duplicate(store, chosen)}
          title="A new condition like the one chosen, to be changed on the drawing"
        >
          Duplicate
        </Button>
      </div>
      <table className={bench.table} aria-label="Conditions">
        <thead>
          <tr>
            <th>Condition</th>
            <th>Sources</th>
            <th>Changes</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {conditions.map((condition) => (
            <tr
              key={condition.id}
              data-clickable
              data-active={condition.id === chosen.id || undefined}
              tabIndex={0}
              onClick={() => choose(condition.id)}
              onKeyDown={(event) =>
                event.target === event.currentTarget && event.key === 'Enter' && choose(condition.id)
              }
            >
              <td>{condition.name}</td>
              <td>{condition.sources}</td>
              <td>
                {conditionSummary(network, condition) || (
                  <span className={bench.muted}>{isBuiltIn(condition.id) ? 'always there' : 'none yet'}</span>
                )}
              </td>
              <td style={{ width: 26 }}>
                {!isBuiltIn(condition.id) && (
                  <Tooltip label="Delete" openDelay={300}>
                    <ActionIcon
                      variant="subtle"
                      color="gray"
                      size={20}
                      aria-label={`Delete ${condition.name}`}
                      onClick={(event) => {
                        event.stopPropagation();
                        remove(store, condition);
                      }}
                    >
                      <IconTrash size={13} />
                    </ActionIcon>
                  </Tooltip>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {isBuiltIn(chosen.id) ? (
        <p className={bench.muted} style={{ marginTop: 12 }}>
          {chosen.name}: the network as drawn. Duplicate it to change switch positions, outages, machines, taps or
          voltages.
        </p>
      ) : (
        <ConditionCard key={chosen.id} condition={chosen} />
      )}
    </section>
  );
}

function ConditionCard({ condition }: { condition: Condition }) {
  const store = useProjectStore();
  const network = useProject((state) => state.network);
  const put = (changed: Condition, what: string) => commitCondition(store, changed, what);
  const changes = conditionChanges(condition);
  const name = (id: ElementId) => {
    const element = network.elements.get(id);
    return element ? nameOf(element) : '?';
  };
  return (
    <article className={bench.card} aria-label={`Condition ${condition.name}`} style={{ marginTop: 12 }}>
      <div className={bench.cardBody}>
        <div className={card.form}>
          <TextField
            label="Name"
            value={condition.name}
            onCommit={(text) => put({ ...condition, name: text.trim() }, 'name')}
          />
          <Select
            label="Sources"
            size="xs"
            allowDeselect={false}
            data={['maximum', 'minimum']}
            value={condition.sources}
            onChange={(sources) => put({ ...condition, sources: sources as Condition['sources'] }, 'sources')}
            classNames={{ root: card.row, label: card.label }}
          />
        </div>
        <h3 className={bench.subtitle}>Changes</h3>
        <p className={bench.muted} style={{ margin: '0 0 4px' }}>
          Click switches, lines, transformers, machines or loads on the drawing: each click takes the next state, the
          last one that of the network as drawn.
        </p>
        {changes.length > 0 && (
          <table className={bench.table} aria-label="Changes of the condition">
            <tbody>
              {changes.map((change) => (
                <tr key={`${change.field} ${change.element}`}>
                  <td>
                    <button
                      type="button"
                      className={bench.input}
                      onClick={() => store.getState().select([change.element])}
                    >
                      {name(change.element)}
                    </button>
                  </td>
                  <td>{change.text}</td>
                  <td style={{ width: 26 }}>
                    <ActionIcon
                      variant="subtle"
                      color="gray"
                      size={20}
                      aria-label={`Take back: ${name(change.element)} ${change.text}`}
                      onClick={() => put(without(condition, change), `${name(change.element)} as drawn`)}
                    >
                      <IconX size={13} />
                    </ActionIcon>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        <ValueAdder
          label="Tap position"
          what="tap"
          elements={tapped(network)}
          limits={(id) => {
            const element = network.elements.get(id);
            const steps = element && 'tap' in element ? element.tap.steps : 0;
            return [-steps, steps];
          }}
          onAdd={(id, value) => put(withTap(condition, id, Math.round(value)), `tap of ${name(id)}`)}
        />
        <ValueAdder
          label="Operating voltage, % Un"
          what="voltage"
          elements={ofKind(network, 'networkFeeder')}
          limits={() => [51, 150]}
          onAdd={(id, value) => put(withVoltage(condition, id, value), `voltage of ${name(id)}`)}
        />
        <LongText
          key={`${condition.id} ${condition.note}`}
          label="Note"
          minRows={1}
          maxRows={8}
          mt={8}
          value={condition.note}
          store={(note) => put({ ...condition, note }, 'note') === null}
        />
      </div>
    </article>
  );
}

const tapped = (network: Network) =>
  [...ofKind(network, 'transformer'), ...ofKind(network, 'threeWindingTransformer')].filter(
    ({ tap }) => tap.side !== 'none',
  );

/** Sets a value of an element in the condition. */
function ValueAdder({
  label,
  what,
  elements,
  limits,
  onAdd,
}: {
  label: string;
  what: string;
  elements: readonly { readonly id: ElementId; readonly name: string }[];
  limits: (id: ElementId) => [number, number];
  onAdd: (id: ElementId, value: number) => void;
}) {
  const [id, setId] = useState<string | null>(null);
  const [value, setValue] = useState<number | string>('');
  if (elements.length === 0) return null;
  const [low, high] = id ? limits(id as ElementId) : [-Infinity, Infinity];
  const number = typeof value === 'number' ? value : NaN;
  const ready = id !== null && number >= low && number <= high;
  return (
    <div className={bench.head} style={{ marginTop: 8, marginBottom: 0 }}>
      <span className={bench.muted}>{label}:</span>
      <Select
        size="xs"
        w={150}
        searchable
        placeholder="of"
        aria-label={`Element of the ${what}`}
        data={elements.map((each) => ({ value: each.id, label: each.name }))}
        value={id}
        onChange={setId}
      />
      <NumberInput
        size="xs"
        w={80}
        aria-label={`Value of the ${what}`}
        value={value}
        onChange={setValue}
        min={Number.isFinite(low) ? low : undefined}
        max={Number.isFinite(high) ? high : undefined}
      />
      <Button
        size="compact-xs"
        variant="light"
        disabled={!ready}
        aria-label={`Set ${what}`}
        onClick={() => {
          onAdd(id as ElementId, number);
          setId(null);
          setValue('');
        }}
      >
        Set
      </Button>
    </div>
  );
}
