/** The factor κ of the peak current by the three methods. IEC 60909-0:2016, 8.1. */
import type { Complex } from '../../linear/complex';
import type { Assembly } from '../../assembly/assemble';

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
  readonly node: number;
}

export function kappaOf(study: { options: { peak: PeakMethod }; assembly: Assembly }, at: At): number {
  switch (study.options.peak) {
    case 'equivalentFrequency':
      return peakFactor(at.rOverX);
    case 'smallestRatio':
      return peakFactor(smallestRatio(study.assembly, at.node));
    case 'ratioAtPlace': {
      const kappa = peakFactor(at.z1.re / at.z1.im);
      // Without the factor while R/X stays below 0.3 in all branches.
      if (branchRatios(study.assembly, at.node).every((ratio) => ratio < 0.3)) return kappa;
      return Math.min(1.15 * kappa, peakLimit(at.nominalKv));
    }
  }
}

/** R/X of all branches and sources in the part of the network that holds the node, fictitious resistances of generators included. */
export function branchRatios({ positive, part }: Assembly, node: number): number[] {
  const ratios: number[] = [];
  for (const { a, rPeakOhm, xOhm } of positive.series)
    if (part[a] === part[node] && xOhm > 0) ratios.push(rPeakOhm / xOhm);
  for (const { node: at, rPeakOhm, xOhm, role } of positive.shunts)
    if (part[at] === part[node] && role === 'source' && xOhm > 0) ratios.push(rPeakOhm / xOhm);
  return ratios;
}

export const smallestRatio = (assembly: Assembly, node: number): number => Math.min(...branchRatios(assembly, node));
