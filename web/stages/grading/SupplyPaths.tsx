'use client';

import { Button } from '@mantine/core';
import { pathFrom, supplyPaths } from '@mesura/core/grading/chain';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import type { GradingChart } from '@mesura/core/model/chart';
import { deviceOf } from '@mesura/core/protection/device';
import { useProject } from '../../project/ProjectContext';
import type { FoundPairs } from '../../workers/coreService';
import { useCore } from '../../workers/useCore';
import { shortName } from '@mesura/core/grading/chart/curves';
import { deviceAt } from './pick';
import { usualKv } from './state';
import bench from '../../card/bench.module.css';
import classes from './grading.module.css';

/** So many paths are offered at once; more are found by selecting on the drawing. */
const offered = 20;

/** The supply paths of the project as charts to take, that of the selection first. */
export function SupplyPaths({ create }: { create: (content: Partial<GradingChart>) => void }) {
  const network = useProject((state) => state.network);
  const selection = useProject((state) => state.selection);
  const found = useCore('pairs found', (service) => service.pairsFound());
  if (!found.value) return <p className={bench.muted}>Looking for supply paths …</p>;
  const selected = selection.flatMap((id) => deviceAt(network, id)?.id ?? []);
  const first = selected.map((id) => pathFrom(found.value!.pairs, id)).filter((devices) => devices.length > 1);
  const all = [...first, ...varied(supplyPaths(found.value.pairs).map(({ devices }) => devices))];
  const paths = [...new Map(all.map((devices) => [devices.join(), devices])).values()].slice(0, offered);
  if (paths.length === 0)
    return (
      <p className={bench.muted}>No device backs up another one yet: draw relays, fuses or breakers with releases.</p>
    );
  return (
    <ul className={classes.paths} aria-label="Supply paths">
      {paths.map((devices) => (
        <li key={devices.join()}>
          <Button size="compact-sm" variant="light" onClick={() => create(chartOfPath(network, found.value!, devices))}>
            {devices.map((id) => nameIn(network, id)).join(' › ')}
          </Button>
        </li>
      ))}
    </ul>
  );
}

/** Devices of a board that share their way up are many; more than so many stand behind everything else. */
const alike = 3;

/** The first few of each way up, then the others. */
function varied(paths: readonly (readonly ElementId[])[]): readonly (readonly ElementId[])[] {
  const counts = new Map<string, number>();
  const isEarly = ([, ...way]: readonly ElementId[]): boolean => {
    const count = (counts.get(way.join()) ?? 0) + 1;
    counts.set(way.join(), count);
    return count <= alike;
  };
  const early = new Set(paths.filter(isEarly));
  return [...early, ...paths.filter((path) => !early.has(path))];
}

const nameIn = (network: Network, id: ElementId): string => {
  const device = deviceOf(network, id);
  return device ? shortName(device) : id;
};

/** A chart with the devices of a path and the pairs among them, at the voltage of the first one. */
function chartOfPath(
  network: Network,
  { pairs, levels }: FoundPairs,
  devices: readonly ElementId[],
): Partial<GradingChart> {
  const on = new Set(devices);
  const names = devices.map((id) => nameIn(network, id));
  return {
    name: `${names[0]} to ${names[names.length - 1]}`.slice(0, 80),
    relays: devices.slice(0, 24),
    pairs: pairs
      .filter(({ downstream, upstream }) => on.has(downstream) && on.has(upstream))
      .map(({ downstream, upstream }) => ({ downstream, upstream, wantedMarginS: null })),
    referenceKv: levels.get(devices[0]) ?? usualKv,
  };
}
