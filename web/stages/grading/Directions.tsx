'use client';

import { useState } from 'react';
import { SegmentedControl } from '@mantine/core';
import { faultKindTitles } from '@mesura/core/faults/kinds';
import type { DirectedCurrent, DirectionNeed } from '@mesura/core/grading/directions';
import { shortName } from '@mesura/core/grading/chart/curves';
import { formatCurrent } from '@mesura/core/fields/quantity';
import type { ElementId } from '@mesura/core/model/fields';
import { conditionOf } from '@mesura/core/model/state';
import { deviceOf } from '@mesura/core/protection/device';
import { Chip } from '../../desk/Chip';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import bench from '../../card/bench.module.css';
import { Percent } from '../../workers/Done';

const needs: Readonly<Record<DirectionNeed, string>> = {
  none: 'none needed',
  pickup: 'a higher pickup would do',
  direction: 'needed',
};

/** What flows through each device ahead and backward, over places, kinds of fault and conditions: which need a direction, and at which angle. */
export function Directions() {
  const network = useProject((state) => state.network);
  const select = useProject((state) => state.select);
  const [mode, setMode] = useState<'phase' | 'earth'>('phase');
  const found = useCore('directions', (service, ticket, onProgress) => service.directionsFound(ticket, onProgress));
  if (!found.value)
    return (
      <p className={bench.muted}>
        Faults around every device
        <Percent of={found.progress} before=", " /> …
      </p>
    );
  const conditionName = (id: ElementId) => conditionOf(network, id)?.name ?? '?';
  const cell = (current: DirectedCurrent | undefined) =>
    current ? (
      <span
        title={`${faultKindTitles[current.kind]} fault at ${current.placeName}, ${conditionName(current.condition)}`}
      >
        {formatCurrent(current.ampere, 3)}
      </span>
    ) : (
      '–'
    );
  const rows = found.value.filter((each) => each.mode === mode);
  return (
    <>
      <div className={bench.head}>
        <SegmentedControl
          size="xs"
          aria-label="Kind of faults"
          value={mode}
          onChange={(value) => setMode(value as typeof mode)}
          data={[
            { value: 'phase', label: 'Phase' },
            { value: 'earth', label: 'Earth' },
          ]}
        />
        <span className={bench.muted}>
          The smallest ahead is that of what the device protects; primary amperes at its own place.
        </span>
      </div>
      <table className={`${bench.table} figures ${found.isCurrent ? '' : bench.stale}`} aria-label="Directions">
        <thead>
          <tr>
            <th>Device</th>
            <th className="number">ahead, smallest</th>
            <th className="number">ahead, largest</th>
            <th className="number">backward, largest</th>
            {mode === 'phase' && <th className="number">load</th>}
            <th className="number">pickup</th>
            <th>direction</th>
            {mode === 'phase' && <th className="number">angle</th>}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ device, forward, reverse, loadA, pickupA, directional, needs: need, angleDeg }) => {
            const name = deviceOf(network, device);
            return (
              <tr key={device} data-clickable tabIndex={0} onClick={() => select([device])}>
                <td>{name ? shortName(name) : '?'}</td>
                <td className="number">{cell(forward?.least)}</td>
                <td className="number">{cell(forward?.most)}</td>
                <td className="number">{cell(reverse?.most)}</td>
                {mode === 'phase' && <td className="number">{loadA === null ? '–' : formatCurrent(loadA, 3)}</td>}
                <td className="number">{pickupA === null ? 'directional' : formatCurrent(pickupA, 3)}</td>
                <td style={{ fontFamily: 'var(--mantine-font-family)' }}>
                  {need === 'direction' ? (
                    <Chip state={directional ? 'pass' : 'fail'}>{directional ? 'needed, there' : 'needed'}</Chip>
                  ) : (
                    <span className={bench.muted}>
                      {needs[need]}
                      {directional ? ', directional' : ''}
                    </span>
                  )}
                </td>
                {mode === 'phase' && (
                  <td className="number" title="Polarised by the voltage between the other two phases">
                    {angleDeg === null ? '–' : `${angleDeg}°`}
                  </td>
                )}
              </tr>
            );
          })}
        </tbody>
      </table>
      {rows.length === 0 && <p className={bench.muted}>No device measures this.</p>}
    </>
  );
}
