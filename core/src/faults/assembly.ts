/**
 * From the model to the three sequence networks, once for all methods: each method says which case it wants and lays its own
 * formulas on top.
 */
import { settingsOf, type Network } from '../model/network';
import { nameOf, type Element } from '../model/element';
import type { Problem } from '../model/problem';
import { buildTopology, terminalKey, type Topology } from '../model/topology';
import { sequenceModel } from '../sequence/models';
import type { FaultCase, Primitive, SequenceContext } from '../sequence/stamp';
import { SilentTrace, type Trace } from '../working/trace';
import {
  atFrequencyRatio,
  buildSequenceNetwork,
  type Gap,
  type NetworkSeries,
  type NetworkShunt,
  type SequenceNetwork,
} from './sequenceNetwork';

export interface Assembly {
  readonly network: Network;
  readonly topology: Topology;
  readonly faultCase: FaultCase;
  readonly positive: SequenceNetwork;
  readonly negative: SequenceNetwork;
  readonly zero: SequenceNetwork;
  /** Positive sequence for the peak factor, see {@link atFrequencyRatio}. */
  readonly lowFrequency: SequenceNetwork;
  /** fc/f of {@link lowFrequency}. */
  readonly frequencyRatio: number;
  /** True for nodes with a source in their part of the network. */
  readonly supplied: Uint8Array;
  /** Lag of each node's positive-sequence voltage, in steps of 30°, against the first node of its part. */
  readonly clock: Int32Array;
  /** Voltage of each node for one volt at the first node of its part, by rated ratios. */
  readonly level: Float64Array;
  /** Nodes with the same number are joined by branches; `level` and `clock` compare only within a part. */
  readonly part: Int32Array;
  readonly problems: readonly Problem[];
}

export type VoltageFactor = (nominalKv: number, faultCase: FaultCase) => number;

/** fc/f of the equivalent frequency method: 20 Hz for 50 Hz, 24 Hz for 60 Hz. */
export const peakFrequencyRatio = 0.4;

export function contextFor(
  topology: Topology,
  faultCase: FaultCase,
  voltageFactor: VoltageFactor,
  trace: Trace,
): SequenceContext {
  return {
    faultCase,
    trace,
    nominalKv: (element, terminal) => topology.nodes[topology.nodeOf.get(terminalKey(element, terminal))!].nominalKv!,
    cFactor: (nominalKv, wanted = faultCase) => voltageFactor(nominalKv, wanted),
  };
}

export function assemble(
  network: Network,
  faultCase: FaultCase,
  voltageFactor: VoltageFactor,
  topology: Topology = buildTopology(network),
): Assembly {
  const context = contextFor(topology, faultCase, voltageFactor, new SilentTrace());
  const count = topology.nodes.length;
  const lists = { positive: newLists(), negative: newLists(), zero: newLists() };
  const gaps: Gap[] = [];
  const clocks: { a: number; b: number; steps: number; ratio: number; element: Element }[] = [];
  const problems: Problem[] = [...topology.problems];
  const suppliers = new Set<number>();
  const node = (element: Element, terminal: number) => topology.nodeOf.get(terminalKey(element.id, terminal))!;

  for (const element of network.elements.values()) {
    if (element.kind === 'networkFeeder' && topology.nodes[node(element, 0)].nominalKv === null) {
      problems.push({
        severity: 'error',
        code: 'level.unknown',
        message: `${element.name} is connected to no bus`,
        element: element.id,
      });
      continue;
    }
    const model = sequenceModel(element, context);
    if (!model) continue;
    place(lists.positive, element, model.positive, node);
    place(lists.negative, element, model.negative ?? model.positive, node);
    place(lists.zero, element, model.zero, node);
    if (model.zeroUnknown)
      gaps.push({
        element: element.id,
        fields: model.zeroUnknown.fields,
        nodes: model.zeroUnknown.terminals.map((t) => node(element, t)),
      });
    for (const primitive of model.positive) {
      if (primitive.type === 'series')
        clocks.push({
          a: node(element, 0),
          b: node(element, 1),
          steps: primitive.clock,
          ratio: primitive.ratio,
          element,
        });
      else if (primitive.supplies) suppliers.add(node(element, primitive.terminal));
    }
  }
  const { clock, level, supplied, part } = spread(count, clocks, suppliers, problems);
  const { positive, negative, zero } = lists;
  return {
    network,
    topology,
    faultCase,
    positive: buildSequenceNetwork(count, positive.series, positive.shunts, []),
    negative: buildSequenceNetwork(count, negative.series, negative.shunts, []),
    zero: buildSequenceNetwork(count, zero.series, zero.shunts, gaps),
    lowFrequency: buildSequenceNetwork(
      count,
      positive.series,
      positive.shunts,
      [],
      atFrequencyRatio(peakFrequencyRatio),
    ),
    frequencyRatio: peakFrequencyRatio,
    supplied,
    clock,
    level,
    part,
    problems: [...problems, ...withoutSupply(topology, supplied)],
  };
}

