/** What lies around a place: the nearest branches and the part of each sequence network's inverse between their nodes; faults solved on that part alone. */
import { add, magnitude, multiply, polar, scale, zero, type Complex } from '../../linear/complex';
import { addTo, denseMatrix, entry, type DenseMatrix } from '../../linear/dense';
import { woodburyKernel } from '../../linear/inverse';
import { kinds as elementKinds } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { terminalKey } from '../../model/topology';
import { groupAdmittance } from '../../assembly/coupling';
import { bridgesOf, type Bridges } from '../../assembly/bridges';
import type { Assembly } from '../../assembly/assemble';
import { hasDoubtfulCharging } from '../../assembly/charging';
import { connectivity } from '../../assembly/connectivity';
import { changeOf } from '../../assembly/outage';
import type { SequencePort } from '../../assembly/ports';
import { indicesOf, terminalRow, type SequenceNetwork, type Sparse } from '../../assembly/sequenceNetwork';
import { branchesByNode } from '../../assembly/spread';
import type { SequenceValues } from '../../sequence/components';
import { inPhase } from '../iec60909/converters';
import { faultAtPlace, faultFlows, outageStudy, sourceVoltageAt, type Iec60909Study } from '../iec60909/study';
import { faultComponents, needsZeroSequence, solidFault, type FaultKind } from '../kinds';
import { portAt, sequences, type Place, type Port, type Sequence } from './solve';

/** An end of a branch whose current is told. */
export interface Observed {
  readonly element: ElementId;
  readonly terminal: number;
}

/** One fault. The arrays are used again for the next one: copy what is to be kept. */
export interface SweepSolution {
  readonly place: Place;
  readonly kind: FaultKind;
  readonly outage: ElementId | null;
  /** False where there is no fault to compute: no supply, zero-sequence data missing, the place itself out of service. */
  readonly ok: boolean;
  /** Fault current in amperes: positive, negative, zero sequence, each re and im. */
  readonly fault: Float64Array;
  readonly branches: readonly Observed[];
  /** Current into each branch at that end, six numbers a branch, in the phase position of its node. */
  readonly currents: Float64Array;
}

type Blocks = Record<Sequence, DenseMatrix>;

/** Finds what lies around places, with indices that serve them all. */
export class Surroundings {
  private readonly byNode;
  readonly bridges: Record<Sequence, Bridges>;
  private readonly outageStudies = new Map<ElementId, Iec60909Study>();
  private doubtful: boolean | null = null;
  /** Parts of the zero sequence left by an outage, and which of them hold capacitances that count, with the whole network's word and with their own. */
  private readonly chargedWithout = new Map<
    ElementId,
    { part: Int32Array; before: ReadonlySet<number>; after: ReadonlySet<number> }
  >();

  constructor(readonly study: Iec60909Study) {
    const { positive, nodeCount, lists } = study.assembly;
    this.byNode = branchesByNode(nodeCount, positive.series);
    const bridges = bridgesOf(nodeCount, positive.series, lists.suppliers);
    // In the zero sequence what counts as a source is a path to earth, but for resonant coils.
    const earths = lists.zero.shunts.filter(({ role }) => role !== 'coil');
    const homopolar = bridgesOf(nodeCount, study.assembly.zero.series, earths);
    this.bridges = { positive: bridges, negative: bridges, zero: homopolar };
  }

  at(place: Place, count: number): Local | null {
    const port = portAt(this.study.assembly, place);
    if (!port) return null;
    return new Local(this, place, port, this.nearest(port, count));
  }

  /** Without one element, the general way: refactored where it must be. */
  without(element: ElementId): Iec60909Study {
    let made = this.outageStudies.get(element);
    if (!made) this.outageStudies.set(element, (made = outageStudy(this.study, element)));
    return made;
  }

