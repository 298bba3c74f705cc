/**
 * Solid three-phase faults at many nodes, by the formulas of {@link faultAtPlace} on plain numbers and to the same last digit: most tables are of them, and
 * making records of each takes several times as long as solving it. IEC 60909-0:2016, 7.2 and 8.1.
 */
import { nodePort } from '../../assembly/ports';
import { a, a2 } from '../../sequence/components';
import type { FaultCondition } from '../kinds';
import { peakFactor, peakFrequencyRatio } from './peak';
import { sourceVoltageAt, type Iec60909Study } from './study';

/** Filled anew for each node; amperes, volts and ohms. */
export class BoltedFault {
  nominalKv = 0;
  sourceV = 0;
  cFactor = 0;
  ikA = 0;
  ipA = 0;
  kappa = 0;
  /** NaN where R is nought or below. */
  xOverR = 0;
  powerVa = 0;
  z1Re = 0;
  z1Im = 0;
  z2Re = 0;
  z2Im = 0;
  l1Re = 0;
  l1Im = 0;
  l2Re = 0;
  l2Im = 0;
  l3Re = 0;
  l3Im = 0;
}

/** Whether a fault is of the sort that is solved here: solid, on three phases, κ by the equivalent frequency. */
export const isBolted = ({ options }: Iec60909Study, { kind, phaseOhm }: FaultCondition): boolean =>
  kind === '3ph' && phaseOhm.re === 0 && phaseOhm.im === 0 && options.peak === 'equivalentFrequency';

/** A solver for one node after the other; false where there is no such fault, or one with corrections of its own. */
export function boltedFaults(study: Iec60909Study): (node: number, into: BoltedFault) => boolean {
  const { assembly, converters } = study;
  const { positive, negative, topology, supplied } = assembly;
  const z1 = positive.inverse()?.diagonal();
  const z2 = negative.inverse()?.diagonal();
  const zc = assembly.atFrequency(peakFrequencyRatio).inverse()?.diagonal();
  const units = study.units();
  return (node, into) => {
    if (!z1 || !z2 || !zc || !supplied[node] || units.has(node)) return false;
    const { nominalKv } = topology.nodes[node];
    if (nominalKv === null || positive.floating[node] >= 0 || negative.floating[node] >= 0) return false;
    const [re, im] = [z1.re[node], z1.im[node]];
    if (!(re * re + im * im > 0)) return false;
    const sourceV = sourceVoltageAt(study, node);
    const raisedV = converters ? converters.raisedAt(nodePort(node).sense) : 0;
    const e = sourceV + raisedV;
    // Division as `divide` does it.
    const upright = Math.abs(re) >= Math.abs(im);
    const ratio = upright ? im / re : re / im;
    const denominator = upright ? re + im * ratio : re * ratio + im;
    const iRe = (upright ? e : e * ratio) / denominator;
    const iIm = (upright ? -e * ratio : -e) / denominator;
    into.l1Re = iRe;
    into.l1Im = iIm;
    into.l2Re = a2.re * iRe - a2.im * iIm;
    into.l2Im = a2.re * iIm + a2.im * iRe;
    into.l3Re = a.re * iRe - a.im * iIm;
    into.l3Im = a.re * iIm + a.im * iRe;
    const ikA = Math.max(size(iRe, iIm), size(into.l2Re, into.l2Im), size(into.l3Re, into.l3Im));
    const rOverX = (zc.re[node] / zc.im[node]) * peakFrequencyRatio;
    const kappa = peakFactor(rOverX);
    into.nominalKv = nominalKv;
    into.sourceV = sourceV;
    into.cFactor = study.c(nominalKv);
    into.ikA = ikA;
    into.ipA = (Math.SQRT2 * ikA * (kappa * sourceV + raisedV)) / (sourceV + raisedV);
    into.kappa = kappa;
    into.xOverR = rOverX > 0 ? 1 / rOverX : Number.NaN;
    into.powerVa = Math.sqrt(3) * nominalKv * 1000 * ikA;
    into.z1Re = re;
    into.z1Im = im;
    into.z2Re = z2.re[node];
    into.z2Im = z2.im[node];
    return true;
  };
}

const size = (re: number, im: number) => Math.sqrt(re * re + im * im);
