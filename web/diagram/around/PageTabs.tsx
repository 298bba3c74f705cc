'use client';

import { Menu, ActionIcon, TextInput, Tooltip } from '@mantine/core';
import { IconDots, IconPlus } from '@tabler/icons-react';
import { useState } from 'react';
import { isPlaced } from '@mesura/core/drawing/shape/shapes';
import { removalOf, type Change } from '@mesura/core/model/changes';
import { freeName } from '@mesura/core/model/defaults';
import type { ElementOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { ofKind } from '@mesura/core/model/network';
import { useDesk } from '../../desk/deskState';
import { newId } from '../../project/newId';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { report } from '../../desk/report';
import classes from '../diagram.module.css';

/** Pages of the drawing. With one page there is nothing to choose, and only the button to add another is shown. */
export function PageTabs({ editable }: { editable: boolean }) {
  const store = useProjectStore();
  const network = useProject((state) => state.network);
  const selection = useProject((state) => state.selection);
  const page = useDesk((state) => state.page);
  const set = useDesk((state) => state.set);
  const [naming, setNaming] = useState<ElementId | null>(null);
  const pages = ofKind(network, 'page');
  if (pages.length === 0) return null;
  const rename = (element: ElementOf<'page'>, name: string) => {
    setNaming(null);
    if (name.trim() && name !== element.name)
      report(
        store
          .getState()
          .commit([{ op: 'update', element: { ...element, name: name.trim() } }], `Rename page ${element.name}`),
      );
  };
  return (
    <div className={classes.pages} data-floats="bottom">
      <div role="tablist" aria-label="Pages of the drawing" style={{ display: 'flex', gap: 'inherit' }}>
        {[null, ...pages].map((each) =>
          each && naming === each.id ? (
            <TextInput
              key={each.id}
              size="xs"
              w={120}
              autoFocus
              defaultValue={each.name}
              aria-label="Name of the page"
              onBlur={(event) => rename(each, event.currentTarget.value)}
              onKeyDown={(event) => {
                if (event.key === 'Enter') event.currentTarget.blur();
                if (event.key === 'Escape') setNaming(null);
              }}
            />
          ) : (
            <button
              key={each?.id ?? 'first'}
              type="button"
              role="tab"
              className={classes.page}
              aria-selected={page === (each?.id ?? null)}
              onClick={() => {
                // What is out of sight must not be deleted with the next key.
                store.getState().select([]);
                set({ page: each?.id ?? null });
              }}
              onDoubleClick={() => editable && each && setNaming(each.id)}
            >
              {each?.name ?? 'First page'}
            </button>
          ),
        )}
      </div>
      {editable && (
        <>
          <Tooltip label="Add page">
            <ActionIcon size={22} variant="subtle" color="gray" aria-label="Add page" onClick={() => addPage(store)}>
              <IconPlus size={14} />
            </ActionIcon>
          </Tooltip>
          <Menu>
            <Menu.Target>
              <ActionIcon size={22} variant="subtle" color="gray" aria-label="More for pages">
                <IconDots size={14} />
              </ActionIcon>
            </Menu.Target>
            <Menu.Dropdown>
              <Menu.Label>Move what is selected to</Menu.Label>
              {[null, ...pages].map((each) => (
                <Menu.Item
                  key={each?.id ?? 'first'}
                  disabled={selection.length === 0 || (each?.id ?? null) === page}
                  onClick={() => moveToPage(store, each?.id ?? null)}
                >
                  {each?.name ?? 'First page'}
                </Menu.Item>
              ))}
              <Menu.Divider />
              <Menu.Item disabled={page === null} onClick={() => setNaming(page)}>
                Rename this page
              </Menu.Item>
              <Menu.Item
                disabled={page === null}
                color="red"
                onClick={() => {
                  const gone = page!;
                  set({ page: null });
                  const { network: now, commit } = store.getState();
                  report(commit(removalOf(now, [gone]), 'Remove page, its contents to the first'));
                }}
              >
                Remove this page, its contents to the first
              </Menu.Item>
            </Menu.Dropdown>
          </Menu>
        </>
      )}
    </div>
  );
}

export function addPage(store: ReturnType<typeof useProjectStore>): void {
  const { network, commit } = store.getState();
  const element: ElementOf<'page'> = { kind: 'page', id: newId(), name: freeName(network.elements.values(), 'Page ') };
  if (report(commit([{ op: 'add', element }], `Add ${element.name}`))) useDesk.getState().set({ page: element.id });
}

/** What is selected to another page; runs that are cut go on as links. */
export function moveToPage(store: ReturnType<typeof useProjectStore>, page: ElementId | null): void {
  const { network, selection, commit } = store.getState();
  const changes = selection.flatMap((id): Change[] => {
    const element = network.elements.get(id);
    if (!element || !isPlaced(element)) return [];
    const { page: _page, ...rest } = element;
    return [{ op: 'update', element: (page ? { ...rest, page } : rest) as typeof element }];
  });
  if (changes.length > 0 && report(commit(changes, `Move ${changes.length} elements to another page`)))
    useDesk.getState().set({ page });
}
