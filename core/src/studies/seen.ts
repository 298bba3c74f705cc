/**
 * What is seen at chosen places during a fault: currents through current transformers and switches, voltages at nodes, as phasors. Only the part of the
 * networks' inverse between the fault and these places is looked at, whatever the size of the network; the same figures as the
 * currents of the whole network give (`faults/flows`), which tests hold against it.
 */
import { add, magnitude, multiply, scale, subtract, zero, type Complex } from '../linear/complex';
import { entry } from '../linear/dense';
import type { ElementId } from '../model/fields';
import type { Problem } from '../model/problem';
import type { Assembly } from '../assembly/assemble';
import { groupAdmittance } from '../assembly/coupling';
import { terminalRow, type SequenceNetwork, type Sparse } from '../assembly/sequenceNetwork';
import type { Raised } from '../faults/iec60909/converters';
import { faultAtPlace, prefaultOf, voltagesDuring, type Fault, type Iec60909Study } from '../faults/iec60909/study';
import { needsZeroSequence, solidFault, type FaultCondition, type FaultKind } from '../faults/kinds';
import { portAt, sequences, type Place, type Port, type Sequence } from '../faults/solution/solve';
import {
  addComponents,
  noCurrents,
  scaleComponents,
  turned,
  type SequenceCurrents,
  type SequenceValues,
} from '../sequence/components';
import { cutAt, type Cut } from './cut';

/** Where is looked: through elements without impedance, and at the nodes of elements' terminals. */
export interface Watch {
  readonly through: readonly ElementId[];
  readonly voltagesAt?: readonly { readonly element: ElementId; readonly terminal: number }[];
  /** Elements with impedances, at one of their terminals. */
  readonly into?: readonly { readonly element: ElementId; readonly terminal: number }[];
}

/** What is seen of one fault, in the order of the watch. */
export interface Sighting {
  readonly fault: Fault;
  /** From terminal 0 to terminal 1, in amperes; null in a ring of closed switches, or where nothing is closed. */
  readonly through: readonly (SequenceCurrents | null)[];
  /** Phase to earth, in volts; null where there is no such terminal. */
  readonly voltages: readonly (SequenceValues | null)[];
  /** The same before the fault. */
  readonly voltagesBefore: readonly (SequenceValues | null)[];
  /** Into these elements, in the phase position of the fault; null where there is no such terminal. */
  readonly into: readonly (SequenceCurrents | null)[];
}

/** The same, found place by place when it is asked for; by the places of the watch. */
export interface Glance {
  through(k: number): SequenceCurrents | null;
  /** No phase of {@link through} is above this, in amperes. */
  mostA(k: number): number;
  into(k: number): SequenceCurrents | null;
  voltage(k: number): SequenceValues | null;
  voltageBefore(k: number): SequenceValues | null;
}

export type Looked = { ok: true; seen: Sighting } | { ok: false; problems: readonly Problem[] };

/** Solid faults of several kinds at one place, as seen from the places watched. Problems as in {@link faultAtPlace}. */
export const look = (study: Iec60909Study, place: Place, kinds: readonly FaultKind[], watch: Watch): Looked[] =>
  lookAt(study, place, kinds.map(solidFault), watch);

/** The same for faults of any condition. */
export function lookAt(
  study: Iec60909Study,
  place: Place,
  conditions: readonly FaultCondition[],
  watch: Watch,
): Looked[] {
  let view: View | null = null;
  return conditions.map((condition): Looked => {
    const result = faultAtPlace(study, place, condition);
    if (!result.ok) return result;
    const { fault } = result;
    // Inside a power-station unit the fault stands in a network of its own.
    if (view?.study !== fault.study) view = new View(fault.study, place, watch);
    return { ok: true, seen: view.of(fault) };
  });
}

interface Share extends SequenceCurrents {
  readonly sizes: readonly number[];
}

/** Of an end that carries current: what its voltages make of it, by sequence. */
interface End {
  readonly element: ElementId;
  readonly terminal: number;
  readonly sense: Record<Sequence, Sparse>;
}

