/** The factor κ of the peak current by the three methods. IEC 60909-0:2016, 8.1. */
import { add, magnitude, multiply, type Complex } from '../../linear/complex';
import type { Assembly } from '../../assembly/assemble';
import type { SequencePort } from '../../assembly/ports';
import { admittance, branchEntries } from '../../assembly/sequenceNetwork';
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
      const smallest = Math.min(...carryingPaths(assembly, port).ratios);
      return { kappa: peakFactor(smallest), rOverX: smallest, plain: null };
    }
    case 'ratioAtPlace': {
      const own = z1.re / z1.im;
      const kappa = peakFactor(own);
      const { ratios, single } = carryingPaths(assembly, port);
      // Fed along one path the impedances stand in series and R/X is exact; nor is the factor needed while R/X stays below 0.3 in all branches.
      const plain = single ? 'single' : ratios.every((ratio) => ratio < 0.3) ? 'allBelow' : null;
      return { kappa: plain ? kappa : Math.min(1.15 * kappa, peakLimit(nominalKv)), rOverX: own, plain };
    }
  }
}

/** Below this part of the fault current a branch counts as carrying none. */
const trace = 1e-6;

/**
 * R/X of all branches and sources that carry a part of the fault current, fictitious resistances of generators included; of transformers with three windings by
 * pairs of those windings that carry some, since a leg of the equivalent star is no branch. `single`: one source feeds the fault along one path.
 */
export function carryingPaths(assembly: Assembly, port: SequencePort): { ratios: number[]; single: boolean } {
  const { positive, topology, level } = assembly;
  const terminals = topology.nodes.length;
  const { re, im } = positive.solve(port.inject);
  const at = (node: number): Complex => ({ re: re[node], im: im[node] });
  // One ampere at the place stands for level(place)/level(node) at a node.
  const place = port.inject.node[0];
  const some = (current: Complex, node: number) => magnitude(current) * level[node] > trace * level[place];
  const ratios: number[] = [];
  const legs = new Map<string, Impedance[]>();
  const inside = port.inside?.branch;
  let edges = 0;
  const touched = new Set<number>();
  positive.series.forEach((branch, k) => {
    const y = admittance(positive.weight(branch));
    const { ba, bb } = branchEntries(branch, y);
    const current = add(multiply(ba, at(branch.a)), multiply(bb, at(branch.b)));
    if (k !== inside && !some(current, branch.b)) return;
    edges++;
    touched.add(branch.a).add(branch.b);
    const star = [branch.a, branch.b].find((node) => node >= terminals);
    if (star === undefined) {
      if (branch.xOhm > 0) ratios.push(branch.rPeakOhm / branch.xOhm);
      return;
    }
    // In ohms of the star point, so that two legs can be added.
    const own = star === branch.b ? branch : scaled(branch, branch.ratio ** 2);
    legs.set(branch.element, [...(legs.get(branch.element) ?? []), own]);
  });
  for (const list of legs.values())
    list.forEach((p, i) =>
      list.slice(0, i).forEach((q) => {
        const x = p.xOhm + q.xOhm;
        if (x > 0) ratios.push((p.rPeakOhm + q.rPeakOhm) / x);
      }),
    );
  let sources = 0;
  for (const shunt of positive.shunts) {
    if (!some(multiply(admittance(positive.weight(shunt)), at(shunt.node)), shunt.node)) continue;
    sources++;
    touched.add(shunt.node);
    if (shunt.role === 'source' && shunt.xOhm > 0) ratios.push(shunt.rPeakOhm / shunt.xOhm);
  }
  return { ratios, single: inside === undefined && sources === 1 && edges === Math.max(touched.size - 1, 0) };
}
