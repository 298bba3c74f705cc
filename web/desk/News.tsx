'use client';

import { useEffect } from 'react';
import { useDesk } from './deskState';
import { api } from '../project/api';
import { Live } from '../project/live';
import { usePeople } from '../project/people';
import { useProject, useProjectStore } from '../project/ProjectContext';
import { who } from '../project/who';

/** Where one is, is told so long after one came to rest. */
const restMs = 250;
const mostSelected = 50;

/** Hears what others store and where they are, and tells where this page is. A component of its own: a selection draws nothing else anew. */
export function News(): null {
  const store = useProjectStore();
  const id = useProject((state) => state.id);
  useEffect(() => {
    const live = new Live({
      open: () => new EventSource(`/api/projects/${id}/live?client=${encodeURIComponent(store.client)}`),
      revision: (revision) => store.getState().heard(revision),
      people: (others) => usePeople.setState({ others }),
      live: (yes) => usePeople.setState(yes ? { live: true } : { live: false, others: [] }),
      later: (act, ms) => {
        const timer = setTimeout(act, ms);
        return () => clearTimeout(timer);
      },
    });
    const look = () => (document.visibilityState === 'visible' ? live.start() : live.stop());
    look();
    document.addEventListener('visibilitychange', look);
    return () => {
      document.removeEventListener('visibilitychange', look);
      live.stop();
    };
  }, [store, id]);

  const stage = useDesk((state) => state.stage);
  const page = useDesk((state) => state.page);
  const selection = useProject((state) => state.selection);
  const isLive = usePeople((state) => state.live);
  useEffect(() => {
    if (!isLive) return;
    const timer = setTimeout(() => {
      const json = { client: store.client, name: who(), stage, page, selection: selection.slice(0, mostSelected) };
      // Told anew with the next move, or when the stream comes back.
      api(`/projects/${id}/presence`, { method: 'POST', json }).catch(() => undefined);
    }, restMs);
    return () => clearTimeout(timer);
  }, [store, id, stage, page, selection, isLive]);
  return null;
}
