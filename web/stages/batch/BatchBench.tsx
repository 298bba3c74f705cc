'use client';

import { SegmentedControl } from '@mantine/core';
import { BatchView } from './BatchView';
import { ScriptView } from './ScriptView';
import { setBatch, useBatchState, type BatchView as View } from './state';

/** Batches of studies and scripts. */
export function BatchBench() {
  const view = useBatchState((state) => state.view);
  return (
    <section aria-label="Batch">
      <SegmentedControl
        size="xs"
        mb={6}
        aria-label="View"
        value={view}
        onChange={(next) => setBatch({ view: next as View })}
        data={[
          { value: 'batches', label: 'Batches' },
          { value: 'scripts', label: 'Scripts' },
        ]}
      />
      {view === 'batches' ? <BatchView /> : <ScriptView />}
    </section>
  );
}
