/** The factor κ of the peak current by the three methods. IEC 60909-0:2016, 8.1. */
import type { Complex } from '../../linear/complex';
import type { Assembly } from '../../assembly/assemble';
import type { SequencePort } from '../../assembly/ports';
import { admittance, branchEntries, type SequenceNetwork } from '../../assembly/sequenceNetwork';
import { scaled, type Impedance } from '../../sequence/stamp';

/** (a) smallest R/X of the branches, (b) R/X at the place with a safety factor of 1.15, (c) the equivalent frequency. */
export const peakMethods = ['equivalentFrequency', 'smallestRatio', 'ratioAtPlace'] as const;
export type PeakMethod = (typeof peakMethods)[number];

export const peakMethodTitles: Readonly<Record<PeakMethod, string>> = {
  equivalentFrequency: 'equivalent frequency (method c)',
  smallestRatio: 'smallest R/X of the branches (method a)',
  ratioAtPlace: 'R/X at the place, with 1.15 (method b)',
};

/** fc/f of the equivalent frequency for κ: 20 Hz for 50 Hz, 24 Hz for 60 Hz. */
export const peakFrequencyRatio = 0.4;

/** κ = 1.02 + 0.98·e^(−3R/X). IEC 60909-0:2016, 8.1.1. */
export const peakFactor = (rOverX: number): number => 1.02 + 0.98 * Math.exp(-3 * rOverX);

/** Limits of 1.15·κ by method b: 1.8 in low-voltage networks, 2.0 above. */
export const peakLimit = (nominalKv: number): number => (nominalKv <= 1 ? 1.8 : 2);

interface At {
  readonly z1: Complex;
  /** By the equivalent frequency. */
  readonly rOverX: number;
  readonly nominalKv: number;
  readonly port: SequencePort;
}

export interface PeakFactor {
  readonly kappa: number;
  /** R/X that it was found from. */
  readonly rOverX: number;
  /** Why method b goes without its factor; null where it was used, and in the other methods. */
  readonly plain: 'single' | 'allBelow' | null;
}

export function kappaOf(study: { options: { peak: PeakMethod }; assembly: Assembly }, at: At): number {
  return peakFactorOf(study, at).kappa;
}

/** κ with what led to it. */
export function peakFactorOf(
  { options, assembly }: { options: { peak: PeakMethod }; assembly: Assembly },
  { z1, rOverX, nominalKv, port }: At,
): PeakFactor {
  switch (options.peak) {
    case 'equivalentFrequency':
      return { kappa: peakFactor(rOverX), rOverX, plain: null };
    case 'smallestRatio': {
      const { smallest } = carryingPaths(assembly, port);
      return { kappa: peakFactor(smallest), rOverX: smallest, plain: null };
    }
    case 'ratioAtPlace': {
      const own = z1.re / z1.im;
      const kappa = peakFactor(own);
      const { largest, single } = carryingPaths(assembly, port);
      // Fed along one path the impedances stand in series and R/X is exact; nor is the factor needed while R/X stays below 0.3 in all branches.
      const plain = single ? 'single' : largest < 0.3 ? 'allBelow' : null;
      return { kappa: plain ? kappa : Math.min(1.15 * kappa, peakLimit(nominalKv)), rOverX: own, plain };
    }
  }
}

/** Below this part of the fault current a branch counts as carrying none. */
const trace = 1e-6;

/** What of a network does not depend on the place: entries of the branches, admittances of the shunts, R/X of each. */
interface Carriers {
  /** Current out of node b into the branch: Yba·Va + Ybb·Vb, four numbers a branch. */
  readonly entries: Float64Array;
  readonly branchRatios: Float64Array;
  readonly shunts: Float64Array;
  readonly shuntRatios: Float64Array;
}

const known = new WeakMap<SequenceNetwork, Carriers>();

