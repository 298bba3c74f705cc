/**
 * What is seen at chosen places during a fault: currents through current transformers and switches, voltages at nodes, as phasors. Only the part of the
 * networks' inverse between the fault and these places is looked at, whatever the size of the network; the same figures as the
 * currents of the whole network give (`faults/flows`), which tests hold against it.
 */
import { add, multiply, scale, subtract, zero, type Complex } from '../linear/complex';
import { entry } from '../linear/dense';
import type { ElementId } from '../model/fields';
import type { Problem } from '../model/problem';
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

interface Row {
  readonly sense: Sparse;
  /** What a fault inside a line adds to this current for each ampere that it draws. */
  readonly inside: Complex;
}

/** A place and what is watched from it: the parts of the inverses in between, for every kind of fault. */
export class View {
  private readonly port: Port;
  private readonly cuts: readonly (Cut | null)[];
  private readonly nodes: readonly (number | undefined)[];
  private readonly ends: readonly { readonly key: string; readonly node: number | undefined }[];
  /** Volts at the watched nodes for an ampere put in at the place. */
  private readonly transfer: Record<Sequence, ReadonlyMap<number, Complex>>;
  private readonly rows: Record<Sequence, ReadonlyMap<string, Row>>;

  constructor(
    readonly study: Iec60909Study,
    place: Place,
    watch: Watch,
  ) {
    const { assembly } = study;
    const { network, topology } = assembly;
    this.port = portAt(assembly, place)!;
    this.cuts = watch.through.map((element) => cutAt(network, topology, element));
    this.nodes = (watch.voltagesAt ?? []).map(({ element, terminal }) => topology.nodeAt(element, terminal));
    this.ends = (watch.into ?? []).map(({ element, terminal }) => ({
      key: `${element}:${terminal}`,
      node: topology.nodeAt(element, terminal),
    }));
    const ends = [
      ...this.cuts.flatMap((cut) => cut?.carrying ?? []),
      ...(watch.into ?? []).map((each) => ({ key: `${each.element}:${each.terminal}`, ...each })),
    ];
    this.rows = bySequence(
      (sequence) =>
        new Map(
          ends.map(({ key, element, terminal }) => [
            key,
            {
              sense: rowOf(assembly[sequence], element, terminal),
              inside: insideShare(assembly[sequence], this.port, sequence, element, terminal),
            },
          ]),
        ),
    );
    const watched = this.nodes.filter((node) => node !== undefined);
    const needed = bySequence((sequence) => [
      ...new Set([...watched, ...[...this.rows[sequence].values()].flatMap(({ sense }) => sense.node)]),
    ]);
    const transferOf = (sequence: Sequence) =>
      transferTo(assembly[sequence], this.port[sequence].inject, needed[sequence]);
    const positive = transferOf('positive');
    this.transfer = {
      positive,
      negative: assembly.negative === assembly.positive ? positive : transferOf('negative'),
      zero: transferOf('zero'),
    };
  }

  of(fault: Fault): Sighting {
    const raised = fault.raised();
    return {
      fault,
      through: this.cuts.map((cut) => cut && this.through(fault, raised, cut)),
      voltages: this.nodes.map((node) => (node === undefined ? null : this.voltage(fault, raised, node))),
      voltagesBefore: this.nodes.map((node) => (node === undefined ? null : this.voltageBefore(fault, raised, node))),
      into: this.ends.map(({ key, node }) =>
        node === undefined
          ? null
          : turned(scaleComponents(this.outOf(fault, raised, key), -1), this.lagBetween(node, fault.node)),
      ),
    };
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
      const { sense, inside } = this.rows[sequence].get(key)!;
      const drawn = fault.components[sequence];
      const more = sequence === 'positive' ? raised : null;
      let current = multiply(inside, drawn);
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
    const changed = scale(multiply(this.transfer[sequence].get(node)!, drawn), -1);
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

function transferTo(network: SequenceNetwork, inject: Sparse, to: readonly number[]): Map<number, Complex> {
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
  return result;
}

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
