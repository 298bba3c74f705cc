'use client';

import { useEffect, useMemo, useRef, useState } from 'react';
import { Spotlight, type SpotlightActionGroupData } from '@mantine/spotlight';
import { kinds, nameOf } from '@mesura/core/model/element';
import { useProject } from '../project/ProjectContext';
import { keyName, type Action } from '../desk/actions';
import { goTo, showStage, useDesk } from '../desk/deskState';
import { useGoToProblem } from '../desk/findings';
import { stageNamed } from '../desk/stage';
import { search, searchStore } from '../desk/search';
import { isInField } from '../desk/typing';
import { firstOf, ranked } from './ranked';
import classes from './desk.module.css';

const unnamed = ['connection', 'projectSettings', 'chartPicture'];

/** Find an element or do something: Ctrl K. */
export function Commands({ actions }: { actions: readonly Action[] }) {
  const network = useProject((state) => state.network);
  const stage = useDesk((state) => state.stage);
  const go = useGoToProblem();
  const [query, setQuery] = useState('');
  const groups = useMemo<SpotlightActionGroupData[]>(
    () => [
      {
        group: 'Do',
        actions: actions
          .filter(({ id, editing }) => id !== 'commands' && (!editing || stageNamed(stage).editsDrawing))
          .map(({ id, title, keys, run }) => ({
            id: `do-${id}`,
            label: title,
            onClick: () => void run(),
            rightSection: keys.length > 0 ? <span className={classes.keyOf}>{keyName(keys[0])}</span> : undefined,
          })),
      },
      {
        group: 'Find',
        actions: [...network.elements.values()].flatMap((element) =>
          unnamed.includes(element.kind)
            ? []
            : [
                {
                  id: element.id,
                  label: nameOf(element),
                  description: kinds[element.kind].title,
                  onClick: () => {
                    const { stage: here, set } = useDesk.getState();
                    if (element.kind === 'page') return set({ page: element.id });
                    if (showStage(element.id, element.kind)) return;
                    go({ severity: 'warning', code: '', message: '', element: element.id });
                    goTo(here);
                  },
                },
              ],
        ),
      },
    ],
    [actions, network, stage, go],
  );
  const latest = useRef({ query, groups });
  useEffect(() => {
    latest.current = { query, groups };
  }, [query, groups]);
  useEffect(() => {
    // Whoever types on at once loses no letter while the field does not have the focus yet, nor Enter before an entry is highlighted.
    const down = (event: KeyboardEvent) => {
      if (!searchStore.getState().opened || event.ctrlKey || event.metaKey) return;
      if (event.key === 'Enter') {
        const best = firstOf(latest.current.query, latest.current.groups);
        if (!best) return;
        event.stopImmediatePropagation();
        search.close();
        best.onClick?.(event as never);
      } else if (event.key.length === 1 && !isInField()) {
        event.preventDefault();
        latest.current = { ...latest.current, query: latest.current.query + event.key };
        setQuery(latest.current.query);
      }
    };
    window.addEventListener('keydown', down);
    return () => window.removeEventListener('keydown', down);
  }, []);
  return (
    <Spotlight
      store={searchStore}
      query={query}
      onQueryChange={setQuery}
      actions={groups}
      filter={ranked}
      shortcut={null}
      // Gone at once: what is typed after the next Ctrl K is a search of its own.
      transitionProps={{ duration: 0 }}
      limit={14}
      nothingFound="Nothing of that name"
      searchProps={{ placeholder: 'Find or do…', 'aria-label': 'Find or do' }}
      scrollable
      maxHeight={420}
    />
  );
}
