'use client';

import { ActionIcon, Button, Select, Text, Tooltip } from '@mantine/core';
import { IconUnlink } from '@tabler/icons-react';
import { connectionsAt } from '@mesura/core/drawing/wires/splice';
import { isDrawn } from '@mesura/core/drawing/shape/shapes';
import { kinds, nameOf, type Element, type ElementKind } from '@mesura/core/model/element';
import type { TextNote } from '@mesura/core/model/sheet';
import { ElementForm } from '../../card/ElementForm';
import { LongText } from '../../card/LongText';
import { ActionKey } from '../../diagram/around/ActionKey';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import bench from '../../card/bench.module.css';

/** Several elements: of one kind they are changed together; of several kinds, one kind is picked first. */
export function SelectionCard() {
  const network = useProject((state) => state.network);
  const selection = useProject((state) => state.selection);
  const select = useProject((state) => state.select);
  const elements = selection.flatMap((id) => network.elements.get(id) ?? []);
  const byKind = new Map<ElementKind, Element[]>();
  for (const element of elements) byKind.set(element.kind, [...(byKind.get(element.kind) ?? []), element]);
  const [only] = byKind.size === 1 ? [...byKind] : [];
  const editable = only && !['connection', 'textNote', 'panel', 'chartPicture'].includes(only[0]);
  return (
    <section aria-label="Selection">
      <h2 className={bench.title}>
        {elements.length} elements selected {only && <span className={bench.kind}>{kinds[only[0]].title}</span>}
      </h2>
      {editable ? (
        <>
          <Text size="sm" c="dimmed" my={6}>
            A value typed here is stored in all of them, as one change.
          </Text>
          <ElementForm key={selection.join()} elements={only[1]} />
        </>
      ) : (
        <>
          <Text size="sm" c="dimmed" my={6}>
            Drag one to move them all; arrow keys nudge, <ActionKey id="turn" /> turns, <ActionKey id="delete" />{' '}
            deletes. Choose one kind to change its data together:
          </Text>
          <Button.Group orientation="vertical" style={{ maxWidth: 320 }}>
            {[...byKind].map(([kind, list]) => (
              <Button
                key={kind}
                size="xs"
                variant="default"
                justify="space-between"
                rightSection={<span className="figure">{list.length}</span>}
                onClick={() => select(list.map(({ id }) => id))}
              >
                {kinds[kind].title}
              </Button>
            ))}
          </Button.Group>
        </>
      )}
    </section>
  );
}

/** What an element is connected to: each can be gone to, each connection taken away. */
export function JoinedTo({ element }: { element: Element }) {
  const network = useProject((state) => state.network);
  const store = useProjectStore();
  if (!isDrawn(element)) return null;
  const connections = connectionsAt(network).get(element.id) ?? [];
  if (connections.length === 0) return null;
  return (
    <section aria-label="Connected to">
      <h3 className={bench.subtitle}>Connected to</h3>
      <ul className={bench.joined}>
        {connections.map((connection) => {
          const [own, far] =
            connection.from.element === element.id
              ? [connection.from, connection.to]
              : [connection.to, connection.from];
          const other = network.elements.get(far.element);
          if (!other) return null;
          return (
            <li key={connection.id}>
              {kinds[element.kind].terminals > 1 && <span className={bench.muted}>terminal {own.terminal + 1}: </span>}
              <button type="button" className={bench.input} onClick={() => store.getState().select([other.id])}>
                {nameOf(other)}
              </button>{' '}
              <span className={bench.muted}>{kinds[other.kind].title.toLowerCase()}</span>
              <Tooltip label="Disconnect" openDelay={300}>
                <ActionIcon
                  size={18}
                  variant="subtle"
                  color="gray"
                  aria-label={`Disconnect ${nameOf(other)}`}
                  onClick={() =>
                    store
                      .getState()
                      .commit(
                        [{ op: 'remove', id: connection.id }],
                        `Disconnect ${nameOf(element)} and ${nameOf(other)}`,
                      )
                  }
                >
                  <IconUnlink size={13} />
                </ActionIcon>
              </Tooltip>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

/** Text of a note on the drawing. */
export function NoteText({ note }: { note: TextNote }) {
  const commit = useProject((state) => state.commit);
  const store = (changed: TextNote) => commit([{ op: 'update', element: changed }], 'Change note');
  return (
    <>
      <LongText
        key={`${note.id} ${note.text}`}
        label="Text"
        minRows={2}
        maxRows={12}
        value={note.text}
        store={(text) => text.trim() !== '' && store({ ...note, text })}
      />
      <Select
        label="Size"
        size="xs"
        mt={6}
        w={160}
        allowDeselect={false}
        data={['small', 'normal', 'large']}
        value={note.size}
        onChange={(size) => store({ ...note, size: size as TextNote['size'] })}
      />
    </>
  );
}
