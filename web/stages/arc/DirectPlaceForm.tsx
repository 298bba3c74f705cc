'use client';

import { Checkbox, Select } from '@mantine/core';
import type { DirectArcPlace } from '@mesura/core/arc/directStudy';
import { equipment } from '@mesura/core/arc/equipment';
import { arcEquipmentKinds, usualArcPlace, type ArcEquipmentKind } from '@mesura/core/model/arc';
import { settingsOf } from '@mesura/core/model/network';
import type { Bus } from '@mesura/core/model/switching';
import { QuantityField } from '../../card/QuantityField';
import { useProject } from '../../project/ProjectContext';
import { useArcPlace } from './useArcPlace';
import bench from '../../card/bench.module.css';

/** What an arc of direct current burns in. Empty fields hold what is usual for the equipment. */
export function DirectPlaceForm({ bus, at }: { bus: Bus; at: DirectArcPlace }) {
  const network = useProject((state) => state.network);
  const store = useArcPlace(bus);
  const data = bus.arc ?? usualArcPlace;
  const fields = [
    ['gapMm', 'Gap', 'mm', at.gapMm],
    ['distanceMm', 'Working distance', 'mm', at.distanceMm],
    ['longestS', 'Longest time', 's', settingsOf(network).arc.longestS],
  ] as const;
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
        {fields.map(([field, title, unit, usual]) => (
          <div key={field} style={{ width: 110 }}>
            <QuantityField
              stacked
              label={title}
              unit={unit}
              optional
              value={data[field]}
              placeholder={String(usual)}
              onCommit={(value) => store({ [field]: value }, title.toLowerCase())}
            />
          </div>
        ))}
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
