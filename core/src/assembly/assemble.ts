/**
 * From the model to the three sequence networks, once for all methods: each method says what the impedances are for and lays its own
 * formulas on top.
 */
import { kinds, type Element } from '../model/element';
import type { ElementId } from '../model/fields';
import { settingsOf, type Network } from '../model/network';
import type { Problem } from '../model/problem';
import { buildTopology, terminalKey, type Topology } from '../model/topology';
import { towerProblem } from '../sequence/lineConstants';
import { sequenceModel } from '../sequence/models';
import {
  impedance,
  nothing,
  shunt,
  type Basis,
  type FaultCase,
  type Injection,
  type Primitive,
  type SequenceContext,
  type SequenceModel,
} from '../sequence/stamp';
import type { Complex } from '../linear/complex';
import { SilentTrace, type Trace } from '../working/trace';
import { connectivity, coupledGroups } from './connectivity';
import { couplingsOf } from './coupling';
import { analysisOf } from './stamping';
import { isNought, spread, wrapped, type Spread, type Supplier } from './spread';
import {
  atFrequencyRatio,
  atFrequencyRatioOwn,
  buildSequenceNetwork,
  ratedFrequency,
  type Gap,
  type NetworkParts,
  type NetworkSeries,
  type NetworkShunt,
  type SequenceNetwork,
} from './sequenceNetwork';

/** Line capacitances in the zero sequence: only where the earthing makes them carry the earth fault, always, or never. */
export type Charging = 'auto' | 'always' | 'never';

export type VoltageFactor = (nominalKv: number, faultCase: FaultCase) => number;

export interface AssemblyOptions {
  readonly faultCase: FaultCase;
  readonly basis?: Basis;
  readonly voltageFactor: VoltageFactor;
  readonly charging?: Charging;
  /** A power-station unit with the fault between generator and transformer. */
  readonly faultInside?: ElementId;
  /** Constant impedances that stand for what has no model of its own, such as loads at the voltage of a load flow; star unearthed. */
  readonly loads?: ReadonlyMap<ElementId, Complex>;
  readonly topology?: Topology;
}

/** A converter's current in the network, in amperes against the voltage at its node. */
export interface NetworkInjection extends Injection {
  readonly element: ElementId;
  readonly node: number;
}

export interface Assembly extends Spread {
  readonly network: Network;
  readonly options: AssemblyOptions;
  readonly topology: Topology;
  readonly faultCase: FaultCase;
  readonly basis: Basis;
  readonly frequencyHz: number;
  /** Nodes of the topology first, then inner nodes of elements, see {@link innerNodes}. */
  readonly nodeCount: number;
  readonly innerNodes: readonly { readonly element: ElementId; readonly local: number }[];
  readonly positive: SequenceNetwork;
  readonly negative: SequenceNetwork;
  readonly zero: SequenceNetwork;
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

interface ChargingShunt extends NetworkShunt {
  readonly sequence: 'positive' | 'zero';
}

export interface Lists {
  readonly positive: NetworkParts;
  /** The positive one itself where nothing tells them apart. */
  readonly negative: NetworkParts;
  readonly zero: NetworkParts;
  readonly charging: readonly ChargingShunt[];
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
    trace,
    frequencyHz: settingsOf(network).frequencyHz,
    nominalKv: (element, terminal) => topology.nodes[topology.nodeOf.get(terminalKey(element, terminal))!].nominalKv!,
    cFactor: (nominalKv, wanted = faultCase) => voltageFactor(nominalKv, wanted),
    element: (id) => network.elements.get(id),
  };
}