  /** Whether line capacitances come to count, or cease to, around a node once an element is out: the earth-fault factor passes its limit there. */
  chargesOtherwise(element: ElementId, node: number): boolean {
    const { assembly } = this.study;
    const { lists, charged } = assembly;
    if (assembly.basis === 'operating' || (assembly.options.charging ?? 'auto') !== 'auto') return false;
    this.doubtful ??= hasDoubtfulCharging(lists.zero, lists.charging.zero);
    if (!this.doubtful) return false;
    let found = this.chargedWithout.get(element);
    if (!found) {
      const left = this.without(element).assembly;
      const { part } = connectivity(left.lists.zero);
      const partsOf = (shunts: Assembly['charged']) =>
        new Set(shunts.filter((shunt) => shunt.element !== element).map((shunt) => part[shunt.node]));
      found = { part, before: partsOf(charged), after: partsOf(left.charged) };
      this.chargedWithout.set(element, found);
    }
    return found.before.has(found.part[node]) !== found.after.has(found.part[node]);
  }

  /** Whether a node has a source without an element that is one branch, or none. */
  suppliedWithout(element: ElementId | null, node: number): boolean {
    const { positive, supplied } = this.study.assembly;
    const [branch] = element === null ? [] : indicesOf(positive.series, element);
    return branch === undefined ? supplied[node] === 1 : this.bridges.positive.suppliedWithout(branch, node);
  }

  /** Branches of the positive sequence by the number of branches between them and the place. */
  private nearest(port: Port, count: number): number[] {
    const { series } = this.study.assembly.positive;
    const { start, branchAt } = this.byNode;
    const found: number[] = [];
    const seen = new Set<number>();
    const queue = [...new Set(port.positive.inject.node)];
    const reached = new Set(queue);
    for (const node of queue)
      for (let p = start[node]; p < start[node + 1]; p++) {
        const branch = branchAt[p];
        if (!seen.has(branch)) {
          seen.add(branch);
          found.push(branch);
          if (found.length === count) return found;
        }
        const { a, b } = series[branch];
        const next = a === node ? b : a;
        if (!reached.has(next)) {
          reached.add(next);
          queue.push(next);
        }
      }
    return found;
  }
}

/** A place with the parts of the inverses around it. */
class Local {
  readonly elements: readonly ElementId[];
  private readonly observed: readonly Observed[];
  /** What each observed current depends on, with places in `nodes`. */
  private readonly rows: Record<Sequence, (Sparse & { at: number[] })[]>;
  /** What a fault inside a line adds to the current of an observed end for each ampere it draws; by sequence. */
  private readonly shares: Record<Sequence, Complex[]>;
  private readonly nodes: readonly number[];
  private readonly indexOf: ReadonlyMap<number, number>;
  private readonly whole: Blocks;
  private readonly turns: readonly number[];
  private readonly fault = new Float64Array(6);
  private readonly currents: Float64Array;
  /** The state of the last outage: found once for all kinds. */
  private last: { outage: ElementId | null; blocks: Blocks | 'general' | 'none'; floatingZero: boolean } | null = null;

  constructor(
    private readonly surroundings: Surroundings,
    private readonly place: Place,
    private readonly port: Port,
    branches: readonly number[],
  ) {
    const { assembly } = surroundings.study;
    const { network, positive, lag } = assembly;
    const observed = new Map<string, Observed & { node: number }>();
    for (const k of branches) {
      const { element, from, to, a, b } = positive.series[k];
      const { terminals } = elementKinds[network.elements.get(element)!.kind];
      const [terminal, node] = from < terminals ? [from, a] : [to, b];
      observed.set(terminalKey(element, terminal), { element, terminal, node });
    }
    this.observed = [...observed.values()];
    this.elements = [...new Set(this.observed.map(({ element }) => element))];
    this.turns = [...observed.values()].map(({ node }) => lag[node] - lag[port.node]);
    this.currents = new Float64Array(6 * this.observed.length);
    const rows = bySequence((sequence) =>
      this.observed.map(({ element, terminal }) => terminalRow(assembly[sequence], element, terminal).sense),
    );
    this.shares = bySequence((sequence) =>
      this.observed.map((each) => shareOf(assembly[sequence], port[sequence], each)),
    );
    this.nodes = [
      ...new Set([
        ...sequences.flatMap((sequence) => [
          ...port[sequence].inject.node,
          ...rows[sequence].flatMap((row) => row.node),
        ]),
        ...branches.flatMap((k) => [positive.series[k].a, positive.series[k].b]),
        ...assembly.injections.map(({ node }) => node),
      ]),
    ];
    this.indexOf = new Map(this.nodes.map((node, k) => [node, k]));
    this.rows = bySequence((sequence) =>
      rows[sequence].map((row) => ({ ...row, at: row.node.map((node) => this.indexOf.get(node)!) })),
    );
    const positiveBlock = this.blockOf(positive);
    this.whole = {
      positive: positiveBlock,
      negative: assembly.negative === positive ? positiveBlock : this.blockOf(assembly.negative),
      zero: this.blockOf(assembly.zero),
    };
  }

