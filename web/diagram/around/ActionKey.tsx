'use client';

import { useMemo } from 'react';
import { Kbd } from '@mantine/core';
import { keyName } from '../../desk/actions';
import { useProjectStore } from '../../project/ProjectContext';
import { drawingActions } from '../hands/actions';

/** Keys of the actions on the drawing, as they are printed on the keyboard. Hints ask here, so that they say what the keys do now. */
export function useActionKeys(): (id: string) => string {
  const store = useProjectStore();
  return useMemo(() => {
    const keys = new Map(drawingActions(store).map((action) => [action.id, action.keys]));
    return (id) => {
      const [first] = keys.get(id) ?? [];
      if (first === undefined) throw new Error(`no key for ${id}`);
      return keyName(first);
    };
  }, [store]);
}

export function ActionKey({ id }: { id: string }) {
  return <Kbd size="xs">{useActionKeys()(id)}</Kbd>;
}
