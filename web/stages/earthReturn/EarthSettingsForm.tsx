'use client';

import { useState } from 'react';
import { Collapse } from '@mantine/core';
import { earthSettingsSchema } from '@mesura/core/model/earthing';
import { settingsOf } from '@mesura/core/model/network';
import { formatNumber } from '@mesura/core/fields/quantity';
import { ObjectFields } from '../../card/ObjectFields';
import { useProject } from '../../project/ProjectContext';
import { useStoreSettings } from './useStoreSettings';
import bench from '../../card/bench.module.css';

export const settingWords: Readonly<Record<string, string>> = {
  series: 'Carson, whole series',
  twoTerm: 'Carson, low heights',
  complexDepth: 'complex depth (Deri)',
  en50522: 'EN 50522',
  ieee50: 'IEEE 80, 50 kg',
  ieee70: 'IEEE 80, 70 kg',
  quiet: 'is not told as a finding',
  finding: 'is a finding',
  metric: 'metric',
  imperial: 'feet and miles',
};

/** What is counted, in one line; unfolded, to be changed. */
export function EarthSettingsForm() {
  const settings = useProject((state) => settingsOf(state.network).earthReturn);
  const store = useStoreSettings();
  const [open, setOpen] = useState(false);
  const { method, farther, touch, durationS, limitV } = settings;
  return (
    <div style={{ marginBottom: 6 }}>
      <p className={bench.muted} style={{ margin: 0 }}>
        Currents by IEC 60909-0; {settingWords[method]}; lines of the station and{' '}
        {farther === 0 ? 'no others' : `of ${farther} ${farther === 1 ? 'step' : 'steps'} further`};{' '}
        {settingWords[touch]}, as remembered;{' '}
        {durationS === null ? 'until the protection clears' : `${formatNumber(durationS, 3)} s`}
        {limitV !== null && `; own limit ${formatNumber(limitV, 4)} V`}.{' '}
        <button
          type="button"
          className={bench.sort}
          style={{ color: 'var(--m-accent)' }}
          aria-expanded={open}
          onClick={() => setOpen(!open)}
        >
          {open ? 'Close' : 'Change'}
        </button>
      </p>
      <Collapse expanded={open}>
        <div className={bench.head} style={{ alignItems: 'flex-end', marginTop: 6 }}>
          <ObjectFields
            schema={earthSettingsSchema}
            value={settings}
            fields={['method', 'farther', 'touch', 'durationS', 'limitV', 'towerLimitV', 'findings', 'units']}
            words={settingWords}
            placeholders={{ durationS: 'protection', limitV: 'none', towerLimitV: 'none' }}
            store={store}
          />
        </div>
      </Collapse>
    </div>
  );
}