  solve(kind: FaultKind, outage: ElementId | null): SweepSolution {
    const { place, observed: branches, fault, currents } = this;
    if (this.last?.outage !== outage) this.last = { outage, ...this.blocksFor(outage) };
    const { blocks, floatingZero } = this.last;
    fault.fill(0);
    currents.fill(0);
    const ok =
      blocks === 'general'
        ? this.solveGenerally(kind, outage!)
        : blocks !== 'none' && this.solveLocally(kind, blocks, outage, floatingZero);
    return { place, kind, outage, ok, fault, branches, currents };
  }

  private blockOf(network: SequenceNetwork): DenseMatrix {
    return network.inverse()?.between(this.nodes) ?? denseMatrix(this.nodes.length);
  }

  /** The inverses around the place without an element; 'none' when that leaves the place without supply or is the place itself. */
  private blocksFor(outage: ElementId | null): { blocks: Blocks | 'general' | 'none'; floatingZero: boolean } {
    const { assembly, units } = this.surroundings.study;
    const { node } = this.port;
    const floatingZero = assembly.zero.floating[node] >= 0;
    if (!assembly.supplied[node] || assembly.topology.nodes[node].nominalKv === null)
      return { blocks: 'none', floatingZero };
    if (units().has(node) || !assembly.positive.inverse() || !assembly.zero.inverse())
      return { blocks: 'general', floatingZero };
    if (outage === null) return { blocks: this.whole, floatingZero };
    if (this.place.at === 'line' && this.place.element === outage) return { blocks: 'none', floatingZero };
    if (!isPlain(assembly.positive, outage) || !isPlain(assembly.negative, outage) || !isPlain(assembly.zero, outage))
      return { blocks: 'general', floatingZero };
    if (!this.surroundings.suppliedWithout(outage, node)) return { blocks: 'none', floatingZero };
    if (this.changesEarthing(outage)) return { blocks: 'general', floatingZero };
    const positive = this.without('positive', outage);
    const negative = assembly.negative === assembly.positive ? positive : this.without('negative', outage);
    const homopolar = this.without('zero', outage);
    if (positive === 'cut off' || negative === 'cut off') return { blocks: 'none', floatingZero };
    if (homopolar === 'cut off') return { blocks: { positive, negative, zero: this.whole.zero }, floatingZero: true };
    return { blocks: { positive, negative, zero: homopolar }, floatingZero };
  }

  /** Whether the outage leaves other capacitances to count at the place, or takes away the gap in the data that stood in the way. */
  private changesEarthing(outage: ElementId): boolean {
    const { zero: homopolar, lists, options } = this.surroundings.study.assembly;
    if (homopolar.gaps.some(({ element }) => element === outage)) return true;
    if (this.surroundings.chargesOtherwise(outage, this.port.node)) return true;
    const [branch] = indicesOf(homopolar.series, outage);
    const bridges = this.surroundings.bridges.zero;
    if (branch === undefined || !bridges.isBridge(branch)) return false;
    if (homopolar.gaps.length > 0) return true;
    const { charging = 'auto' } = options;
    return charging === 'auto' && lists.charging.zero.length > 0 && !bridges.suppliedWithout(branch, this.port.node);
  }

