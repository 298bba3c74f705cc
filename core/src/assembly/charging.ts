/**
 * Which line capacitances count in the zero sequence: those of networks that are isolated or earthed through resonant coils, and those where the
 * earth-fault factor exceeds 1.4. IEC 60909-0:2016, 6.4, as remembered.
 */
import { add, divide, magnitude, subtract, type Complex } from '../linear/complex';
import { a, a2 } from '../sequence/components';
import { connectivity } from './connectivity';
import type { NetworkParts, NetworkShunt } from './parts';
import { drivingPoint, type SequenceNetwork } from './sequenceNetwork';

/** Line capacitances in the zero sequence: where the earthing makes them carry the earth fault, always, or never. */
export type Charging = 'auto' | 'always' | 'never';

/** Above it a network counts as not effectively earthed. */
export const earthFaultFactorLimit = 1.4;

/**
 * Highest voltage of a sound phase to earth during an earth fault, over the phase voltage before it: max |a − k|, |a² − k| with k = (Z0 − Z1)/(Z1 + Z2 + Z0).
 * IEC 60071-1, 3.15 (earth-fault factor).
 */
export function earthFaultFactor(z1: Complex, z2: Complex, z0: Complex): number {
  const k = divide(subtract(z0, z1), add(z1, add(z2, z0)));
  return Math.max(magnitude(subtract(a, k)), magnitude(subtract(a2, k)));
}

interface Sequences {
  readonly positive: SequenceNetwork;
  readonly negative: SequenceNetwork;
  /** Zero sequence without capacitances; asked for only where the earth-fault factor has to decide. */
  bare(): SequenceNetwork;
}

/** Where capacitances may count, found from the earthing alone. */
interface Earthing {
  readonly part: Int32Array;
  /** By part: it has an earthed neutral, and capacitances. */
  readonly doubtful: Uint8Array;
  readonly earthed: Uint8Array;
}

function earthingOf(zero: NetworkParts, all: readonly NetworkShunt[]): Earthing {
  const { part } = connectivity(zero);
  const earthed = new Uint8Array(zero.nodeCount);
  for (const { role, node } of zero.shunts) if (role !== 'coil') earthed[part[node]] = 1;
  const doubtful = new Uint8Array(zero.nodeCount);
  for (const { node } of all) doubtful[part[node]] = earthed[part[node]];
  return { part, doubtful, earthed };
}

/**
 * Of `all` capacitances those that count. A part with an earthed neutral is looked at as a whole: the highest earth-fault factor at any of its nodes
 * decides. `places`: nodes below this number are places; the others lie inside elements.
 */
export function chargedShunts(
  { positive, negative, bare }: Sequences,
  zero: NetworkParts,
  all: readonly NetworkShunt[],
  charging: Charging,
  places: number,
): readonly NetworkShunt[] {
  if (charging === 'never' || all.length === 0) return [];
  if (charging === 'always') return all;
  const { part, doubtful, earthed } = earthingOf(zero, all);
  const weakly = new Uint8Array(zero.nodeCount);
  for (let node = 0; node < places; node++) {
    if (!doubtful[part[node]] || weakly[part[node]]) continue;
    const [z1, z2, z0] = [positive, negative, bare()].map((network) => drivingPoint(network, node));
    if (z1 && z2 && z0 && earthFaultFactor(z1, z2, z0) > earthFaultFactorLimit) weakly[part[node]] = 1;
  }
  return all.filter(({ node }) => !earthed[part[node]] || weakly[part[node]]);
}

/** Whether the earth-fault factor has a word in which capacitances count: they stand in a part with an earthed neutral. */
export const hasDoubtfulCharging = (zero: NetworkParts, all: readonly NetworkShunt[]): boolean =>
  all.length > 0 && earthingOf(zero, all).doubtful.includes(1);

/** Whether two lists hold capacitances at the same ends. */
export const sameShunts = (p: readonly NetworkShunt[], q: readonly NetworkShunt[]): boolean =>
  p.length === q.length &&
  p.every(({ element, terminal }, k) => element === q[k].element && terminal === q[k].terminal);
