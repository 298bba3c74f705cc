'use client';

import { useState } from 'react';
import { Button } from '@mantine/core';
import { IconTag } from '@tabler/icons-react';
import type { ElementId } from '@mesura/core/model/fields';
import { useDesk } from '../../desk/deskState';
import { tell } from '../../desk/report';
import { saveReport } from '../../project/reports';

/** Labels of the circuits of a board, on a sheet to print and cut. */
export function CircuitLabels({ board }: { board: ElementId }) {
  const projectId = useDesk((state) => state.projectId);
  const [busy, setBusy] = useState(false);
  const save = async () => {
    setBusy(true);
    try {
      await saveReport(projectId, { study: 'circuitLabels', board, format: 'pdf' });
    } catch (error) {
      tell('The labels could not be made', (error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <Button
      size="compact-xs"
      variant="default"
      leftSection={<IconTag size={13} />}
      loading={busy}
      title="Labels of the circuits of this board"
      onClick={() => void save()}
    >
      Labels
    </Button>
  );
}
