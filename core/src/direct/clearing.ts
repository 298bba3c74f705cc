/**
 * What the devices of a direct-current network do to a fault or an arc: steady currents from stage to stage, each until the next device opens. A fuse or a release gathers its share of its latest
 * time at the current of the stage; the rise by inductances, some milliseconds, is left out.
 */
import type { ElementId } from '../model/fields';
import { devicesOf, timeCurrents, type Device } from '../protection/device';
import type { TimeCurrent } from '../protection/family';
import type { DirectNetwork } from './network';
import { solveDirect, type DirectSolution } from './solve';

export interface DirectOpening {
  readonly device: ElementId;
  readonly code: string;
  readonly trippedS: number;
  readonly openedS: number;
  /** Through it while it decided, in amperes. */
  readonly currentA: number;
}

export interface DirectInterval {
  readonly fromS: number;
  readonly toS: number;
  /** At the place, and into it. */
  readonly volts: number;
  readonly amperes: number;
}

export interface DirectCourse {
  readonly stages: readonly DirectInterval[];
  readonly openings: readonly DirectOpening[];
  readonly burnsS: number;
  /** Still there after the longest time. */
  readonly limited: boolean;
  /** The device whose opening ended it. */
  readonly governing: DirectOpening | null;
}

/** Where a fault or an arc stands; null where it cannot go on. */
export type Burning = (network: DirectNetwork) => DirectSolution | null;

/** A bolted fault. */
export const bolted =
  (node: number): Burning =>
  (network) => {
    const found = solveDirect({ ...network, draws: [] }, { node, volts: 0 });
    return found.heldA > 1e-3 ? found : null;
  };

interface Running {
  readonly device: Device;
  readonly curve: TimeCurrent;
  branch: number;
  share: number;
}

export function directCourse(
  network: DirectNetwork,
  node: number,
  burning: Burning,
  longestS: number,
  motorsFeedS: number | null,
): DirectCourse {
  const running: Running[] = devicesOf(network.network).flatMap((device) => {
    const branch = network.branches.findIndex(({ element }) => element === device.id);
    return branch < 0
      ? []
      : timeCurrents(device)
          .filter(({ quantity }) => quantity === 'phase')
          .map((curve) => ({ device, curve, branch, share: 0 }));
  });
  const pending: DirectOpening[] = [];
  const openings: DirectOpening[] = [];
  const stages: DirectInterval[] = [];
  const open = new Set<ElementId>();
  let motors = true;
  let t = 0;
  for (let round = 0; round < 1000; round++) {
    const now: DirectNetwork = {
      ...network,
      branches: network.branches.map((branch) => (open.has(branch.element) ? { ...branch, ohm: Infinity } : branch)),
      feeds: motors ? network.feeds : network.feeds.filter(({ kind }) => kind !== 'motor'),
    };
    const found = burning(now);
    if (!found) break;
    const seen = running.flatMap((each) => {
      const { device, curve, branch, share } = each;
      if (open.has(device.id) || pending.some((one) => one.device === device.id)) return [];
      const currentA = Math.abs(found.branchA[branch]);
      const latestS = curve.at(currentA).latestS;
      return latestS < Infinity ? [{ each, currentA, latestS, dueS: t + (1 - share) * latestS }] : [];
    });
    const motorsEndS =
      motors && motorsFeedS !== null && network.feeds.some(({ kind }) => kind === 'motor') ? motorsFeedS : Infinity;
    const dueS = Math.min(
      longestS,
      motorsEndS,
      ...seen.map((each) => each.dueS),
      ...pending.map(({ openedS }) => openedS),
    );
    if (dueS > t) stages.push({ fromS: t, toS: dueS, volts: found.volts[node], amperes: found.heldA });
    for (const { each, latestS } of seen) each.share += latestS > 0 ? (dueS - t) / latestS : 1;
    t = dueS;
    if (t >= longestS) break;
    if (t >= motorsEndS) motors = false;
    for (const { each, currentA, dueS: at } of seen) {
      if (at > t || pending.some(({ device }) => device === each.device.id)) continue;
      const { device, curve } = each;
      const openedS = t + (curve.clears ? 0 : device.openingS);
      pending.push({ device: device.id, code: curve.code, trippedS: t, openedS, currentA });
    }
    for (const one of [...pending])
      if (one.openedS <= t) {
        pending.splice(pending.indexOf(one), 1);
        open.add(one.device);
        openings.push(one);
      }
  }
  const limited = t >= longestS;
  return {
    stages,
    openings,
    burnsS: stages.at(-1)?.toS ?? 0,
    limited,
    governing: limited ? null : (openings.at(-1) ?? null),
  };
}
