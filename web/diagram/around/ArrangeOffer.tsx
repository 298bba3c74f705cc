'use client';

import { useMemo, useState } from 'react';
import { Button, CloseButton } from '@mantine/core';
import { useProjectStore } from '../../project/ProjectContext';
import { arrangePage } from '../hands/arrangePage';
import type { Scene } from '../picture/scene';
import { isHeaped } from '../picture/shown';
import classes from '../diagram.module.css';

/** Where symbols lie on each other, as in an import without places: the offer to arrange the page. */
export function ArrangeOffer({ scene }: { scene: Scene }) {
  const store = useProjectStore();
  const [declined, setDeclined] = useState<Scene['page'] | 'none'>('none');
  const heaped = useMemo(() => isHeaped(scene.placed), [scene]);
  if (!heaped || declined === scene.page) return null;
  return (
    <div className={classes.offer} data-floats="top">
      <span role="status">Symbols lie on each other.</span>
      <Button size="compact-xs" variant="light" onClick={() => void arrangePage(store)}>
        Arrange the page
      </Button>
      <CloseButton size="xs" aria-label="Leave them as they are" onClick={() => setDeclined(scene.page)} />
    </div>
  );
}
