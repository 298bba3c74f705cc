/**
 * The assembly after some switches have opened or closed: branches moved to other nodes, in the factored networks by a low-rank update. Anything that
 * reaches further, such as a voltage level that is no longer told, is assembled anew.
 */
import { addTo, denseMatrix, type DenseMatrix } from '../linear/dense';
import { extendedInverse, updatedInverse, withinParts, type Inverse } from '../linear/inverse';
import { once } from '../linear/once';
import type { Complex } from '../linear/complex';
import type { ElementId } from '../model/fields';
import type { Network } from '../model/network';
import type { Problem } from '../model/problem';
import { rewiredTopology, type Rewiring } from '../model/rewiring';
import type { Switch } from '../model/switching';
import { chargedBy, withoutSupply, type Assembly, type Lists } from './assemble';
import { chargedShunts } from './charging';
import { connectivity } from './connectivity';
import { remembered, rootsOf } from './outage';
import {
  admittance,
  branchEntries,
  buildSequenceNetwork,
  indicesOf,
  solvedBy,
  type NetworkParts,
  type NetworkSeries,
  type NetworkShunt,
  type SequenceNetwork,
} from './sequenceNetwork';
import { isNought, spread } from './spread';

/**
 * `network`: with the switches in their new positions, asked for late; `toggled`: as they were drawn. Null where the assembly has to be made anew.
 */
export function rewired(before: Assembly, network: () => Network, toggled: readonly Switch[]): Assembly | null {
  const { lists, options, basis } = before;
  if (before.outages.length > 0 || options.loads || options.faultInside || basis !== 'iec60909') return null;
  const wiring = rewiredTopology(before.topology, before.network, toggled);
  if (!wiring) return null;
  // Which end of an element a gap is at shows by its node alone.
  if (lists.zero.gaps.some(({ element, nodes }) => wiring.moved.has(element) && new Set(nodes).size < nodes.length))
    return null;
  const { topology, added } = wiring;
  const move = new Mover(before.topology, wiring);
  const nodeCount = before.nodeCount + added;
  const positive = move.parts(lists.positive);
  const suppliers = lists.suppliers.map(({ element, node }) => ({ element, node: move.nodeOf(element, node) }));
  const found: Problem[] = [];
  const spreadOut = spread(before.network, nodeCount, positive.series, suppliers, found);
  // Only a loop of transformers turns a branch beyond the positions of its ends.
  if (positive.series.some(({ a, b, lag }) => !isNought(lag - (spreadOut.lag[b] - spreadOut.lag[a])))) return null;
  const zeroParts = once(() => move.parts(lists.zero));
  const charging = once(() => ({
    positive: move.shunts(lists.charging.positive),
    zero: move.shunts(lists.charging.zero),
  }));
  const left: Lists = {
    positive,
    negative: lists.negative === lists.positive ? positive : move.parts(lists.negative),
    get zero() {
      return zeroParts();
    },
    get charging() {
      return charging();
    },
    suppliers,
  };
  const positiveNetwork = move.network(before.positive, left.positive);
  const negativeNetwork =
    before.negative === before.positive ? positiveNetwork : move.network(before.negative, left.negative);
  const homopolar = once(() => {
    const bare = once(() => move.network(before.bareZero(), left.zero));
    const networks = { positive: positiveNetwork, negative: negativeNetwork, bare };
    const charged = chargedShunts(
      networks,
      left.zero,
      left.charging.zero,
      options.charging ?? 'auto',
      topology.nodes.length,
    );
    return { bare, charged, zero: charged.length === 0 ? bare() : buildSequenceNetwork(chargedBy(left.zero, charged)) };
  });
  const altered = once(network);
  const kept = before.problems.filter(({ code }) => code !== 'supply.none' && code !== 'clock.loop');
  return {
    get network() {
      return altered();
    },
    options,
    topology,
    units: before.units,
    faultCase: before.faultCase,
    basis,
    frequencyHz: before.frequencyHz,
    nodeCount,
    innerNodes: before.innerNodes,
    supplied: spreadOut.supplied,
    lag: spreadOut.lag,
    level: spreadOut.level,
    part: spreadOut.part,
    lists: left,
    outages: [],
    injections: before.injections.map((each) => ({ ...each, node: move.nodeOf(each.element, each.node) })),
    problems: [...kept, ...found, ...withoutSupply(topology, spreadOut.supplied)],
    positive: positiveNetwork,
    negative: negativeNetwork,
    get zero() {
      return homopolar().zero;
    },
    get charged() {
      return homopolar().charged;
    },
    bareZero: () => homopolar().bare(),
    atFrequency: remembered((ratio, resistances) =>
      move.network(before.atFrequency(ratio, resistances), left.positive),
    ),
  };
}

/** Moves what stands in lists and networks to the nodes of another wiring. */
class Mover {
  private readonly places: number;
  private readonly added: number;

  constructor(
    private readonly before: Assembly['topology'],
    private readonly wiring: Rewiring,
  ) {
    this.places = before.nodes.length;
    this.added = wiring.added;
  }

  /** Inner nodes of elements come after those of the topology, new ones among them. */
  private renumbered(node: number): number {
    return node < this.places ? node : node + this.added;
  }

  /** New node of what an element had at an old one. */
  nodeOf(element: ElementId, old: number): number {
    for (const [terminal, node] of this.wiring.moved.get(element) ?? [])
      if (this.before.nodeAt(element, terminal) === old) return node;
    return this.renumbered(old);
  }

