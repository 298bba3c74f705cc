'use client';

import { Checkbox, MultiSelect } from '@mantine/core';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { ofKind } from '@mesura/core/model/network';
import { devicesOf, type DeviceElement } from '@mesura/core/protection/device';
import type { DeviceFunction } from '@mesura/core/protection/schemas';
import { QuantityField } from '../../card/QuantityField';
import { useProject } from '../../project/ProjectContext';
import bench from '../../card/bench.module.css';

/** Families whose functions devices ahead may hold back. */
const mayWait: readonly string[] = ['overcurrent', 'release'];

interface Props {
  element: DeviceElement;
  fn: DeviceFunction;
  code: string;
  onChange: (fn: DeviceFunction, what: string) => string | null;
}

/** What a function has to do with others: what it watches or opens, what it waits for, and whether it is there for maintenance alone. */
export function FunctionLinks({ element, fn, code, onChange }: Props) {
  const network = useProject((state) => state.network);
  const named = (ids: readonly ElementId[]) =>
    ids.map((id) => ({ value: id, label: nameOf(network.elements.get(id)!) }));
  const { interlock } = fn;
  const others = mayWait.includes(fn.family) ? devicesOf(network).filter(({ id }) => id !== element.id) : [];
  const wait = (from: readonly string[]) =>
    onChange(
      {
        ...fn,
        interlock: from.length > 0 ? { from: [...from] as ElementId[], fastS: interlock?.fastS ?? 0.05 } : undefined,
      },
      `${code} zone interlock`,
    );
  return (
    <div style={{ display: 'flex', flexWrap: 'wrap', gap: 8, alignItems: 'flex-end', margin: '0 0 8px 8px' }}>
      {fn.family === 'light' && (
        <MultiSelect
          size="xs"
          w={330}
          searchable
          label="Watches"
          aria-label={`${code} watches`}
          placeholder={fn.watches.length > 0 ? undefined : 'busbars, and switches for their cable side'}
          value={[...fn.watches]}
          data={[
            {
              group: 'Busbars',
              items: named(ofKind(network, 'bus').flatMap(({ id, system }) => (system === 'ac' ? [id] : []))),
            },
            { group: 'Cable side of', items: named(ofKind(network, 'switch').map(({ id }) => id)) },
          ]}
          onChange={(next) => onChange({ ...fn, watches: next as ElementId[] }, `${code} watches`)}
        />
      )}
      {fn.family === 'breakerFailure' && (
        <MultiSelect
          size="xs"
          w={330}
          searchable
          label="Opens"
          aria-label={`${code} opens`}
          value={[...fn.opens]}
          data={named(ofKind(network, 'switch').flatMap(({ id, type }) => (type === 'breaker' ? [id] : [])))}
          onChange={(next) => onChange({ ...fn, opens: next as ElementId[] }, `${code} opens`)}
        />
      )}
      {others.length > 0 && (
        <MultiSelect
          size="xs"
          w={330}
          searchable
          label="Zone interlock: waits for"
          aria-label={`${code} waits for`}
          placeholder={interlock ? undefined : 'no device'}
          value={[...(interlock?.from ?? [])]}
          data={others.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={wait}
        />
      )}
      {interlock && (
        <div style={{ width: 150 }}>
          <QuantityField
            stacked
            label="Trips without them after"
            unit="s"
            value={interlock.fastS}
            onCommit={(value) =>
              onChange({ ...fn, interlock: { ...interlock, fastS: value! } }, `${code} zone interlock`)
            }
          />
        </div>
      )}
      <Checkbox
        size="xs"
        label="maintenance setting"
        title="Out of use until the maintenance setting of the device is switched on"
        aria-label={`${code} maintenance setting`}
        checked={fn.maintenance ?? false}
        onChange={(event) =>
          onChange({ ...fn, maintenance: event.currentTarget.checked || undefined }, `${code} maintenance setting`)
        }
      />
      {interlock && <span className={bench.muted}>Its own time stays for what they do not clear.</span>}
    </div>
  );
}
