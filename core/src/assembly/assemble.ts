/**
 * From the model to the three sequence networks, once for all methods: each method says what the impedances are for and lays its own
 * formulas on top.
 */
import type { ElementId } from '../model/fields';
import { ofKind, settingsOf, type Network } from '../model/network';
import type { Problem } from '../model/problem';
import { buildTopology, type Topology } from '../model/topology';
import { towerProblem } from '../sequence/lineConstants';
import type { Basis, FaultCase, SequenceContext } from '../sequence/stamp';
import type { Complex } from '../linear/complex';
import { once } from '../linear/once';
import { SilentTrace, type Trace } from '../working/trace';
import { collect, type NetworkInjection } from './collect';
import { chargedShunts, type Charging } from './charging';
import { coupledGroups } from './connectivity';
import { couplingsOf } from './coupling';
import { analysisOf } from './stamping';
import { isNought, spread, wrapped, type Spread, type Supplier } from './spread';
import {
  atFrequencyRatio,
  atFrequencyRatioOwn,
  buildSequenceNetwork,
  ratedFrequency,
  type NetworkParts,
  type NetworkSeries,
  type NetworkShunt,
  type SequenceNetwork,
} from './sequenceNetwork';

export type { Charging };

export type VoltageFactor = (nominalKv: number, faultCase: FaultCase) => number;

export interface AssemblyOptions {
  readonly faultCase: FaultCase;
  readonly basis?: Basis;
  readonly voltageFactor: VoltageFactor;
  readonly charging?: Charging;
  /** A power-station unit with the fault between generator and transformer, or in the auxiliaries behind. */
  readonly faultInside?: SequenceContext['faultInside'];
  /** Constant impedances that stand for what has no model of its own, such as loads at the voltage of a load flow; star unearthed. */
  readonly loads?: ReadonlyMap<ElementId, Complex>;
  readonly topology?: Topology;
  /** Motors alone supply a part: for the moments in which they feed a fault that has been cut off from everything else. */
  readonly motorsSupply?: boolean;
}

export interface Assembly extends Spread {
  readonly network: Network;
  readonly options: AssemblyOptions;
  readonly topology: Topology;
  /** Power-station units. */
  readonly units: readonly ElementId[];
  readonly faultCase: FaultCase;
  readonly basis: Basis;
  readonly frequencyHz: number;
  /** Nodes of the topology first, then inner nodes of elements, see {@link innerNodes}. */
  readonly nodeCount: number;
  readonly innerNodes: readonly { readonly element: ElementId; readonly local: number }[];
  readonly positive: SequenceNetwork;
  readonly negative: SequenceNetwork;
  readonly zero: SequenceNetwork;
  /** Line capacitances that count in the zero sequence. */
  readonly charged: readonly NetworkShunt[];
  /** The zero sequence without them. */
  bareZero(): SequenceNetwork;
  /**
   * Positive sequence at a fraction of rated frequency, for peak (with the fictitious resistances of generators) and d.c. component (with their own); made
   * when asked for.
   */
  atFrequency(ratio: number, resistances?: 'fictitious' | 'own'): SequenceNetwork;
  readonly injections: readonly NetworkInjection[];
  /** What was put in, for a later outage. */
  readonly lists: Lists;
  /** Elements taken out of service since. */
  readonly outages: readonly ElementId[];
  readonly problems: readonly Problem[];
}

export interface Lists {
  readonly positive: NetworkParts;
  /** The positive one itself where nothing tells them apart. */
  readonly negative: NetworkParts;
  readonly zero: NetworkParts;
  /** Line capacitances. */
  readonly charging: Readonly<Record<'positive' | 'zero', readonly NetworkShunt[]>>;
  readonly suppliers: readonly Supplier[];
}

export function contextFor(
  network: Network,
  topology: Topology,
  { faultCase, basis = 'iec60909', voltageFactor, faultInside }: AssemblyOptions,
  trace: Trace,
): SequenceContext {
  return {
    faultCase,
    basis,
    faultInside,
    minimumFactors: settingsOf(network).minimumFactors,
    trace,
    frequencyHz: settingsOf(network).frequencyHz,
    nominalKv: (element, terminal) => topology.nodes[topology.nodeAt(element, terminal)!].nominalKv!,
    cFactor: (nominalKv, wanted = faultCase) => voltageFactor(nominalKv, wanted),
    element: (id) => network.elements.get(id),
  };
}