/** What is watched of an assembly, wherever the fault is: made once for a watch. */
interface Sensors {
  readonly cuts: readonly (Cut | null)[];
  readonly nodes: readonly (number | undefined)[];
  readonly into: readonly { readonly key: string; readonly node: number | undefined }[];
  readonly ends: ReadonlyMap<string, End>;
  /** All whose voltages are asked for. */
  readonly needed: Record<Sequence, readonly number[]>;
}

const sensorsOf = new WeakMap<Assembly, WeakMap<Watch, Sensors>>();

function sensorsFor(assembly: Assembly, watch: Watch): Sensors {
  let known = sensorsOf.get(assembly);
  if (!known) sensorsOf.set(assembly, (known = new WeakMap()));
  let sensors = known.get(watch);
  if (!sensors) known.set(watch, (sensors = madeSensors(assembly, watch)));
  return sensors;
}

function madeSensors(assembly: Assembly, watch: Watch): Sensors {
  const { network, topology } = assembly;
  const cuts = watch.through.map((element) => cutAt(network, topology, element));
  const into = (watch.into ?? []).map((each) => ({ key: `${each.element}:${each.terminal}`, ...each }));
  const nodes = (watch.voltagesAt ?? []).map(({ element, terminal }) => topology.nodeAt(element, terminal));
  const ends = new Map(
    [...cuts.flatMap((cut) => cut?.carrying ?? []), ...into].map(({ key, element, terminal }): [string, End] => [
      key,
      { element, terminal, sense: bySequence((sequence) => rowOf(assembly[sequence], element, terminal)) },
    ]),
  );
  const watched = nodes.filter((node) => node !== undefined);
  return {
    cuts,
    nodes,
    into: into.map(({ key, element, terminal }) => ({ key, node: topology.nodeAt(element, terminal) })),
    ends,
    needed: bySequence((sequence) => [
      ...new Set([...watched, ...[...ends.values()].flatMap(({ sense }) => sense[sequence].node)]),
    ]),
  };
}

/** A place and what is watched from it: the parts of the inverses in between, for every kind of fault. */
export class View {
  private readonly port: Port;
  private readonly sensors: Sensors;
  /** Volts at the watched nodes for an ampere put in at the place. */
  private readonly transfer: Record<Sequence, Transfer>;
  private readonly shares: (Share | null | undefined)[] = [];
  /** Lines that a fault inside a line reaches past the nodes: itself, and those coupled with it. */
  private readonly reached: Record<Sequence, ReadonlySet<ElementId>>;

  constructor(
    readonly study: Iec60909Study,
    place: Place,
    watch: Watch,
  ) {
    const { assembly } = study;
    this.port = portAt(assembly, place)!;
    this.sensors = sensorsFor(assembly, watch);
    this.reached = bySequence((sequence) => {
      const { inside } = this.port[sequence];
      if (!inside) return noElements;
      const network = assembly[sequence];
      return new Set(groupAdmittance(network, inside.branch).members.map((k) => network.series[k].element));
    });
    const transferOf = (sequence: Sequence) =>
      transferTo(assembly[sequence], this.port[sequence].inject, this.sensors.needed[sequence]);
    const positive = transferOf('positive');
    this.transfer = {
      positive,
      negative: assembly.negative === assembly.positive ? positive : transferOf('negative'),
      zero: transferOf('zero'),
    };
  }

  of(fault: Fault): Sighting {
    const glance = this.glance(fault);
    const raised = fault.raised();
    return {
      fault,
      through: this.sensors.cuts.map((cut) => cut && this.through(fault, raised, cut)),
      voltages: this.sensors.nodes.map((_, k) => glance.voltage(k)),
      voltagesBefore: this.sensors.nodes.map((_, k) => glance.voltageBefore(k)),
      into: this.sensors.into.map((_, k) => glance.into(k)),
    };
  }

