'use client';

import { useMemo } from 'react';
import { ownEntry, type LibraryEntry } from '@mesura/core/equipment/entry';
import type { LibraryEntryElement } from '@mesura/core/model/library';
import { useSharedList } from '../../desk/useSharedList';
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
  const { list, failed, act } = useSharedList<SharedType>('/types', 'types');
  const entries = useMemo(
    () => list.map(({ entry }): LibraryEntry => ({ ...ownEntry(entry), own: false, shared: true })),
    [list],
  );
  return {
    entries,
    failed,
    share: (entry) => act('Not shared', '/types', { method: 'POST', json: { entry, author: who() } }),
    unshare: (id) => act('Not taken out', `/types/${id}`, { method: 'DELETE' }),
  };
}