  /**
   * Woodbury's identity on the small block. Where the change is singular the element alone ties a part without any path to the reference: on this side
   * of it nothing changes, on the other nothing can flow.
   */
  private without(sequence: Sequence, element: ElementId): DenseMatrix | 'cut off' {
    const network = this.surroundings.study.assembly[sequence];
    const block = this.whole[sequence];
    const { nodes, change } = changeOf(network, element);
    if (nodes.length === 0) return block;
    const at = nodes.map((node) => this.indexOf.get(node)!);
    const m = nodes.length;
    const n = this.nodes.length;
    const zSS = denseMatrix(m);
    for (let i = 0; i < m; i++) for (let j = 0; j < m; j++) addTo(zSS, i, j, entry(block, at[i], at[j]));
    const kernel = woodburyKernel(change, zSS, 1e-9);
    if (!kernel) {
      const home = this.indexOf.get(this.port.node)!;
      // A current out of a part that hangs on the element alone has to pass it, whole at that end.
      const passes = at.map((_, i) =>
        magnitude(at.reduce((sum, node, j) => add(sum, multiply(entry(change, i, j), entry(block, home, node))), zero)),
      );
      return Math.max(...passes) > 0.5 ? 'cut off' : block;
    }
    const result = { ...block, re: block.re.slice(), im: block.im.slice() };
    for (let i = 0; i < m; i++)
      for (let j = 0; j < m; j++) {
        const { re: kRe, im: kIm } = entry(kernel, i, j);
        if (kRe === 0 && kIm === 0) continue;
        for (let p = 0; p < n; p++) {
          const pi = p * n + at[i];
          const wRe = block.re[pi] * kRe - block.im[pi] * kIm;
          const wIm = block.re[pi] * kIm + block.im[pi] * kRe;
          const row = at[j] * n;
          for (let q = 0; q < n; q++) {
            result.re[p * n + q] -= wRe * block.re[row + q] - wIm * block.im[row + q];
            result.im[p * n + q] -= wRe * block.im[row + q] + wIm * block.re[row + q];
          }
        }
      }
    const [branch] = indicesOf(network.series, element);
    const bridges = this.surroundings.bridges[sequence];
    if (branch !== undefined && bridges.isBridge(branch)) {
      // Nothing passes from one side to the other any more, not even rounding errors.
      const beyond = this.nodes.map((node) => bridges.isBeyond(branch, node));
      for (let p = 0; p < n; p++)
        for (let q = 0; q < n; q++) if (beyond[p] !== beyond[q]) result.re[p * n + q] = result.im[p * n + q] = 0;
    }
    return result;
  }

  private solveLocally(kind: FaultKind, blocks: Blocks, outage: ElementId | null, floatingZero: boolean): boolean {
    const { study } = this.surroundings;
    const { assembly } = study;
    const { port } = this;
    if (needsZeroSequence(kind) && assembly.zero.gapsAt(port.node).length > 0) return false;
    const transfer = (at: number): Complex =>
      weighed(port.positive.sense, (node) => entry(blocks.positive, this.indexOf.get(node)!, this.indexOf.get(at)!));
    const raised = assembly.injections
      .filter(({ node }) => this.surroundings.suppliedWithout(outage, node))
      .map((each) => ({ ...each, current: inPhase(each.current, transfer(each.node)) }));
    /** What the converters raise at a node. */
    const raisedAt = (node: number): Complex =>
      raised.reduce(
        (sum, { node: at, current }) =>
          add(sum, multiply(entry(blocks.positive, this.indexOf.get(node)!, this.indexOf.get(at)!), current)),
        zero,
      );
    const z = bySequence((sequence) => this.portImpedance(blocks[sequence], port[sequence]));
    const e = weighed(port.positive.sense, (node) => (raised.length > 0 ? raisedAt(node) : zero));
    e.re += sourceVoltageAt(study, port.node);
    const drawn = faultComponents(solidFault(kind), e, z.positive, z.negative, floatingZero ? null : z.zero);
    sequences.forEach((sequence, s) => {
      const current = drawn[sequence];
      this.fault[2 * s] = current.re;
      this.fault[2 * s + 1] = current.im;
      const withRaised = sequence === 'positive' && raised.length > 0;
      if (current.re === 0 && current.im === 0 && !withRaised) return;
      const voltages = this.voltages(blocks[sequence], port[sequence].inject, current);
      for (let k = 0; k < this.observed.length; k++) {
        if (this.observed[k].element === outage) continue;
        const { node, at, re, im } = this.rows[sequence][k];
        let { re: iRe, im: iIm } = multiply(this.shares[sequence][k], current);
        for (let j = 0; j < node.length; j++) {
          let vRe = voltages.re[at[j]];
          let vIm = voltages.im[at[j]];
          if (withRaised) {
            const more = raisedAt(node[j]);
            vRe += more.re;
            vIm += more.im;
          }
          iRe += re[j] * vRe - im[j] * vIm;
          iIm += re[j] * vIm + im[j] * vRe;
        }
        const turn = this.turns[k];
        if (turn !== 0 && sequence !== 'zero')
          ({ re: iRe, im: iIm } = multiply({ re: iRe, im: iIm }, polar(1, sequence === 'positive' ? -turn : turn)));
        this.currents[6 * k + 2 * s] = iRe;
        this.currents[6 * k + 2 * s + 1] = iIm;
      }
    });
    return true;
  }

