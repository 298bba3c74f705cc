'use client';

import { Checkbox, Select } from '@mantine/core';
import { electrodeConfigurations, isBoxed } from '@mesura/core/arc/coefficients';
import { equipment, type ArcPlace } from '@mesura/core/arc/equipment';
import { arcEquipmentKinds, usualArcPlace, type ArcEquipmentKind, type ArcPlaceData } from '@mesura/core/model/arc';
import { settingsOf } from '@mesura/core/model/network';
import type { Bus } from '@mesura/core/model/switching';
import { QuantityField } from '../../card/QuantityField';
import { useProject } from '../../project/ProjectContext';
import { useArcPlace } from './useArcPlace';
import bench from '../../card/bench.module.css';

const electrodeTitles = {
  VCB: 'vertical, in a box (VCB)',
  VCBB: 'vertical, ending at a barrier (VCBB)',
  HCB: 'horizontal, in a box (HCB)',
  VOA: 'vertical, open air (VOA)',
  HOA: 'horizontal, open air (HOA)',
} as const;

const sizes = [
  ['gapMm', 'Gap'],
  ['distanceMm', 'Working distance'],
  ['heightMm', 'Height'],
  ['widthMm', 'Width'],
  ['depthMm', 'Depth'],
] as const;

/** What an arc at a busbar burns in. Empty fields hold what is usual for the equipment. */
export function PlaceForm({ bus, at }: { bus: Bus; at: ArcPlace }) {
  const network = useProject((state) => state.network);
  const data = bus.arc ?? usualArcPlace;
  const store = useArcPlace(bus);
  const usual: Readonly<Record<(typeof sizes)[number][0], number>> = {
    gapMm: at.gapMm,
    distanceMm: at.distanceMm,
    ...at.enclosure,
  };
  const shown = sizes.filter(([field]) => isBoxed(at.electrodes) || field === 'gapMm' || field === 'distanceMm');
  return (
    <section aria-label="Place of the arc">
      <h3 className={bench.subtitle} style={{ marginTop: 10 }}>
        {bus.name}: what an arc burns in
      </h3>
      <div className={bench.head} style={{ flexWrap: 'wrap', alignItems: 'flex-end' }}>
        <Select
          size="xs"
          w={230}
          label="Equipment"
          allowDeselect={false}
          value={data.equipment}
          data={arcEquipmentKinds.map((kind) => ({
            value: kind,
            label: kind === 'byVoltage' ? `by voltage: ${at.title}` : equipment[kind].title,
          }))}
          onChange={(next) => store({ equipment: next as ArcEquipmentKind }, 'equipment')}
        />
        <Select
          size="xs"
          w={230}
          label="Electrodes"
          allowDeselect={false}
          value={data.electrodes ?? ''}
          data={[
            { value: '', label: `usual: ${at.electrodes}` },
            ...electrodeConfigurations.map((each) => ({ value: each, label: electrodeTitles[each] })),
          ]}
          onChange={(next) => store({ electrodes: (next || null) as ArcPlaceData['electrodes'] }, 'electrodes')}
        />
      </div>
      <div className={bench.head} style={{ flexWrap: 'wrap', alignItems: 'flex-end' }}>
        {shown.map(([field, title]) => (
          <div key={field} style={{ width: 100 }}>
            <QuantityField
              stacked
              label={title}
              unit="mm"
              optional
              value={data[field]}
              placeholder={String(usual[field])}
              onCommit={(value) => store({ [field]: value }, title.toLowerCase())}
            />
          </div>
        ))}
        <div style={{ width: 100 }}>
          <QuantityField
            stacked
            label="Longest time"
            unit="s"
            optional
            value={data.longestS}
            placeholder={String(settingsOf(network).arc.longestS)}
            onCommit={(value) => store({ longestS: value }, 'longest time')}
          />
        </div>
      </div>
      <Checkbox
        size="xs"
        label="not part of the study: nobody works on it energised"
        checked={data.leftOut}
        onChange={(event) => store({ leftOut: event.currentTarget.checked }, 'part of the study')}
      />
    </section>
  );
}
