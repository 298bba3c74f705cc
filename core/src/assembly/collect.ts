/** Every element's sequence model, put down at its nodes: the lists that the networks are made of. */
import type { Complex } from '../linear/complex';
import { kinds, type Element } from '../model/element';
import type { ElementId } from '../model/fields';
import { elementsByKind, type Network } from '../model/network';
import type { Problem } from '../model/problem';
import type { Topology } from '../model/topology';
import { hasSequenceModel, sequenceModel } from '../sequence/models';
import {
  impedance,
  nothing,
  shunt,
  type Injection,
  type Primitive,
  type SequenceContext,
  type SequenceModel,
  type Series,
  type Shunt,
} from '../sequence/stamp';
import type { Gap, NetworkSeries, NetworkShunt } from './parts';
import type { Supplier } from './spread';

/** A converter's current in the network, in amperes against the voltage at its node. */
export interface NetworkInjection extends Injection {
  readonly element: ElementId;
  readonly node: number;
}

interface NodeLists {
  readonly series: NetworkSeries[];
  readonly shunts: NetworkShunt[];
}

const emptyLists = (): NodeLists => ({ series: [], shunts: [] });

/** Collects element by element; problems: a feeder whose voltage level nothing tells. */
export class Collector {
  readonly positive = emptyLists();
  /** Holds the positive one's own entries where an element makes no difference. */
  readonly negative = emptyLists();
  readonly zero = emptyLists();
  readonly gaps: Gap[] = [];
  readonly charging: Record<'positive' | 'zero', NetworkShunt[]> = { positive: [], zero: [] };
  readonly suppliers: Supplier[] = [];
  readonly injections: NetworkInjection[] = [];
  readonly innerNodes: { element: ElementId; local: number }[] = [];
  negativeDiffers = false;
  /** Nodes of the element in hand by local number, its own inner nodes after its terminals. */
  private readonly nodes: number[] = [];
  private element!: Element;

  /** `known`: inner nodes of the element in hand that have a number already. */
  constructor(
    private readonly topology: Topology,
    private readonly known: ReadonlyMap<number, number> = new Map(),
    private readonly motorsSupply = false,
  ) {}

  get nodeCount(): number {
    return this.topology.nodes.length + this.innerNodes.length;
  }

  take(element: Element, terminals: number, model: SequenceModel): void {
    this.element = element;
    this.nodes.length = 0;
    for (let t = 0; t < terminals; t++) this.nodes.push(this.topology.nodeAt(element.id, t)!);
    this.place(this.positive, model.positive);
    if (model.negative) {
      this.negativeDiffers = true;
      this.place(this.negative, model.negative);
    } else this.share(model.positive);
    this.place(this.zero, model.zero);
    if (model.charging) {
      for (const p of model.charging.positive) this.charging.positive.push(this.shunt(p));
      for (const p of model.charging.zero) this.charging.zero.push(this.shunt(p));
    }
    if (model.zeroUnknown)
      this.gaps.push({
        element: element.id,
        fields: model.zeroUnknown.fields,
        nodes: model.zeroUnknown.terminals.map((terminal) => this.node(terminal)),
      });
    if (model.injection)
      this.injections.push({ ...model.injection, element: element.id, node: this.node(model.injection.terminal) });
    for (const p of model.positive)
      if (p.type === 'shunt' && (p.supplies || (this.motorsSupply && p.role === 'source')))
        this.suppliers.push({ element: element.id, node: this.node(p.terminal) });
  }

  private node(local: number): number {
    const known = this.known.get(local);
    if (known !== undefined) return known;
    if (this.nodes[local] === undefined) {
      this.nodes[local] = this.nodeCount;
      this.innerNodes.push({ element: this.element.id, local });
    }
    return this.nodes[local];
  }

  private place(lists: NodeLists, primitives: readonly Primitive[]): void {
    for (const p of primitives) {
      if (p.type === 'series') lists.series.push(this.series(p));
      else lists.shunts.push(this.shunt(p));
    }
  }

  /** What was put into the positive sequence last, into the negative one. */
  private share(primitives: readonly Primitive[]): void {
    const series = primitives.filter((p) => p.type === 'series').length;
    const { positive, negative } = this;
    for (let k = series; k > 0; k--) negative.series.push(positive.series[positive.series.length - k]);
    for (let k = primitives.length - series; k > 0; k--)
      negative.shunts.push(positive.shunts[positive.shunts.length - k]);
  }

  private series(p: Series): NetworkSeries {
    return {
      element: this.element.id,
      rOhm: p.rOhm,
      xOhm: p.xOhm,
      rPeakOhm: p.rPeakOhm,
      from: p.from,
      to: p.to,
      a: this.node(p.from),
      b: this.node(p.to),
      ratio: p.ratio,
      lag: (p.clock * Math.PI) / 6 + p.shiftRad,
      shiftRad: 0,
      circuits: p.circuits,
    };
  }

  private shunt(p: Shunt): NetworkShunt {
    return {
      element: this.element.id,
      rOhm: p.rOhm,
      xOhm: p.xOhm,
      rPeakOhm: p.rPeakOhm,
      terminal: p.terminal,
      node: this.node(p.terminal),
      role: p.role,
    };
  }
}

/** `loads`: constant impedances in place of the elements' own models; `motorsSupply`: what cannot keep a network going by itself counts as supply too. */
export function collect(
  network: Network,
  topology: Topology,
  context: SequenceContext,
  loads: ReadonlyMap<ElementId, Complex>,
  problems: Problem[],
  motorsSupply = false,
): Collector {
  const collector = new Collector(topology, undefined, motorsSupply);
  for (const [kind, elements] of elementsByKind(network)) {
    if (!hasSequenceModel(kind) && loads.size === 0) continue;
    const { terminals } = kinds[kind];
    for (const element of elements) {
      const unplaced = levelMissing(element, topology);
      if (unplaced) {
        problems.push(unplaced);
        continue;
      }
      const load = loads.get(element.id);
      const model = load
        ? { ...nothing, positive: [shunt(0, impedance(load.re, load.im), 'passive', false)] }
        : sequenceModel(element, context);
      if (model) collector.take(element, terminals, model);
    }
  }
  return collector;
}

/** What a single element puts in; null without a model or a level. */
export function collectOne(
  element: Element,
  topology: Topology,
  context: SequenceContext,
  innerNodes: ReadonlyMap<number, number>,
): Collector | null {
  const model = levelMissing(element, topology) ? null : sequenceModel(element, context);
  if (!model) return null;
  const collector = new Collector(topology, innerNodes);
  collector.take(element, kinds[element.kind].terminals, model);
  return collector;
}

/** Models that lean on the nominal voltage of their node cannot do without it. */
function levelMissing(element: Element, topology: Topology): Problem | null {
  if (element.kind !== 'networkFeeder') return null;
  if (topology.nodes[topology.nodeAt(element.id, 0)!].nominalKv !== null) return null;
  return {
    severity: 'error',
    code: 'level.unknown',
    message: `${element.name} is connected to no bus`,
    element: element.id,
  };
}
