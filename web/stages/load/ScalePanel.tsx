'use client';

import { useState } from 'react';
import { Button, NumberInput } from '@mantine/core';
import { ofKind, type Network } from '@mesura/core/model/network';
import type { ElementId } from '@mesura/core/model/fields';
import { useProject } from '../../project/ProjectContext';
import { scaleLoads, setLoad, useLoadState } from './state';
import bench from '../../card/bench.module.css';

const loadsOf = (network: Network): ElementId[] => [
  ...ofKind(network, 'load').map(({ id }) => id),
  ...ofKind(network, 'asynchronousMotor').map(({ id }) => id),
  ...ofKind(network, 'staticDrive').map(({ id }) => id),
];

/** What if the selected loads, or all of them, drew more or less. */
export function ScalePanel() {
  const network = useProject((state) => state.network);
  const selection = useProject((state) => state.selection);
  const scaled = useLoadState((state) => state.scaled);
  const [percent, setPercent] = useState<number | string>(120);
  const all = loadsOf(network);
  const own = selection.filter((id) => all.includes(id));
  const ids = own.length > 0 ? own : all;
  const factor = Number(percent) / 100;
  return (
    <div className={bench.head}>
      <span className={bench.muted}>
        What if {own.length > 0 ? `${own.length} selected load${own.length > 1 ? 's' : ''}` : 'all loads'} drew
      </span>
      <NumberInput
        size="xs"
        w={92}
        min={0}
        max={1000}
        suffix=" %"
        aria-label="Load in percent"
        value={percent}
        onChange={setPercent}
      />
      <Button
        size="compact-xs"
        variant="default"
        disabled={!Number.isFinite(factor) || factor < 0 || ids.length === 0}
        onClick={() => scaleLoads(ids, factor)}
      >
        Apply
      </Button>
      {scaled.length > 0 && (
        <>
          <span className={bench.muted} role="status">
            {scaled.length} load{scaled.length > 1 ? 's' : ''} differ from the project
          </span>
          <Button size="compact-xs" variant="light" onClick={() => setLoad({ scaled: [] })}>
            As in the project
          </Button>
        </>
      )}
    </div>
  );
}