  private terminalOf(element: ElementId, terminal: number, old: number): number {
    return this.wiring.moved.get(element)?.get(terminal) ?? this.renumbered(old);
  }

  parts(parts: NetworkParts): NetworkParts {
    return {
      nodeCount: parts.nodeCount + this.added,
      series: this.list(parts.series, (branch): NetworkSeries => {
        const a = this.terminalOf(branch.element, branch.from, branch.a);
        const b = this.terminalOf(branch.element, branch.to, branch.b);
        return a === branch.a && b === branch.b ? branch : { ...branch, a, b };
      }),
      shunts: this.shunts(parts.shunts),
      couplings: parts.couplings,
      gaps: parts.gaps.map((gap) => ({ ...gap, nodes: gap.nodes.map((node) => this.nodeOf(gap.element, node)) })),
    };
  }

  shunts(list: readonly NetworkShunt[]): readonly NetworkShunt[] {
    return this.list(list, (shunt) => {
      const node = this.terminalOf(shunt.element, shunt.terminal, shunt.node);
      return node === shunt.node ? shunt : { ...shunt, node };
    });
  }

  /** All entries where numbers shift, else those of the elements that move. */
  private list<T extends { readonly element: ElementId }>(list: readonly T[], moved: (entry: T) => T): readonly T[] {
    if (this.added > 0) return list.map(moved);
    const copy = list.slice();
    for (const element of this.wiring.moved.keys()) for (const k of indicesOf(list, element)) copy[k] = moved(list[k]);
    return copy;
  }

  /** The factored network with its branches moved; `left`: its lists after it, in their order. */
  network(base: SequenceNetwork, left: NetworkParts): SequenceNetwork {
    const anew = buildSequenceNetwork(left, base.weight);
    const change = this.changeOf(base, left);
    if (!change) return anew;
    const inverse = () => this.inverseOf(base, left, change) ?? anew.inverse();
    return { ...anew, ...solvedBy(left.nodeCount, inverse) };
  }

  /** Entries that leave and enter the admittance matrix, by the new numbers; null where coupled lines move. */
  private changeOf(base: SequenceNetwork, left: NetworkParts): Entries | null {
    const entries = new Entries();
    for (const element of this.wiring.moved.keys()) {
      for (const k of indicesOf(base.series, element)) {
        if (base.groupOf[k] >= 0) return null;
        const [old, now] = [base.series[k], left.series[k]];
        const { aa, ab, ba, bb } = branchEntries(old, admittance(base.weight(old)));
        for (const [a, b, sign] of [
          [this.renumbered(old.a), this.renumbered(old.b), -1],
          [now.a, now.b, 1],
        ] as const) {
          entries.put(a, a, aa, sign);
          entries.put(b, b, bb, sign);
          entries.put(a, b, ab, sign);
          entries.put(b, a, ba, sign);
        }
      }
      for (const k of indicesOf(base.shunts, element)) {
        const y = admittance(base.weight(base.shunts[k]));
        const [old, now] = [this.renumbered(base.shunts[k].node), left.shunts[k].node];
        entries.put(old, old, y, -1);
        entries.put(now, now, y, 1);
      }
    }
    return entries;
  }

  /** Null where a part would be tied to the reference twice or not at all by what the base holds, or where digits do not allow the update. */
  private inverseOf(base: SequenceNetwork, left: NetworkParts, entries: Entries): Inverse | null {
    const whole = base.inverse();
    if (!whole) return null;
    const after = connectivity(left);
    const firmness = entries.largest() || 1;
    if (firmness > 1e6) return null;
    const tied = new Set<number>();
    for (const root of rootsOf(connectivity(base))) {
      const part = after.part[this.renumbered(root)];
      if (after.floating[part] < 0 || tied.has(part)) return null;
      tied.add(part);
    }
    for (let node = this.places; node < this.places + this.added; node++) {
      const part = after.part[node];
      // The new nodes stand alone at first, each tied; most are not to stay so.
      if (after.floating[part] >= 0 && !tied.has(part)) tied.add(part);
      else entries.put(node, node, { re: firmness, im: 0 }, -1);
    }
    for (const root of rootsOf(after)) if (!tied.has(root)) entries.put(root, root, { re: firmness, im: 0 }, 1);
    const { nodes, change } = entries.dense();
    const extended = this.added === 0 ? whole : extendedInverse(whole, this.places, this.added, 1 / firmness);
    const updated = nodes.length === 0 ? extended : updatedInverse(extended, nodes, change);
    return updated && withinParts(updated, after.part);
  }
}

class Entries {
  private readonly list: { row: number; column: number; re: number; im: number }[] = [];

  put(row: number, column: number, y: Complex, sign: number): void {
    this.list.push({ row, column, re: sign * y.re, im: sign * y.im });
  }

  largest(): number {
    return this.list.reduce((most, { re, im }) => Math.max(most, Math.hypot(re, im)), 0);
  }

  dense(): { nodes: number[]; change: DenseMatrix } {
    const nodes = [...new Set(this.list.flatMap(({ row, column }) => [row, column]))];
    const at = new Map(nodes.map((node, k) => [node, k]));
    const change = denseMatrix(nodes.length);
    for (const { row, column, re, im } of this.list) addTo(change, at.get(row)!, at.get(column)!, { re, im });
    return { nodes, change };
  }
}
