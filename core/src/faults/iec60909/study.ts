/** Initial short-circuit currents Ik″ and peak currents ip by the equivalent voltage source. IEC 60909-0:2016, 5.3, 7 and 8. */
import { add, magnitude, scale, type Complex } from '../../linear/complex';
import type { ElementId } from '../../model/fields';
import type { Network } from '../../model/network';
import { nameOf } from '../../model/element';
import type { Problem } from '../../model/problem';
import { terminalKey, type TerminalKey } from '../../model/topology';
import type { FaultCase } from '../../sequence/stamp';
import { assemble, toleranceOf, type Assembly } from '../assembly';
import { drivingPoint } from '../sequenceNetwork';
import {
  faultComponents,
  needsZeroSequence,
  toPhases,
  type FaultKind,
  type PhaseCurrents,
  type SequenceCurrents,
} from './kinds';
import { voltageFactor } from './voltageFactor';

export interface Iec60909Study {
  readonly assembly: Assembly;
  readonly faultCase: FaultCase;
  readonly c: (nominalKv: number) => number;
  /** Impedances by node, kept once found. */
  readonly impedances: Map<number, NodeImpedances | null>;
}

interface NodeImpedances {
  readonly z1: Complex;
  readonly z2: Complex;
  readonly z0: Complex | null;
  readonly zc: Complex;
}

export interface Fault {
  /** Terminal at which the fault sits. */
  readonly at: TerminalKey;
  readonly node: number;
  readonly nominalKv: number;
  readonly kind: FaultKind;
  readonly faultCase: FaultCase;
  readonly cFactor: number;
  /** c·Un/√3 in volts. */
  readonly sourceV: number;
  readonly z1: Complex;
  readonly z2: Complex;
  readonly z0: Complex | null;
  /** Impedance at the equivalent frequency, see `lowFrequency` of the assembly. */
  readonly zc: Complex;
  readonly components: SequenceCurrents;
  readonly phases: PhaseCurrents;
  /** Largest phase current Ik″ in amperes. */
  readonly ikA: number;
  /** |3·I0| in amperes. */
  readonly earthA: number;
  readonly kappa: number;
  readonly ipA: number;
  /** R/X at rated frequency by the equivalent frequency method; X/R is its inverse. */
  readonly rOverX: number;
  /** √3·Un·Ik″ in VA, for the three-phase fault; otherwise null. */
  readonly powerVa: number | null;
}

export type FaultResult = { ok: true; fault: Fault } | { ok: false; problems: Problem[] };

export function iec60909Study(network: Network, faultCase: FaultCase): Iec60909Study {
  const factor = voltageFactor(toleranceOf(network));
  const assembly = assemble(network, faultCase, factor);
  return { assembly, faultCase, c: (nominalKv) => factor(nominalKv, faultCase), impedances: new Map() };
}

/** A fault at a terminal of an element (terminal 0 of a bus). Problems: no supply, zero-sequence data missing, singular network. */
export function faultAt(study: Iec60909Study, element: ElementId, terminal: number, kind: FaultKind): FaultResult {
  const { topology, supplied, network } = study.assembly;
  const key = terminalKey(element, terminal);
  const index = topology.nodeOf.get(key);
  const place = network.elements.get(element);
  const name = place ? nameOf(place) : element;
  const refuse = (code: string, message: string): FaultResult => ({
    ok: false,
    problems: [{ severity: 'warning', code, message, element }],
  });
  if (index === undefined) return refuse('fault.place', `${name} has no terminal ${terminal}`);
  if (!supplied[index]) return refuse('supply.none', `${name} is connected to no source`);
  const nominalKv = topology.nodes[index].nominalKv;
  if (nominalKv === null) return refuse('level.unknown', `the voltage at ${name} is not known`);
  if (needsZeroSequence(kind)) {
    const missing = zeroSequenceGaps(study, index);
    if (missing.length > 0) return { ok: false, problems: missing };
  }
  const z = impedancesAt(study, index);
  if (!z)
    return refuse(
      'network.singular',
      `the impedance at ${name} cannot be found: check the data around it for impedances of nought`,
    );
  return { ok: true, fault: computeFault(study, key, index, nominalKv, kind, z) };
}

function computeFault(
  study: Iec60909Study,
  at: TerminalKey,
  node: number,
  nominalKv: number,
  kind: FaultKind,
  { z1, z2, z0, zc }: NodeImpedances,
): Fault {
  const cFactor = study.c(nominalKv);
  const sourceV = (cFactor * nominalKv * 1000) / Math.sqrt(3);
  const components = faultComponents(kind, sourceV, z1, z2, z0);
  const phases = toPhases(components);
  const ikA = largestPhase(phases);
  const rOverX = (zc.re / zc.im) * study.assembly.frequencyRatio;
  const kappa = peakFactor(rOverX);
  return {
    at,
    node,
    nominalKv,
    kind,
    faultCase: study.faultCase,
    cFactor,
    sourceV,
    z1,
    z2,
    z0,
    zc,
    components,
    phases,
    ikA,
    earthA: magnitude(phases.residual),
    kappa,
    ipA: kappa * Math.SQRT2 * ikA,
    rOverX,
    powerVa: kind === '3ph' ? Math.sqrt(3) * nominalKv * 1000 * ikA : null,
  };
}

/** κ = 1.02 + 0.98·e^(−3R/X). IEC 60909-0:2016, 8.1.1. */
export const peakFactor = (rOverX: number): number => 1.02 + 0.98 * Math.exp(-3 * rOverX);

export const largestPhase = (phases: PhaseCurrents): number =>
  Math.max(magnitude(phases.l1), magnitude(phases.l2), magnitude(phases.l3));

function impedancesAt(study: Iec60909Study, node: number): NodeImpedances | null {
  const known = study.impedances.get(node);
  if (known !== undefined) return known;
  const { positive, negative, zero, lowFrequency } = study.assembly;
  const z1 = drivingPoint(positive, node);
  const z2 = drivingPoint(negative, node);
  const zc = drivingPoint(lowFrequency, node);
  const found = z1 && z2 && zc && magnitude(z1) > 0 ? { z1, z2, zc, z0: drivingPoint(zero, node) } : null;
  study.impedances.set(node, found);
  return found;
}

function zeroSequenceGaps(study: Iec60909Study, node: number): Problem[] {
  const { network, zero } = study.assembly;
  return zero.gapsAt(node).map((gap) => ({
    severity: 'warning' as const,
    code: 'zeroSequence.missing',
    message: `zero-sequence data of ${nameOf(network.elements.get(gap.element)!)} are missing (${gap.fields.join(', ')})`,
    element: gap.element,
    field: gap.fields[0],
  }));
}

/** Sum of sequence currents, place by place. */
export const addCurrents = (p: SequenceCurrents, q: SequenceCurrents): SequenceCurrents => ({
  positive: add(p.positive, q.positive),
  negative: add(p.negative, q.negative),
  zero: add(p.zero, q.zero),
});

export const scaleCurrents = (p: SequenceCurrents, factor: number): SequenceCurrents => ({
  positive: scale(p.positive, factor),
  negative: scale(p.negative, factor),
  zero: scale(p.zero, factor),
});