export function assemble(network: Network, options: AssemblyOptions): Assembly {
  const topology = options.topology ?? buildTopology(network);
  const basis = options.basis ?? 'iec60909';
  const context = contextFor(network, topology, options, new SilentTrace());
  const problems: Problem[] = [...topology.problems];
  const collected = collect(network, topology, context, options.loads ?? new Map(), problems, options.motorsSupply);
  const { couplings, problems: couplingProblems } = couplingsOf(network, context.frequencyHz);
  problems.push(...couplingProblems, ...towerProblems(network));
  const { nodeCount, innerNodes, injections, suppliers, charging } = collected;

  const spreadOut = spread(network, nodeCount, collected.positive.series, suppliers, problems);
  const parts = (list: Pick<NetworkParts, 'series' | 'shunts'>, more: Partial<NetworkParts> = {}): NetworkParts => ({
    nodeCount,
    series: list === collected.zero ? list.series : list.series.map((branch) => withShift(branch, spreadOut.lag)),
    shunts: list.shunts,
    couplings: [],
    gaps: [],
    ...more,
  });
  const positiveParts = parts(collected.positive);
  const turned = positiveParts.series.some((branch) => branch.shiftRad !== 0);
  const negativeParts =
    collected.negativeDiffers || turned
      ? { ...parts(collected.negative), series: backwards(parts(collected.negative).series) }
      : positiveParts;
  const zeroParts = parts(collected.zero, { couplings, gaps: collected.gaps });
  // One analysis for all three sequences and every frequency: the zero sequence has noughts where the others have branches.
  const symbolic = analysisOf(nodeCount, [
    { series: positiveParts.series, groups: [] },
    { series: zeroParts.series, groups: coupledGroups(zeroParts, ratedFrequency).groups },
  ]);
  const analysed = { ...positiveParts, symbolic };
  const lists: Lists = {
    positive: analysed,
    negative: negativeParts === positiveParts ? analysed : { ...negativeParts, symbolic },
    zero: { ...zeroParts, symbolic },
    charging,
    suppliers,
  };
  return {
    network,
    options,
    topology,
    units: ofKind(network, 'powerStationUnit').map(({ id }) => id),
    faultCase: options.faultCase,
    basis,
    frequencyHz: context.frequencyHz,
    nodeCount,
    innerNodes,
    injections,
    ...networksOf(lists, basis, options.charging ?? 'auto', topology.nodes.length),
    ...spreadOut,
    lists,
    outages: [],
    problems: [...problems, ...withoutSupply(topology, spreadOut.supplied)],
  };
}

export const chargedBy = (parts: NetworkParts, more: readonly NetworkShunt[]): NetworkParts =>
  more.length > 0 ? { ...parts, shunts: parts.shunts.concat(more) } : parts;

/** The networks of some lists: capacitances put in where they belong, negative shared with positive where it is the same. `places`: nodes of the topology. */
export function networksOf(lists: Lists, basis: Basis, charging: Charging, places: number) {
  const everywhere = basis === 'operating' && charging !== 'never';
  const charged = everywhere ? lists.charging.positive : [];
  const positiveParts = chargedBy(lists.positive, charged);
  const negativeParts = lists.negative === lists.positive ? positiveParts : chargedBy(lists.negative, charged);
  const positive = buildSequenceNetwork(positiveParts);
  const negative = negativeParts === positiveParts ? positive : buildSequenceNetwork(negativeParts);
  const bareZero = once(() => buildSequenceNetwork(lists.zero));
  const charged0 = chargedShunts(
    { positive, negative, bare: bareZero },
    lists.zero,
    lists.charging.zero,
    everywhere ? 'always' : charging,
    places,
  );
  const byRatio = { fictitious: new Map<number, SequenceNetwork>(), own: new Map<number, SequenceNetwork>() };
  return {
    positive,
    negative,
    zero: charged0.length === 0 ? bareZero() : buildSequenceNetwork(chargedBy(lists.zero, charged0)),
    charged: charged0,
    bareZero,
    atFrequency(ratio: number, resistances: 'fictitious' | 'own' = 'fictitious'): SequenceNetwork {
      const known = byRatio[resistances].get(ratio);
      if (known) return known;
      const weight = resistances === 'own' ? atFrequencyRatioOwn(ratio) : atFrequencyRatio(ratio);
      const made = buildSequenceNetwork(positiveParts, weight);
      byRatio[resistances].set(ratio, made);
      return made;
    },
  };
}

function towerProblems(network: Network): Problem[] {
  const problems: Problem[] = [];
  for (const element of ofKind(network, 'line')) {
    if (element.data !== 'tower') continue;
    const tower = element.tower === null ? undefined : network.elements.get(element.tower);
    const wrong =
      tower?.kind === 'tower'
        ? towerProblem(tower, element.towerCircuit)
        : `${element.name} takes its data from a tower, but none is chosen; the typed data are used`;
    if (wrong)
      problems.push({
        severity: 'error',
        code: 'tower.data',
        message: wrong,
        element: tower?.id ?? element.id,
        field: 'conductors',
      });
  }
  return problems;
}

/** What a branch turns beyond the positions of its ends; nought but in loops with a phase-shifting transformer. */
function withShift(branch: NetworkSeries, lag: Float64Array): NetworkSeries {
  const shiftRad = wrapped(branch.lag - (lag[branch.b] - lag[branch.a]));
  return isNought(shiftRad) ? branch : { ...branch, shiftRad };
}

const backwards = (series: readonly NetworkSeries[]): NetworkSeries[] =>
  series.map((branch) => (branch.shiftRad === 0 ? branch : { ...branch, shiftRad: -branch.shiftRad }));

export function withoutSupply(topology: Topology, supplied: Uint8Array): Problem[] {
  return topology.nodes
    .filter((node) => !supplied[node.index])
    .flatMap((node) =>
      node.buses.map((bus): Problem => ({
        severity: 'warning',
        code: 'supply.none',
        message: `${bus.name} is connected to no source`,
        element: bus.id,
      })),
    );
}
