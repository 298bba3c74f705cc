/**
 * Steady short-circuit current Ik. IEC 60909-0:2016, clause 10: sources on paths of their own by λ·IrG, meshed networks as Ik″ without motors. λ comes from the machine
 * equation that the standard's figures stand for, not from the figures themselves; see docs/methods.
 */
import { add, magnitude, scale, type Complex } from '../../linear/complex';
import type { Element } from '../../model/element';
import type { Assembly } from '../../assembly/assemble';
import { portResponse } from '../../assembly/ports';
import { buildSequenceNetwork, type SequenceNetwork } from '../../assembly/sequenceNetwork';
import { portAt } from '../solution/solve';
import { convertersOf } from './converters';
import { onOwnPaths } from './paths';
import { diesAway, loadingOf, sourceShares, type SourceShare } from './machines';
import type { Fault } from './study';

export const steadyRules = ['single paths', 'meshed', 'unbalanced'] as const;

export interface Lambda {
  readonly max: number;
  readonly min: number;
}

export interface SteadyCurrent {
  readonly maxA: number;
  readonly minA: number;
  /** How it was found. */
  readonly rule: (typeof steadyRules)[number];
  readonly lambdas: readonly { readonly share: SourceShare; readonly lambda: Lambda }[];
}

interface SteadyData {
  readonly xd2Percent: number;
  readonly xdPercent: number | null;
  readonly powerFactor: number;
  readonly rotor: 'turbo' | 'salient';
  readonly excitation: 'series1' | 'series2' | 'terminalFed';
}

/** Highest excitation voltage over the rated one. */
const ceiling = { turbo: { series1: 1.3, series2: 1.6 }, salient: { series1: 1.6, series2: 2 } } as const;

/** Saturated xd in percent where none is given: within the range of the standard's figures. */
const typicalXd = { turbo: 180, salient: 100 } as const;

/** Highest voltage behind xd, in per unit: the ceiling of the excitation over that of rated load; null where a static exciter loses its supply with the terminal voltage. */
export function highestEmf({
  excitation,
  rotor,
  powerFactor,
  xdPercent,
}: Pick<SteadyData, 'excitation' | 'rotor' | 'powerFactor'> & { readonly xdPercent: number }): number | null {
  if (excitation === 'terminalFed') return null;
  const xd = xdPercent / 100;
  return ceiling[rotor][excitation] * Math.hypot(1 + xd * Math.sqrt(1 - powerFactor ** 2), xd * powerFactor);
}

/**
 * λmax and λmin of a machine whose fault current at the start is `ratio` times rated: the reactance up to the fault follows from the ratio, the current from
 * ceiling or no-load excitation behind xd and that reactance. Terminal-fed static exciters give nothing once the voltage is gone.
 */
export function lambda(data: SteadyData, ratio: number, cMax = 1.1): Lambda {
  const xdPercent = data.xdPercent ?? typicalXd[data.rotor];
  const emf = highestEmf({ ...data, xdPercent });
  if (emf === null) return { max: 0, min: 0 };
  const xd = xdPercent / 100;
  const outside = Math.max(cMax / ratio - data.xd2Percent / 100, 0);
  const held = Math.min(ratio, emf / (xd + outside));
  return { max: held, min: Math.min(ratio, 1 / (xd + outside)) };
}

export function steadyCurrent(fault: Fault): SteadyCurrent {
  if (fault.kind !== '3ph') return { maxA: fault.ikA, minA: fault.ikA, rule: 'unbalanced', lambdas: [] };
  const shares = sourceShares(fault).filter((share) => !diesAway(share.kind));
  if (!onOwnPaths(fault, shares)) {
    const currentA = withoutMotors(fault);
    return { maxA: currentA, minA: currentA, rule: 'meshed', lambdas: [] };
  }
  const { network, level, part } = fault.study.assembly;
  let [max, min]: Complex[] = [0, 0].map(() => ({ re: 0, im: 0 }));
  const lambdas: { share: SourceShare; lambda: Lambda }[] = [];
  for (const share of shares) {
    const atFault = scale(share.current, share.levelRatio);
    const data = steadyData(network.elements.get(share.element)!);
    if (!data || share.ratedA === null) {
      max = add(max, atFault);
      min = add(min, atFault);
      continue;
    }
    const own = lambda(data, loadingOf(share));
    lambdas.push({ share, lambda: own });
    const size = magnitude(share.current);
    max = add(max, scale(atFault, size === 0 ? 0 : (own.max * share.ratedA) / size));
    min = add(min, scale(atFault, size === 0 ? 0 : (own.min * share.ratedA) / size));
  }
  for (const { node, current } of fault.raised()?.injections ?? [])
    if (part[node] === part[fault.node]) {
      const atFault = scale(current, level[node] / level[fault.node]);
      max = add(max, atFault);
      min = add(min, atFault);
    }
  return { maxA: magnitude(max), minA: magnitude(min), rule: 'single paths', lambdas };
}

function steadyData(element: Element): SteadyData | null {
  if (element.kind === 'synchronousMachine') return element;
  return element.kind === 'powerStationUnit' ? element.generator : null;
}

/** Positive-sequence networks without motors, kept as long as their assembly. */
const quiet = new WeakMap<Assembly, SequenceNetwork>();

function networkWithoutMotors(assembly: Assembly): SequenceNetwork {
  const known = quiet.get(assembly);
  if (known) return known;
  const { positive, network } = assembly;
  const shunts = positive.shunts.filter(
    (shunt) => shunt.role !== 'source' || !diesAway(network.elements.get(shunt.element)!.kind),
  );
  const made = buildSequenceNetwork({ ...positive, shunts });
  quiet.set(assembly, made);
  return made;
}

/** Ik″ in amperes with all motors left out; converters keep their currents. */
function withoutMotors(fault: Fault): number {
  const { assembly } = fault.study;
  const left = networkWithoutMotors(assembly);
  const port = portAt({ ...assembly, positive: left, negative: left }, fault.place)!.positive;
  if (left.floating[fault.node] >= 0) return 0;
  const z = portResponse(left, [port])[0][0];
  const e = fault.sourceV + (convertersOf(assembly, left)?.raisedAt(port.sense) ?? 0);
  return e / magnitude(add(z, fault.condition.phaseOhm));
}
