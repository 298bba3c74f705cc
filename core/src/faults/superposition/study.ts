/**
 * Faults superposed on a load flow: voltages before the fault as they are, machines and feeders as constant voltages behind their
 * subtransient impedances, loads as the impedances they were. For relay settings and simulated faults; no standard's factors.
 */
import { add, magnitude, multiply, scale, subtract, zero, type Complex } from '../../linear/complex';
import type { ElementId } from '../../model/fields';
import type { Network } from '../../model/network';
import { settingsOf } from '../../model/network';
import type { Problem } from '../../model/problem';
import { terminalKey, type TerminalKey } from '../../model/topology';
import { assemble, type Assembly } from '../../assembly/assemble';
import { addScaled } from '../../assembly/ports';
import { emptyValues, type NodeValues } from '../../linear/inverse';
import { unitInjection, valueAt } from '../../assembly/sequenceNetwork';
import { loadFlow, withTaps, type LoadFlow } from '../../flow/loadFlow';
import {
  addComponents,
  noCurrents,
  turned,
  type SequenceCurrents,
  type SequenceValues,
} from '../../sequence/components';
import type { FaultCase } from '../../sequence/stamp';
import { nodeVoltages, terminalCurrents, type TerminalCurrents } from '../solution/flows';
import { voltageFactor } from '../iec60909/voltageFactor';
import {
  solveDisturbances,
  type Disturbance,
  type DisturbanceResult,
  type Prefault,
  type Solution,
} from '../solution/solve';

export interface SuperpositionStudy {
  readonly flow: LoadFlow;
  /** Network with machines behind their impedances and loads as impedances. */
  readonly assembly: Assembly;
  readonly prefault: Prefault;
  /** What converters change between load and fault, with the voltages that raises. */
  readonly injected: readonly { readonly key: TerminalKey; readonly node: number; readonly current: Complex }[];
  readonly raised: NodeValues | null;
}

export type SuperpositionStudyResult = { ok: true; study: SuperpositionStudy } | { ok: false; problems: Problem[] };

/** Runs the load flow and prepares the network for faults. Problems: those of the load flow when it does not converge. */
export function superpositionStudy(network: Network, faultCase: FaultCase = 'max'): SuperpositionStudyResult {
  const factor = voltageFactor(settingsOf(network).lowVoltageTolerancePercent);
  const flow = loadFlow(network, { faultCase, voltageFactor: factor });
  if (!flow.converged) return { ok: false, problems: flow.problems.filter((problem) => problem.severity === 'error') };
  const withFound = flow.taps.size > 0 ? withTaps(network, flow.taps) : network;
  const assembly = assemble(withFound, {
    faultCase,
    basis: 'operating',
    voltageFactor: factor,
    loads: loadImpedances(flow),
  });
  return { ok: true, study: prepared(flow, assembly) };
}

function prepared(flow: LoadFlow, assembly: Assembly): SuperpositionStudy {
  const injected = converterChanges(flow, assembly);
  let raised: NodeValues | null = null;
  if (injected.length > 0) {
    raised = emptyValues(assembly.nodeCount);
    for (const { node, current } of injected) addScaled(raised, assembly.positive.solve(unitInjection(node)), current);
  }
  const prefault: Prefault = {
    voltageAt: (node) => add(valueAt(flow.voltages, node), raised ? valueAt(raised, node) : zero),
    currentInto: (element, terminal) => flow.currents.get(terminalKey(element, terminal)) ?? zero,
  };
  return { flow, assembly, prefault, injected, raised };
}

/** Loads as impedances at the voltage they had: Z = 3·V²/S*. */
function loadImpedances(flow: LoadFlow): Map<ElementId, Complex> {
  const loads = new Map<ElementId, Complex>();
  const { network } = flow.assembly;
  for (const { element, node, mva, behaves } of flow.demands) {
    const { kind } = network.elements.get(element)!;
    if (kind !== 'load' && kind !== 'staticDrive') continue;
    const nominal = flow.assembly.topology.nodes[node].nominalKv ?? 0;
    const v = valueAt(flow.voltages, node);
    const own = (3 * (v.re ** 2 + v.im ** 2)) / 1e6;
    const kv2 = { constantPower: own, constantCurrent: nominal * Math.sqrt(own), constantImpedance: nominal ** 2 }[
      behaves
    ];
    const s2 = mva.re ** 2 + mva.im ** 2;
    if (s2 > 0 && kv2 > 0) loads.set(element, scale(mva, kv2 / s2));
  }
  return loads;
}

/** Converters leave their load current for the limited, reactive fault current, turned with the voltage they had. */
function converterChanges(flow: LoadFlow, assembly: Assembly) {
  return assembly.injections.flatMap(({ element, terminal, node, current }) => {
    const v = valueAt(flow.voltages, node);
    const size = magnitude(v);
    if (size === 0) return [];
    const before = scale(flow.currents.get(terminalKey(element, terminal)) ?? zero, -1);
    const during = multiply(current, { re: v.re / size, im: v.im / size });
    return [{ key: terminalKey(element, terminal), node, current: subtract(during, before) }];
  });
}

export interface SuperpositionFault {
  readonly study: SuperpositionStudy;
  readonly solution: Solution;
  readonly results: readonly DisturbanceResult[];
}

export type SuperpositionFaultResult = { ok: true; fault: SuperpositionFault } | { ok: false; problems: Problem[] };

export function superpositionFault(
  study: SuperpositionStudy,
  disturbances: readonly Disturbance[],
): SuperpositionFaultResult {
  const solved = solveDisturbances(study.assembly, study.prefault, disturbances);
  if (!solved.ok) return solved;
  return { ok: true, fault: { study, solution: solved.solution, results: solved.results } };
}

/** Currents out of every element at its terminals during the fault, load current included. */
export function currentsDuring({ study, solution }: SuperpositionFault): TerminalCurrents {
  const { assembly, flow, raised, injected } = study;
  const shifted: Solution = raised
    ? { ...solution, change: { ...solution.change, positive: summed(solution.change.positive, raised) } }
    : solution;
  const changes = terminalCurrents(assembly, shifted, injected);
  const total = new Map<TerminalKey, SequenceCurrents>(changes);
  for (const [key, into] of flow.currents) {
    const node = assembly.topology.nodeOf.get(key)!;
    const before: SequenceValues = turned(
      { ...noCurrents, positive: scale(into, -1) },
      assembly.lag[node] - assembly.lag[solution.reference],
    );
    total.set(key, addComponents(total.get(key) ?? noCurrents, before));
  }
  return total;
}

/** Voltages to earth at a node during the fault, in its own phase position. */
export const voltagesDuring = ({ study, solution }: SuperpositionFault, node: number): SequenceValues =>
  nodeVoltages(study.assembly, solution, node, study.prefault.voltageAt(node));

function summed(p: NodeValues, q: NodeValues): NodeValues {
  const total = emptyValues(p.re.length);
  addScaled(total, p, { re: 1, im: 0 });
  addScaled(total, q, { re: 1, im: 0 });
  return total;
}