function carriersOf(positive: SequenceNetwork): Carriers {
  const before = known.get(positive);
  if (before) return before;
  const ratioOf = ({ rPeakOhm, xOhm }: Impedance) => (xOhm > 0 ? rPeakOhm / xOhm : Number.NaN);
  const entries = new Float64Array(4 * positive.series.length);
  positive.series.forEach((branch, k) => {
    const { ba, bb } = branchEntries(branch, admittance(positive.weight(branch)));
    entries.set([ba.re, ba.im, bb.re, bb.im], 4 * k);
  });
  const shunts = new Float64Array(2 * positive.shunts.length);
  positive.shunts.forEach((shunt, k) => {
    const y = admittance(positive.weight(shunt));
    shunts.set([y.re, y.im], 2 * k);
  });
  const made = {
    entries,
    branchRatios: Float64Array.from(positive.series, ratioOf),
    shunts,
    shuntRatios: Float64Array.from(positive.shunts, (shunt) => (shunt.role === 'source' ? ratioOf(shunt) : Number.NaN)),
  };
  known.set(positive, made);
  return made;
}

export interface Carrying {
  /** Smallest and largest R/X of what carries a part of the fault current. */
  readonly smallest: number;
  readonly largest: number;
  /** One source feeds the fault along one path. */
  readonly single: boolean;
}

/**
 * R/X of all branches and sources that carry a part of the fault current, fictitious resistances of generators included; of transformers with three windings by
 * pairs of those windings that carry some, since a leg of the equivalent star is no branch.
 */
export function carryingPaths({ positive, topology, level, nodeCount }: Assembly, port: SequencePort): Carrying {
  const terminals = topology.nodes.length;
  const { re, im } = positive.solve(port.inject);
  const { entries, branchRatios, shunts, shuntRatios } = carriersOf(positive);
  // One ampere at the place stands for level(place)/level(node) at a node.
  const least = trace * level[port.inject.node[0]];
  const inside = port.inside?.branch;
  const touched = new Uint8Array(nodeCount);
  const legs = new Map<string, Impedance[]>();
  let [smallest, largest] = [Infinity, -Infinity];
  const count = (ratio: number) => {
    if (ratio < smallest) smallest = ratio;
    if (ratio > largest) largest = ratio;
  };
  let edges = 0;
  for (let k = 0; k < branchRatios.length; k++) {
    const branch = positive.series[k];
    const { a, b } = branch;
    const [p, q] = [4 * k, 4 * k + 2];
    const iRe = entries[p] * re[a] - entries[p + 1] * im[a] + entries[q] * re[b] - entries[q + 1] * im[b];
    const iIm = entries[p] * im[a] + entries[p + 1] * re[a] + entries[q] * im[b] + entries[q + 1] * re[b];
    if (k !== inside && Math.hypot(iRe, iIm) * level[b] <= least) continue;
    edges++;
    touched[a] = touched[b] = 1;
    if (a < terminals && b < terminals) {
      count(branchRatios[k]);
      continue;
    }
    // In ohms of the star point, so that two legs can be added.
    const own = b >= terminals ? branch : scaled(branch, branch.ratio ** 2);
    legs.set(branch.element, [...(legs.get(branch.element) ?? []), own]);
  }
  for (const list of legs.values())
    list.forEach((p, i) =>
      list.slice(0, i).forEach((q) => {
        const x = p.xOhm + q.xOhm;
        if (x > 0) count((p.rPeakOhm + q.rPeakOhm) / x);
      }),
    );
  let sources = 0;
  for (let k = 0; k < shuntRatios.length; k++) {
    const { node } = positive.shunts[k];
    const iRe = shunts[2 * k] * re[node] - shunts[2 * k + 1] * im[node];
    const iIm = shunts[2 * k] * im[node] + shunts[2 * k + 1] * re[node];
    if (Math.hypot(iRe, iIm) * level[node] <= least) continue;
    sources++;
    touched[node] = 1;
    count(shuntRatios[k]);
  }
  let nodes = 0;
  for (let k = 0; k < nodeCount; k++) nodes += touched[k];
  return { smallest, largest, single: inside === undefined && sources === 1 && edges === Math.max(nodes - 1, 0) };
}