/** The case a study can be made for: `settings` decides the low-voltage tolerance. */
export const toleranceOf = (network: Network): number => settingsOf(network).lowVoltageTolerancePercent;

const newLists = () => ({ series: [] as NetworkSeries[], shunts: [] as NetworkShunt[] });

function place(
  lists: { series: NetworkSeries[]; shunts: NetworkShunt[] },
  element: Element,
  primitives: readonly Primitive[],
  node: (element: Element, terminal: number) => number,
): void {
  for (const primitive of primitives) {
    const { rOhm, xOhm, rPeakOhm } = primitive;
    const common = { element: element.id, rOhm, xOhm, rPeakOhm };
    if (primitive.type === 'series')
      lists.series.push({ ...common, a: node(element, 0), b: node(element, 1), ratio: primitive.ratio });
    else lists.shunts.push({ ...common, node: node(element, primitive.terminal), terminal: primitive.terminal });
  }
}

/** Walks each connected part once: phase position and rated voltage of every node, and whether anything feeds the part. */
function spread(
  count: number,
  branches: readonly { a: number; b: number; steps: number; ratio: number; element: Element }[],
  suppliers: ReadonlySet<number>,
  problems: Problem[],
) {
  const at: { to: number; steps: number; ratio: number; element: Element }[][] = Array.from(
    { length: count },
    () => [],
  );
  for (const { a, b, steps, ratio, element } of branches) {
    at[a].push({ to: b, steps, ratio: 1 / ratio, element });
    at[b].push({ to: a, steps: -steps, ratio, element });
  }
  const clock = new Int32Array(count).fill(-1);
  const level = new Float64Array(count);
  const supplied = new Uint8Array(count);
  const part = new Int32Array(count);
  const blamed = new Set<Element>();
  for (let start = 0; start < count; start++) {
    if (clock[start] >= 0) continue;
    clock[start] = 0;
    level[start] = 1;
    const members = [start];
    for (let k = 0; k < members.length; k++)
      for (const { to, steps, ratio, element } of at[members[k]]) {
        const position = (clock[members[k]] + steps + 24) % 12;
        if (clock[to] < 0) {
          clock[to] = position;
          level[to] = level[members[k]] * ratio;
          members.push(to);
        } else if (clock[to] !== position && !blamed.has(element)) {
          blamed.add(element);
          problems.push({
            severity: 'error',
            code: 'clock.loop',
            message: `${nameOf(element)} closes a loop with a different phase shift: check the clock numbers of the transformers in it`,
            element: element.id,
            field: 'vectorGroup',
          });
        }
      }
    for (const member of members) part[member] = start;
    if (members.some((member) => suppliers.has(member))) for (const member of members) supplied[member] = 1;
  }
  return { clock, level, supplied, part };
}

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