  /** As {@link of}, found when asked for. */
  glance(fault: Fault): Glance {
    const raised = fault.raised();
    const { positive, negative, zero: homopolar } = fault.components;
    const sizes = [magnitude(positive), magnitude(negative), magnitude(homopolar)];
    return {
      through: (k) => {
        const cut = this.sensors.cuts[k];
        // What converters feed in does not follow the current of the fault.
        if (raised || !cut) return cut && this.through(fault, raised, cut);
        const share = this.shareOf(fault, k, cut);
        return {
          positive: multiply(share.positive, positive),
          negative: multiply(share.negative, negative),
          zero: multiply(share.zero, homopolar),
        };
      },
      mostA: (k) => {
        const cut = this.sensors.cuts[k];
        if (!cut) return 0;
        if (raised) {
          const through = this.through(fault, raised, cut);
          return magnitude(through.positive) + magnitude(through.negative) + magnitude(through.zero);
        }
        const { sizes: share } = this.shareOf(fault, k, cut);
        return share[0] * sizes[0] + share[1] * sizes[1] + share[2] * sizes[2];
      },
      into: (k) => {
        const { key, node } = this.sensors.into[k];
        return node === undefined
          ? null
          : turned(scaleComponents(this.outOf(fault, raised, key), -1), this.lagBetween(node, fault.node));
      },
      voltage: (k) => {
        const node = this.sensors.nodes[k];
        return node === undefined ? null : this.voltage(fault, raised, node);
      },
      voltageBefore: (k) => {
        const node = this.sensors.nodes[k];
        return node === undefined ? null : this.voltageBefore(fault, raised, node);
      },
    };
  }

  /** Of each ampere that the fault draws, what flows through a cut: the same for all kinds of fault at the place. */
  private shareOf(fault: Fault, k: number, cut: Cut): Share {
    let share = this.shares[k];
    if (!share) {
      const one = { re: 1, im: 0 };
      const unit = { ...fault, components: { positive: one, negative: one, zero: one } };
      const { positive, negative, zero: homopolar } = this.through(unit, null, cut);
      const sizes = [magnitude(positive), magnitude(negative), magnitude(homopolar)];
      this.shares[k] = share = { positive, negative, zero: homopolar, sizes };
    }
    return share;
  }

  private lagBetween(node: number, from: number): number {
    const { lag } = this.study.assembly;
    return lag[node] - lag[from];
  }

  private through(fault: Fault, raised: Raised | null, { node, side, keys, carrying }: Cut): SequenceCurrents {
    let sum: SequenceCurrents = noCurrents;
    for (const { key } of carrying) sum = addComponents(sum, this.outOf(fault, raised, key));
    let current = turned(sum, this.lagBetween(node, fault.node));
    if (fault.at !== null && keys.has(fault.at))
      current = addComponents(current, scaleComponents(fault.components, -1));
    return side === 0 ? current : scaleComponents(current, -1);
  }

  /** Out of an element into its node, in the phase position of the part's first node. */
  private outOf(fault: Fault, raised: Raised | null, key: string): SequenceCurrents {
    const into = (sequence: Sequence): Complex => {
      const { element, terminal, sense: rows } = this.sensors.ends.get(key)!;
      const sense = rows[sequence];
      const drawn = fault.components[sequence];
      const more = sequence === 'positive' ? raised : null;
      let current: Complex = zero;
      // What a fault inside a line adds past the nodes.
      if (this.reached[sequence].has(element)) {
        const { assembly } = this.study;
        current = multiply(insideShare(assembly[sequence], this.port, sequence, element, terminal), drawn);
      }
      for (let k = 0; k < sense.node.length; k++) {
        const at = sense.node[k];
        const voltage = this.change(sequence, at, drawn, more);
        current = add(current, multiply({ re: sense.re[k], im: sense.im[k] }, voltage));
      }
      return current;
    };
    const positive = scale(into('positive'), -1);
    const injected = raised?.injections.find(({ element, terminal }) => key === `${element}:${terminal}`)?.current;
    return {
      positive: injected ? add(positive, injected) : positive,
      negative: scale(into('negative'), -1),
      zero: scale(into('zero'), -1),
    };
  }