export function assemble(network: Network, options: AssemblyOptions): Assembly {
  const topology = options.topology ?? buildTopology(network);
  const basis = options.basis ?? 'iec60909';
  const context = contextFor(network, topology, options, new SilentTrace());
  const problems: Problem[] = [...topology.problems];
  const collected = collect(network, topology, context, options, problems);
  const { couplings, problems: couplingProblems } = couplingsOf(network, context.frequencyHz);
  problems.push(...couplingProblems, ...towerProblems(network));
  const { nodeCount, innerNodes, injections, suppliers, charging } = collected;

  const spreadOut = spread(network, nodeCount, collected.positive.series, suppliers, problems);
  const parts = (list: NodeLists, more: Partial<NetworkParts> = {}): NetworkParts => ({
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
    faultCase: options.faultCase,
    basis,
    frequencyHz: context.frequencyHz,
    nodeCount,
    innerNodes,
    injections,
    ...networksOf(lists, basis, options.charging ?? 'auto'),
    ...spreadOut,
    lists,
    outages: [],
    problems: [...problems, ...withoutSupply(topology, spreadOut.supplied)],
  };
}

/** The networks of some lists: capacitances put in where they belong, negative shared with positive where it is the same. */
export function networksOf(lists: Lists, basis: Basis, charging: Charging) {
  const withCharging = (parts: NetworkParts, sequence: 'positive' | 'zero', wanted: (node: number) => boolean) => {
    const more = lists.charging.filter((shunt) => shunt.sequence === sequence && wanted(shunt.node));
    return more.length > 0 ? { ...parts, shunts: [...parts.shunts, ...more] } : parts;
  };
  const everywhere = basis === 'operating' && charging !== 'never';
  const positiveParts = withCharging(lists.positive, 'positive', () => everywhere);
  const negativeParts =
    lists.negative === lists.positive ? positiveParts : withCharging(lists.negative, 'positive', () => everywhere);
  const zeroParts = withCharging(lists.zero, 'zero', chargedNodes(lists.zero, everywhere ? 'always' : charging));
  const positive = buildSequenceNetwork(positiveParts);
  const byRatio = new Map<string, SequenceNetwork>();
  return {
    positive,
    negative: negativeParts === positiveParts ? positive : buildSequenceNetwork(negativeParts),
    zero: buildSequenceNetwork(zeroParts),
    atFrequency(ratio: number, resistances: 'fictitious' | 'own' = 'fictitious'): SequenceNetwork {
      const key = `${resistances} ${ratio}`;
      let found = byRatio.get(key);
      const weight = resistances === 'own' ? atFrequencyRatioOwn(ratio) : atFrequencyRatio(ratio);
      if (!found) byRatio.set(key, (found = buildSequenceNetwork(positiveParts, weight)));
      return found;
    },
  };
}

/** Nodes whose line capacitances count: those of parts that are earthed nowhere, or through resonant coils only. */
function chargedNodes(zero: NetworkParts, charging: Charging): (node: number) => boolean {
  if (charging !== 'auto') return () => charging === 'always';
  const { part } = connectivity(zero);
  const earthed = new Set(zero.shunts.filter((shunt) => shunt.role !== 'coil').map((shunt) => part[shunt.node]));
  return (node) => !earthed.has(part[node]);
}

interface NodeLists {
  series: NetworkSeries[];
  shunts: NetworkShunt[];
}

function collect(
  network: Network,
  topology: Topology,
  context: SequenceContext,
  options: AssemblyOptions,
  problems: Problem[],
) {
  const positive: NodeLists = { series: [], shunts: [] };
  const negative: NodeLists = { series: [], shunts: [] };
  const zero: NodeLists = { series: [], shunts: [] };
  const gaps: Gap[] = [];
  const charging: ChargingShunt[] = [];
  const suppliers: { element: ElementId; node: number }[] = [];
  const injections: NetworkInjection[] = [];
  const innerNodes: { element: ElementId; local: number }[] = [];
  let negativeDiffers = false;

  for (const element of network.elements.values()) {
    const inner = new Map<number, number>();
    const node = (local: number): number => {
      if (local < kinds[element.kind].terminals) return topology.nodeOf.get(terminalKey(element.id, local))!;
      if (!inner.has(local)) {
        inner.set(local, topology.nodes.length + innerNodes.length);
        innerNodes.push({ element: element.id, local });
      }
      return inner.get(local)!;
    };
    const unplaced = levelMissing(element, topology);
    if (unplaced) {
      problems.push(unplaced);
      continue;
    }
    const load = options.loads?.get(element.id);
    const model: SequenceModel | null = load
      ? { ...nothing, positive: [shunt(0, impedance(load.re, load.im), 'passive', false)] }
      : sequenceModel(element, context);
    if (!model) continue;
    const asSeries = (p: Primitive & { type: 'series' }): NetworkSeries => ({
      element: element.id,
      rOhm: p.rOhm,
      xOhm: p.xOhm,
      rPeakOhm: p.rPeakOhm,
      from: p.from,
      to: p.to,
      a: node(p.from),
      b: node(p.to),
      ratio: p.ratio,
      lag: (p.clock * Math.PI) / 6 + p.shiftRad,
      shiftRad: 0,
    });
    const asShunt = (p: Primitive & { type: 'shunt' }): NetworkShunt => ({
      element: element.id,
      rOhm: p.rOhm,
      xOhm: p.xOhm,
      rPeakOhm: p.rPeakOhm,
      terminal: p.terminal,
      node: node(p.terminal),
      role: p.role,
    });
    const place = (lists: NodeLists, primitives: readonly Primitive[]) => {
      for (const p of primitives) {
        if (p.type === 'series') lists.series.push(asSeries(p));
        else lists.shunts.push(asShunt(p));
      }
    };
    place(positive, model.positive);
    place(negative, model.negative ?? model.positive);
    place(zero, model.zero);
    if (model.negative) negativeDiffers = true;
    for (const sequence of ['positive', 'zero'] as const)
      for (const p of model.charging?.[sequence] ?? []) charging.push({ ...asShunt(p), sequence });
    if (model.zeroUnknown)
      gaps.push({
        element: element.id,
        fields: model.zeroUnknown.fields,
        nodes: model.zeroUnknown.terminals.map(node),
      });
    if (model.injection)
      injections.push({ ...model.injection, element: element.id, node: node(model.injection.terminal) });
    for (const p of model.positive)
      if (p.type === 'shunt' && p.supplies) suppliers.push({ element: element.id, node: node(p.terminal) });
  }
  return {
    positive,
    negative,
    zero,
    gaps,
    charging,
    suppliers,
    injections,
    innerNodes,
    negativeDiffers,
    nodeCount: topology.nodes.length + innerNodes.length,
  };
}

/** Models that lean on the nominal voltage of their node cannot do without it. */
function levelMissing(element: Element, topology: Topology): Problem | null {
  if (element.kind !== 'networkFeeder') return null;
  if (topology.nodes[topology.nodeOf.get(terminalKey(element.id, 0))!].nominalKv !== null) return null;
  return {
    severity: 'error',
    code: 'level.unknown',
    message: `${element.name} is connected to no bus`,
    element: element.id,
  };
}

function towerProblems(network: Network): Problem[] {
  const problems: Problem[] = [];
  for (const element of network.elements.values()) {
    if (element.kind !== 'line' || element.data !== 'tower') continue;
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

function withoutSupply(topology: Topology, supplied: Uint8Array): Problem[] {
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
