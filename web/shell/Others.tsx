'use client';

import { Tooltip, useComputedColorScheme } from '@mantine/core';
import { goTo, useDesk } from '../desk/deskState';
import { stageNamed } from '../desk/stage';
import { shadeOf, usePeople } from '../project/people';
import { useProjectStore } from '../project/ProjectContext';
import type { PersonHere } from '../project/protocol';
import { initials } from '../project/who';
import { deviceStyles } from '../theme/tokens';
import { nameOf } from '@mesura/core/model/element';
import person from '../desk/person.module.css';

const most = 4;

/** Who else has the project open; a click goes to where they are. */
export function Others() {
  const others = usePeople((state) => state.others);
  const store = useProjectStore();
  const scheme = useComputedColorScheme('light');
  const placeOf = ({ stage, selection }: PersonHere): string => {
    const { elements } = store.getState().network;
    const names = selection.flatMap((id) => elements.get(id) ?? []).map(nameOf);
    const some = names.length > 2 ? `${names.slice(0, 2).join(', ')} and ${names.length - 2} more` : names.join(', ');
    return [stageNamed(stage).title, some].filter(Boolean).join(' · ');
  };
  const follow = ({ stage, page, selection }: PersonHere) => {
    goTo(stageNamed(stage).id);
    useDesk.getState().set({ page });
    store.getState().select(selection);
  };
  if (others.length === 0) return null;
  return (
    <span role="group" aria-label="Also here" className={person.others}>
      {others.slice(0, most).map((each) => (
        <Tooltip key={each.client} label={`${each.name}: ${placeOf(each)}`}>
          <button
            type="button"
            className={person.other}
            style={{ background: deviceStyles[shadeOf(each.client)][scheme], color: 'var(--m-paper)' }}
            aria-label={`Go to ${each.name}: ${placeOf(each)}`}
            onClick={() => follow(each)}
          >
            {initials(each.name)}
          </button>
        </Tooltip>
      ))}
      {others.length > most && (
        <Tooltip
          label={others
            .slice(most)
            .map(({ name }) => name)
            .join(', ')}
        >
          <span className={person.more}>+{others.length - most}</span>
        </Tooltip>
      )}
    </span>
  );
}
