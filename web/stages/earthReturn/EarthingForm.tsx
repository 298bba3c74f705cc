'use client';

import type { ReactNode } from 'react';
import { Select } from '@mantine/core';
import { earthingImpedance } from '@mesura/core/earthReturn/electrodes';
import { earthingOf } from '@mesura/core/earthReturn/fromNetwork';
import { formatNumber } from '@mesura/core/fields/quantity';
import {
  electrodeSchema,
  stationEarthingSchema,
  type Electrode,
  type StationEarthing,
} from '@mesura/core/model/earthing';
import type { ElementId } from '@mesura/core/model/fields';
import { find } from '@mesura/core/model/network';
import { stationOf } from '@mesura/core/model/stations';
import { ObjectFields } from '../../card/ObjectFields';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { useShownUnit } from './units';
import bench from '../../card/bench.module.css';
import card from '../../card/card.module.css';

const soil = { upperOhmM: 100, lowerOhmM: null, thicknessM: null };
const fresh: Readonly<Record<Electrode['kind'], Electrode>> = {
  grid: {
    kind: 'grid',
    formula: 'sverak',
    soil,
    ...{ lengthM: 60, widthM: 40, depthM: 0.7, conductorM: 700, wireMm: 10.5, rods: 0, rodM: 3, rodMm: 20 },
  },
  rod: { kind: 'rod', soil, rodM: 6, rodMm: 20 },
  ring: { kind: 'ring', soil, diameterM: 10, wireMm: 10.5, depthM: 0.7 },
  wire: { kind: 'wire', soil, lengthM: 50, wireMm: 10.5, depthM: 0.7 },
};
const fieldsOf = {
  grid: ['formula', 'lengthM', 'widthM', 'depthM', 'conductorM', 'wireMm', 'rods', 'rodM', 'rodMm'],
  rod: ['rodM', 'rodMm'],
  ring: ['diameterM', 'wireMm', 'depthM'],
  wire: ['lengthM', 'wireMm', 'depthM'],
} as const;

export const freshEarthing: StationEarthing = { rOhm: 1, xOhm: 0, electrode: null, surfaceOhmM: 0, surfaceM: 0 };

/** Earthing of the station that a busbar stands in; stored at the busbar that has it. */
export function EarthingForm({ bus }: { bus: ElementId }) {
  const network = useProject((state) => state.network);
  const store = useProjectStore();
  const station = stationOf(network, bus);
  if (!station) return null;
  const known = earthingOf(network, station);
  const at = known?.bus ?? bus;
  const put = (next: StationEarthing, what: string): string | null => {
    const element = find(store.getState().network, 'bus', at);
    if (!element) return 'the busbar is not there any more';
    const result = store
      .getState()
      .commit([{ op: 'update', element: { ...element, stationEarthing: next } }], `${station.name}: ${what}`);
    return result.ok ? null : result.problems[0].message;
  };
  return (
    <section aria-label={`Earthing of ${station.name}`}>
      <h3 className={bench.subtitle} style={{ marginTop: 10 }}>
        Earthing of {station.name}
      </h3>
      <EarthingFields given={known?.given ?? null} put={put} of={station.name} />
    </section>
  );
}

/** Typed, or by a formula; with the layer that people stand on. */
export function EarthingFields({
  given,
  put,
  of,
  lead,
  people = true,
}: {
  given: StationEarthing | null;
  put: (next: StationEarthing, what: string) => string | null;
  of: string;
  /** Stands before the fields. */
  lead?: ReactNode;
  /** With the layer that people stand on. */
  people?: boolean;
}) {
  const shownUnit = useShownUnit();
  const own = given ?? freshEarthing;
  const electrode = own.electrode;
  const store = (part: Partial<StationEarthing>, what: string): string | null => {
    const parsed = stationEarthingSchema.safeParse({ ...own, ...part });
    return parsed.success ? put(parsed.data, what) : parsed.error.issues[0].message;
  };
  const putElectrode = (part: object, what: string) => {
    const parsed = electrodeSchema.safeParse({ ...electrode, ...part });
    return parsed.success ? store({ electrode: parsed.data }, what) : parsed.error.issues[0].message;
  };
  const option = electrode && electrodeSchema.options.find(({ shape }) => shape.kind.value === electrode.kind)!;
  return (
    <>
      <div className={bench.head} style={{ alignItems: 'flex-end' }}>
        {lead}
        <Select
          size="xs"
          classNames={{ label: card.label }}
          w={120}
          label="Resistance"
          aria-label={`Resistance of ${of}`}
          allowDeselect={false}
          placeholder="not given"
          value={given ? (electrode?.kind ?? 'typed') : null}
          data={[
            { value: 'typed', label: 'typed' },
            { value: 'grid', label: 'of a grid' },
            { value: 'rod', label: 'of a rod' },
            { value: 'ring', label: 'of a ring' },
            { value: 'wire', label: 'of a wire' },
          ]}
          onChange={(next) =>
            next === 'typed' || next === null
              ? store({ electrode: null, rOhm: own.rOhm || freshEarthing.rOhm }, 'earthing')
              : store({ electrode: fresh[next as Electrode['kind']] }, 'earthing')
          }
        />
        {given && (
          <ObjectFields
            schema={stationEarthingSchema}
            value={own}
            fields={[
              ...(electrode ? [] : (['rOhm'] as const)),
              'xOhm',
              ...(people ? (['surfaceOhmM', 'surfaceM'] as const) : []),
            ]}
            words={{}}
            store={store}
            shownUnit={shownUnit}
            width={104}
          />
        )}
        {electrode && (
          <strong className="figure" role="status" aria-label={`Resistance of ${of}, computed`}>
            {formatNumber(earthingImpedance(own).re, 4)} Ω
          </strong>
        )}
      </div>
      {electrode && option && (
        <div className={bench.head} style={{ alignItems: 'flex-end' }}>
          <ObjectFields
            schema={{ shape: option.shape }}
            value={electrode}
            fields={fieldsOf[electrode.kind] as readonly string[] as readonly (keyof Electrode)[]}
            words={{ sverak: 'Sverak', schwarz: 'Schwarz' }}
            store={putElectrode}
            shownUnit={shownUnit}
          />
          <SoilFields electrode={electrode} put={putElectrode} />
        </div>
      )}
    </>
  );
}

function SoilFields({ electrode, put }: { electrode: Electrode; put: (part: object, what: string) => string | null }) {
  const shownUnit = useShownUnit();
  const { shape } = electrodeSchema.options[0].shape.soil;
  const { soil: own } = electrode;
  const two = own.lowerOhmM !== null;
  return (
    <>
      <Select
        size="xs"
        classNames={{ label: card.label }}
        w={120}
        label="Soil"
        aria-label="Layers of the soil"
        allowDeselect={false}
        value={two ? 'two' : 'one'}
        data={[
          { value: 'one', label: 'one layer' },
          { value: 'two', label: 'two layers' },
        ]}
        onChange={(next) =>
          put(
            {
              soil: {
                ...own,
                ...(next === 'two'
                  ? { lowerOhmM: own.upperOhmM, thicknessM: 3 }
                  : { lowerOhmM: null, thicknessM: null }),
              },
            },
            'layers of the soil',
          )
        }
      />
      <ObjectFields
        schema={{ shape }}
        value={own}
        fields={two ? ['upperOhmM', 'lowerOhmM', 'thicknessM'] : ['upperOhmM']}
        store={(part, what) => put({ soil: { ...own, ...part } }, what)}
        shownUnit={shownUnit}
      />
    </>
  );
}