  private portImpedance(block: DenseMatrix, { sense, inject, own }: SequencePort): Complex {
    let sum = own;
    for (let i = 0; i < sense.node.length; i++)
      for (let j = 0; j < inject.node.length; j++) {
        const weight = multiply({ re: sense.re[i], im: sense.im[i] }, { re: inject.re[j], im: inject.im[j] });
        const value = entry(block, this.indexOf.get(sense.node[i])!, this.indexOf.get(inject.node[j])!);
        sum = add(sum, multiply(weight, value));
      }
    return sum;
  }

  /** Changes at the nodes around for a current drawn at the place. */
  private voltages(block: DenseMatrix, inject: Sparse, drawn: Complex) {
    const n = this.nodes.length;
    const [re, im] = [new Float64Array(n), new Float64Array(n)];
    for (let j = 0; j < inject.node.length; j++) {
      const at = this.indexOf.get(inject.node[j])!;
      const { re: wRe, im: wIm } = multiply({ re: -inject.re[j], im: -inject.im[j] }, drawn);
      for (let k = 0; k < n; k++) {
        const p = k * n + at;
        re[k] += block.re[p] * wRe - block.im[p] * wIm;
        im[k] += block.re[p] * wIm + block.im[p] * wRe;
      }
    }
    return { re, im };
  }

  private solveGenerally(kind: FaultKind, outage: ElementId | null): boolean {
    const study = outage === null ? this.surroundings.study : this.surroundings.without(outage);
    const result = faultAtPlace(study, this.place, solidFault(kind));
    if (!result.ok) return false;
    put(this.fault, 0, result.fault.components);
    const flows = faultFlows(result.fault);
    this.observed.forEach(({ element, terminal }, k) => {
      const out = flows.get(terminalKey(element, terminal));
      if (!out) return;
      put(this.currents, 6 * k, {
        positive: scale(out.positive, -1),
        negative: scale(out.negative, -1),
        zero: scale(out.zero, -1),
      });
    });
    return true;
  }
}

function put(into: Float64Array, at: number, values: SequenceValues): void {
  sequences.forEach((sequence, s) => {
    into[at + 2 * s] = values[sequence].re;
    into[at + 2 * s + 1] = values[sequence].im;
  });
}

const bySequence = <T>(make: (sequence: Sequence) => T): Record<Sequence, T> => ({
  positive: make('positive'),
  negative: make('negative'),
  zero: make('zero'),
});

function weighed({ node, re, im }: Sparse, value: (node: number) => Complex): { re: number; im: number } {
  let sum = zero;
  for (let k = 0; k < node.length; k++) sum = add(sum, multiply({ re: re[k], im: im[k] }, value(node[k])));
  return { ...sum };
}

/** Whether an outage of the element is a change between two nodes at most, and leaves the earthing alone. */
function isPlain(network: SequenceNetwork, element: ElementId): boolean {
  const series = indicesOf(network.series, element);
  if (series.length > 1 || indicesOf(network.shunts, element).length > 0) return false;
  return series.every((k) => network.groupOf[k] < 0 && network.series[k].shiftRad === 0);
}

/** Of a fault inside a line: how much of its current the observed end of that line, or of one coupled with it, carries past the nodes. */
function shareOf(network: SequenceNetwork, { inside }: SequencePort, { element, terminal }: Observed): Complex {
  if (!inside) return zero;
  const { members, y } = groupAdmittance(network, inside.branch);
  const i = members.findIndex((k) => network.series[k].element === element && network.series[k].from === terminal);
  if (i < 0) return zero;
  return inside.section.reduce((sum, e, j) => add(sum, multiply(entry(y, i, j), e)), zero);
}
