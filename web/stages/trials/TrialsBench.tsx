'use client';

import { SegmentedControl } from '@mantine/core';
import { KeptTrials } from './KeptTrials';
import { SearchView } from './SearchView';
import { setTrials, useTrialsState, type TrialsView } from './state';
import { TrialView } from './TrialView';

const titles: Readonly<Record<TrialsView, string>> = { trial: 'Trial', kept: 'Kept trials', search: 'Search' };

/** One fault played through; those kept as tests of the project; the search over all of them. */
export function TrialsBench() {
  const view = useTrialsState((state) => state.view);
  return (
    <section aria-label="Trials">
      <SegmentedControl
        size="xs"
        mb={6}
        aria-label="View"
        value={view}
        onChange={(next) => setTrials({ view: next as TrialsView })}
        data={Object.entries(titles).map(([value, label]) => ({ value, label }))}
      />
      {view === 'trial' ? <TrialView /> : view === 'kept' ? <KeptTrials /> : <SearchView />}
    </section>
  );
}
