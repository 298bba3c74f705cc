'use client';

import { SegmentedControl } from '@mantine/core';
import { AllSettings } from './AllSettings';
import { ProposalView } from './ProposalView';
import { RulebookView } from './RulebookView';
import { setSettings, useSettingsState, type SettingsView } from './state';
import bench from '../../card/bench.module.css';

const titles: Readonly<Record<SettingsView, string>> = {
  all: 'All settings',
  proposal: 'Proposal',
  rulebook: 'Rulebook',
};

export function SettingsBench() {
  const view = useSettingsState((state) => state.view);
  return (
    <section aria-label="Settings">
      <div className={bench.head}>
        <SegmentedControl
          size="xs"
          aria-label="View"
          value={view}
          onChange={(next) => setSettings({ view: next as SettingsView })}
          data={Object.entries(titles).map(([value, label]) => ({ value, label }))}
        />
      </div>
      {view === 'all' ? <AllSettings /> : view === 'proposal' ? <ProposalView /> : <RulebookView />}
    </section>
  );
}
