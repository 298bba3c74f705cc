'use client';

import { directPart } from '@mesura/core/model/directPart';
import { kinds, type Element } from '@mesura/core/model/element';
import { conditionOf } from '@mesura/core/model/state';
import { formatCurrent } from '@mesura/core/fields/quantity';
import { useProject } from '../project/ProjectContext';
import { useCore } from '../workers/useCore';
import bench from './bench.module.css';

const looked = new Set<Element['kind']>([
  'line',
  'transformer',
  'threeWindingTransformer',
  'seriesReactor',
  'currentTransformer',
  'switch',
  'bus',
]);

/** The largest and smallest load current of an element over all conditions: for the ratio of a current transformer, for a pickup. */
export function LoadHere({ element }: { element: Element }) {
  const network = useProject((state) => state.network);
  const isLooked = looked.has(element.kind) && !directPart(network).ids.has(element.id);
  const { value, isCurrent } = useCore(
    isLooked ? `load of ${element.id}` : null,
    async (service) => await service.loadRange(element.id),
  );
  if (!isLooked || !value || value.length === 0) return null;
  const nameOfCondition = (id: (typeof value)[number]['range']['largest']['condition']) =>
    conditionOf(network, id)?.name ?? '';
  const several = kinds[element.kind].terminals > 1 && value.length > 1;
  return (
    <>
      <h3 className={bench.subtitle}>Load here</h3>
      {value.map(({ place, range: { largest, smallest } }) => (
        <p key={place} className={isCurrent ? undefined : bench.stale} style={{ fontSize: 13, margin: 0 }}>
          {several ? `Terminal ${Number(place.slice(place.lastIndexOf(':') + 1)) + 1}: ` : ''}
          <span className="figure">{formatCurrent(largest.ampere)}</span> ({nameOfCondition(largest.condition)}) to{' '}
          <span className="figure">{formatCurrent(smallest.ampere)}</span> ({nameOfCondition(smallest.condition)})
        </p>
      ))}
    </>
  );
}
