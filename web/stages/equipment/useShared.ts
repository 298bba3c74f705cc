'use client';

import { useCallback, useEffect, useMemo, useState } from 'react';
import { ownEntry, type LibraryEntry } from '@mesura/core/equipment/entry';
import type { LibraryEntryElement } from '@mesura/core/model/library';
import { tell } from '../../desk/report';
import { api } from '../../project/api';
import { who } from '../../project/who';
import type { SharedType } from '../../server/sharedTypes';

interface Shared {
  readonly entries: readonly LibraryEntry[];
  /** Why they are not known. */
  readonly failed: string | null;
  share(entry: LibraryEntryElement): Promise<boolean>;
  unshare(id: string): Promise<boolean>;
}

/** Types that all projects of this installation share; read when the stage is entered. */
export function useShared(): Shared {
  const [types, setTypes] = useState<readonly SharedType[]>([]);
  const [failed, setFailed] = useState<string | null>(null);
  const ask = useCallback(async (path: string, init: Parameters<typeof api>[1] = {}) => {
    const answer = await api<{ types: SharedType[] }>(path, init);
    setTypes(answer.types);
    setFailed(null);
  }, []);
  useEffect(() => {
    // eslint-disable-next-line react-hooks/set-state-in-effect -- the answer of the server arrives later
    ask('/types').catch((error: unknown) => setFailed((error as Error).message));
  }, [ask]);
  const entries = useMemo(
    () => types.map(({ entry }): LibraryEntry => ({ ...ownEntry(entry), own: false, shared: true })),
    [types],
  );
  const act = async (title: string, path: string, init: Parameters<typeof api>[1]) => {
    try {
      await ask(path, init);
      return true;
    } catch (error) {
      tell(title, (error as Error).message);
      return false;
    }
  };
  return {
    entries,
    failed,
    share: (entry) => act('Not shared', '/types', { method: 'POST', json: { entry, author: who() } }),
    unshare: (id) => act('Not taken out', `/types/${id}`, { method: 'DELETE' }),
  };
}