  /** What the fault, and the converters that feed it, change at a node. */
  private change(sequence: Sequence, node: number, drawn: Complex, raised: Raised | null): Complex {
    const changed = scale(multiply(this.transfer[sequence](node), drawn), -1);
    return raised ? add(changed, { re: raised.values.re[node], im: raised.values.im[node] }) : changed;
  }

  private voltageBefore(fault: Fault, raised: Raised | null, node: number): SequenceValues {
    const positive = prefaultOf(this.study, fault.node, raised).voltageAt(node);
    return turned({ positive, negative: zero, zero }, this.lagBetween(node, fault.node));
  }

  private voltage(fault: Fault, raised: Raised | null, node: number): SequenceValues {
    // Where no current flows to earth the common voltage moves: the whole network tells how far.
    if (needsZeroSequence(fault.kind) && !fault.z0) return voltagesDuring(fault, node);
    const { lag } = this.study.assembly;
    const before = prefaultOf(this.study, fault.node, raised).voltageAt(node);
    const { positive, negative, zero: homopolar } = fault.components;
    return turned(
      {
        // The voltage before the fault holds what the converters raise.
        positive: add(before, this.change('positive', node, positive, null)),
        negative: this.change('negative', node, negative, null),
        zero: this.change('zero', node, homopolar, null),
      },
      lag[node] - lag[fault.node],
    );
  }
}

/** With more nodes watched than these one solution of the whole network is the shorter way. */
const manyNodes = 24;

type Transfer = (node: number) => Complex;

function transferTo(network: SequenceNetwork, inject: Sparse, to: readonly number[]): Transfer {
  if (to.length > manyNodes) {
    const { re, im } = network.solve(inject);
    return (node) => ({ re: re[node], im: im[node] });
  }
  const result = new Map<number, Complex>();
  const nodes = [...inject.node, ...to];
  const block = network.inverse()?.between(nodes);
  to.forEach((node, k) => {
    let sum = zero;
    if (block)
      inject.node.forEach((_, j) => {
        const weight = { re: inject.re[j], im: inject.im[j] };
        sum = add(sum, multiply(entry(block, inject.node.length + k, j), weight));
      });
    result.set(node, sum);
  });
  return (node) => result.get(node)!;
}

const noElements: ReadonlySet<ElementId> = new Set();

const rowsOf = new WeakMap<SequenceNetwork, Map<string, Sparse>>();

function rowOf(network: SequenceNetwork, element: ElementId, terminal: number): Sparse {
  let known = rowsOf.get(network);
  if (!known) rowsOf.set(network, (known = new Map()));
  const key = `${element}:${terminal}`;
  let row = known.get(key);
  if (!row) known.set(key, (row = terminalRow(network, element, terminal).sense));
  return row;
}

/** Of a fault inside a line: the share of its current that flows into this end of that line, or of one coupled with it, past the nodes. */
function insideShare(
  network: SequenceNetwork,
  port: Port,
  sequence: Sequence,
  element: ElementId,
  terminal: number,
): Complex {
  const { inside } = port[sequence];
  if (!inside) return zero;
  const { members, y } = groupAdmittance(network, inside.branch);
  const i = members.findIndex((k) => network.series[k].element === element);
  if (i < 0) return zero;
  const share = inside.section.reduce((sum, e, j) => add(sum, multiply(entry(y, i, j), e)), zero);
  const { from } = network.series[members[i]];
  if (terminal === from) return share;
  // At the far end the rest comes in from the other side; a coupled line has no fault inside.
  return members[i] === inside.branch ? subtract({ re: 1, im: 0 }, share) : scale(share, -1);
}

const bySequence = <T>(make: (sequence: Sequence) => T): Record<Sequence, T> => {
  const [positive, negative, homopolar] = sequences.map(make);
  return { positive, negative, zero: homopolar };
};
