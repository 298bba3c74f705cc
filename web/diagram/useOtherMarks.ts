'use client';

import { useMemo } from 'react';
import { shadeOf, usePeople } from '../project/people';
import { initials } from '../project/who';
import { deviceStyles } from '../theme/tokens';
import type { OtherMark } from './picture/figures';

/** What others have selected, in their colours. */
export function useOtherMarks(scheme: 'light' | 'dark'): readonly OtherMark[] {
  const others = usePeople((state) => state.others);
  return useMemo(
    () =>
      others.flatMap(({ client, name, selection }) =>
        selection.map((id) => ({ id, color: deviceStyles[shadeOf(client)][scheme], label: initials(name) })),
      ),
    [others, scheme],
  );
}
