'use client';

import { useMemo } from 'react';
import { Spotlight, type SpotlightActionGroupData } from '@mantine/spotlight';
import { kinds } from '@mesura/core/model/element';
import { useProject, useProjectStore } from '../project/ProjectContext';
import { goTo, stages, useDesk } from '../desk/deskState';
import { useGoToProblem } from '../desk/findings';

/** Find an element or do something: Ctrl K. */
export function Commands() {
  const store = useProjectStore();
  const network = useProject((state) => state.network);
  const projectId = useProject((state) => state.id);
  const go = useGoToProblem();
  const actions = useMemo<SpotlightActionGroupData[]>(
    () => [
      {
        group: 'Do',
        actions: [
          ...stages.map(({ id, title }) => ({ id: `stage-${id}`, label: `Go to ${title}`, onClick: () => goTo(id) })),
          { id: 'undo', label: 'Undo', onClick: () => store.getState().undoOne() },
          { id: 'redo', label: 'Redo', onClick: () => store.getState().redoOne() },
          { id: 'findings', label: 'Show findings', onClick: () => useDesk.getState().set({ findingsOpen: true }) },
          {
            id: 'export',
            label: 'Export project file',
            onClick: () => window.location.assign(`/api/projects/${projectId}/file`),
          },
        ],
      },
      {
        group: 'Find',
        actions: [...network.elements.values()].flatMap((element) =>
          'x' in element
            ? [
                {
                  id: element.id,
                  label: element.name,
                  description: kinds[element.kind].title,
                  onClick: () => {
                    const stage = useDesk.getState().stage;
                    go({ severity: 'warning', code: '', message: '', element: element.id });
                    goTo(stage);
                  },
                },
              ]
            : [],
        ),
      },
    ],
    [network, projectId, store, go],
  );
  return (
    <Spotlight
      actions={actions}
      shortcut="mod + K"
      limit={12}
      nothingFound="Nothing of that name"
      searchProps={{ placeholder: 'Find or do…', 'aria-label': 'Find or do' }}
      scrollable
      maxHeight={420}
    />
  );
}
