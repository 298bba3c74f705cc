/**
 * One element out of service: the sequence networks by a low-rank update of the factored ones (Woodbury), refactored only where the outage
 * parts the network or changes its earthing.
 */
import { addTo, denseMatrix, denseSolve, entry, identity, type DenseMatrix } from '../linear/dense';
import { updatedInverse, withinParts } from '../linear/inverse';
import type { ElementId } from '../model/fields';
import { once } from '../linear/once';
import { chargedBy, networksOf, type Assembly, type Lists } from './assemble';
import { chargedShunts, sameShunts } from './charging';
import { connectivity, type Connectivity } from './connectivity';
import { spread } from './spread';
import {
  admittance,
  branchEntries,
  indicesOf,
  buildSequenceNetwork,
  solvedBy,
  type NetworkParts,
  type SequenceNetwork,
} from './sequenceNetwork';

/** The assembly without one element. Switches and buses have no impedance: open them in the model instead. */
export function withOutage(assembly: Assembly, element: ElementId): Assembly {
  const keep = (parts: NetworkParts): NetworkParts => ({
    ...parts,
    series: less(parts.series, element),
    shunts: less(parts.shunts, element),
    couplings: uncoupled(parts.couplings, element),
    gaps: less(parts.gaps, element),
  });
  const { lists } = assembly;
  const positive = keep(lists.positive);
  // The zero sequence is no part of most tables: what it takes waits until somebody asks.
  const zeroLeft = once(() => keep(lists.zero));
  const chargingLeft = once(() => ({
    positive: less(lists.charging.positive, element),
    zero: less(lists.charging.zero, element),
  }));
  const left: Lists = {
    positive,
    negative: lists.negative === lists.positive ? positive : keep(lists.negative),
    get zero() {
      return zeroLeft();
    },
    get charging() {
      return chargingLeft();
    },
    suppliers: less(lists.suppliers, element),
  };
  const shared = assembly.negative === assembly.positive;
  const places = assembly.topology.nodes.length;
  const charging = assembly.basis === 'operating' ? 'always' : (assembly.options.charging ?? 'auto');
  const anew = once(() => networksOf(left, assembly.basis, assembly.options.charging ?? 'auto', places));
  const positiveLeft = updated(assembly.positive, element);
  const negativeLeft = shared ? positiveLeft : updated(assembly.negative, element);
  const [positiveNetwork, negativeNetwork] =
    positiveLeft && negativeLeft ? [positiveLeft, negativeLeft] : [anew().positive, anew().negative];
  const homopolar = once((): Pick<Assembly, 'zero' | 'charged' | 'bareZero'> => {
    const zero = positiveLeft && sameEarthing(lists, left, element) ? updated(assembly.zero, element) : null;
    if (!zero) return anew();
    // Without capacitances that count the two are one network.
    const bareLeft = assembly.charged.length === 0 ? zero : null;
    const bareZero = once(() => bareLeft ?? updated(assembly.bareZero(), element) ?? buildSequenceNetwork(left.zero));
    // The earth-fault factor may pass its limit with the element gone, and with it the capacitances come or go.
    const kept = less(assembly.charged, element);
    const networks = { positive: positiveNetwork, negative: negativeNetwork, bare: bareZero };
    const charged =
      charging === 'auto' ? chargedShunts(networks, left.zero, left.charging.zero, charging, places) : kept;
    return {
      zero: sameShunts(charged, kept) ? zero : buildSequenceNetwork(chargedBy(left.zero, charged)),
      charged,
      bareZero,
    };
  });
  const { supplied, part } = supplyOf(assembly, left);
  return {
    get network() {
      return assembly.network;
    },
    options: assembly.options,
    topology: assembly.topology,
    units: assembly.units,
    faultCase: assembly.faultCase,
    basis: assembly.basis,
    frequencyHz: assembly.frequencyHz,
    nodeCount: assembly.nodeCount,
    innerNodes: assembly.innerNodes,
    supplied,
    part,
    lag: assembly.lag,
    level: assembly.level,
    lists: left,
    outages: [...assembly.outages, element],
    injections: less(assembly.injections, element),
    problems: assembly.problems,
    positive: positiveNetwork,
    negative: negativeNetwork,
    get zero() {
      return homopolar().zero;
    },
    get charged() {
      return homopolar().charged;
    },
    bareZero: () => homopolar().bareZero(),
    atFrequency: remembered((ratio, resistances) => {
      const whole = assembly.atFrequency(ratio, resistances);
      return updated(whole, element) ?? buildSequenceNetwork(without(whole, element), whole.weight);
    }),
  };
}

/** What is left of a list; of the last element asked for it is the same list again, so that what was found about it holds. */
function less<T extends { readonly element: ElementId }>(list: readonly T[], element: ElementId): readonly T[] {
  const known = lastLess.get(list);
  if (known?.element === element) return known.rest as readonly T[];
  let first = 0;
  while (first < list.length && list[first].element !== element) first++;
  let rest = list;
  if (first < list.length) {
    const kept = list.slice(0, first);
    for (let k = first + 1; k < list.length; k++) if (list[k].element !== element) kept.push(list[k]);
    rest = kept;
  }
  lastLess.set(list, { element, rest });
  return rest;
}

const lastLess = new WeakMap<object, { readonly element: ElementId; readonly rest: readonly unknown[] }>();

const uncoupled = (couplings: NetworkParts['couplings'], element: ElementId) =>
  couplings.some((each) => each.first === element || each.second === element)
    ? couplings.filter((each) => each.first !== element && each.second !== element)
    : couplings;

/** Each network at a frequency made once: a table asks for it at every bus. */
export function remembered(make: Assembly['atFrequency']): Assembly['atFrequency'] {
  const known = { fictitious: new Map<number, SequenceNetwork>(), own: new Map<number, SequenceNetwork>() };
  return (ratio, resistances = 'fictitious') => {
    let network = known[resistances].get(ratio);
    if (!network) known[resistances].set(ratio, (network = make(ratio, resistances)));
    return network;
  };
}

/** Levels and phase positions stay as they were, so that figures before and after an outage compare; supply is looked at anew. */
function supplyOf(assembly: Assembly, left: Lists): Pick<Assembly, 'supplied' | 'part'> {
  const [before, after] = [connectivity(assembly.lists.positive), connectivity(left.positive)];
  const isWhole = countOf(before.part) === countOf(after.part);
  if (isWhole && left.suppliers === assembly.lists.suppliers)
    return { supplied: assembly.supplied, part: assembly.part };
  const { supplied, part } = spread(assembly.network, assembly.nodeCount, left.positive.series, left.suppliers, []);
  return { supplied, part };
}

/** Whether the same parts have a path to earth as before: the element is none, and parts nothing. */
function sameEarthing(before: Lists, after: Lists, element: ElementId): boolean {
  if (before.zero.shunts.some((shunt) => shunt.element === element)) return false;
  if (before.zero.gaps.length !== after.zero.gaps.length) return false;
  const [p, q] = [connectivity(before.zero), connectivity(after.zero)];
  return countOf(p.part) === countOf(q.part);
}

/** Number of parts: each is numbered by one of its own nodes. */
function countOf(part: Int32Array): number {
  let count = 0;
  for (let node = 0; node < part.length; node++) if (part[node] === node) count++;
  return count;
}

const without = (network: SequenceNetwork, element: ElementId): NetworkParts => ({
  nodeCount: network.nodeCount,
  symbolic: network.symbolic,
  series: less(network.series, element),
  shunts: less(network.shunts, element),
  couplings: uncoupled(network.couplings, element),
  gaps: less(network.gaps, element),
});

/**
 * The network without an element, solved through the factors of the whole one: V = Z·u − Z·S·(I + ΔY·Z_SS)⁻¹·ΔY·Sᵀ·Z·u over the element's
 * nodes S. What it leaves without a path to the reference is tied there, as any floating part is. Null when the outage takes away a short circuit to earth.
 */
export function updated(network: SequenceNetwork, element: ElementId): SequenceNetwork | null {
  const left = without(network, element);
  const [before, after] = [connectivity(network), connectivity(left)];
  const { nodes, change } = changeOf(network, element, newTies(before, after));
  const rest = { ...restOf(network, left, element), floating: after.floating };
  // Taking away what holds a node as firmly as a short circuit would leave rounding errors only.
  if (Math.max(...change.re.map(Math.abs), ...change.im.map(Math.abs)) > 1e6) return null;
  if (nodes.length === 0) return { ...network, ...left, ...rest };
  const parted = countOf(before.part) !== countOf(after.part);
  const inverse = () => {
    const whole = network.inverse();
    const without = whole && updatedInverse(whole, nodes, change);
    // Where digits do not allow the update the rest is factored anew.
    if (!without) return buildSequenceNetwork(left, network.weight).inverse();
    return parted ? withinParts(without, after.part) : without;
  };
  return { ...network, ...left, ...rest, ...solvedBy(network.nodeCount, inverse) };
}

/** Nodes to be tied to the reference: one of each part that floats now and holds none that was tied before. */
function newTies(before: Connectivity, after: Connectivity): number[] {
  const tied = new Set(rootsOf(before).map((node) => after.part[node]));
  return rootsOf(after).filter((node) => !tied.has(node));
}

/** One node of each floating part: the one that is tied to the reference. */
export function rootsOf({ part, floating }: Connectivity): number[] {
  const found: number[] = [];
  for (let node = 0; node < part.length; node++) if (floating[node] >= 0 && part[node] === node) found.push(node);
  return found;
}

/** What of the network's fields the outage leaves: groups without the element's branches. */
function restOf(network: SequenceNetwork, left: NetworkParts, element: ElementId) {
  if (network.groups.length === 0)
    return { groups: network.groups, groupOf: new Int32Array(left.series.length).fill(-1) };
  const kept = network.series.flatMap((branch, k) => (branch.element === element ? [] : [k]));
  const newIndex = new Map(kept.map((old, k) => [old, k]));
  const touched = new Set(
    network.series.flatMap((branch, k) =>
      branch.element === element && network.groupOf[k] >= 0 ? [network.groupOf[k]] : [],
    ),
  );
  const groupOf = new Int32Array(left.series.length).fill(-1);
  const groups = network.groups.flatMap((group, g) => {
    if (!touched.has(g)) return [{ ...group, members: group.members.map((member) => newIndex.get(member)!) }];
    const rest = shrunk(network, g, element);
    return rest ? [{ ...rest, members: rest.members.map((member) => newIndex.get(member)!) }] : [];
  });
  groups.forEach((group, g) => {
    for (const member of group.members) groupOf[member] = g;
  });
  return { groups, groupOf };
}

/** A coupled group without an element's branch: the rest of its impedance matrix inverted. */
function shrunk(network: SequenceNetwork, g: number, element: ElementId) {
  const group = network.groups[g];
  const kept = group.members.flatMap((member, i) => (network.series[member].element === element ? [] : [i]));
  if (kept.length === 0) return null;
  const z = denseMatrix(kept.length);
  kept.forEach((p, i) => kept.forEach((q, j) => addTo(z, i, j, entry(group.z, p, q))));
  const y = denseSolve(z, identity(kept.length))!;
  return { members: kept.map((i) => group.members[i]), z, y };
}

/** Change of the admittance matrix by an outage, over the nodes it concerns; `ties`: nodes that are tied to the reference on top. */
export function changeOf(
  network: SequenceNetwork,
  element: ElementId,
  ties: readonly number[] = [],
): { nodes: number[]; change: DenseMatrix } {
  const entries: { row: number; column: number; re: number; im: number }[] = [];
  const put = (row: number, column: number, y: { re: number; im: number }, sign: number) =>
    entries.push({ row, column, re: sign * y.re, im: sign * y.im });
  const groupStamps = (members: readonly number[], y: DenseMatrix, sign: number) =>
    members.forEach((k, i) =>
      members.forEach((l, j) => {
        const value = entry(y, i, j);
        const [p, q] = [network.series[k], network.series[l]];
        put(p.a, q.a, value, sign);
        put(p.b, q.b, value, sign);
        put(p.a, q.b, value, -sign);
        put(p.b, q.a, value, -sign);
      }),
    );
  indicesOf(network.series, element).forEach((k) => {
    const branch = network.series[k];
    const g = network.groupOf[k];
    if (g < 0) {
      const { aa, ab, ba, bb } = branchEntries(branch, admittance(network.weight(branch)));
      put(branch.a, branch.a, aa, -1);
      put(branch.b, branch.b, bb, -1);
      put(branch.a, branch.b, ab, -1);
      put(branch.b, branch.a, ba, -1);
      return;
    }
    groupStamps(network.groups[g].members, network.groups[g].y, -1);
    const rest = shrunk(network, g, element);
    if (rest) groupStamps(rest.members, rest.y, 1);
  });
  for (const shunt of indicesOf(network.shunts, element).map((k) => network.shunts[k]))
    put(shunt.node, shunt.node, admittance(network.weight(shunt)), -1);
  // As firmly as what held the part until now.
  const firmness = Math.max(1e-3, ...entries.map(({ re, im }) => Math.hypot(re, im)));
  for (const node of ties) put(node, node, { re: firmness, im: 0 }, 1);
  const nodes = [...new Set(entries.flatMap(({ row, column }) => [row, column]))];
  const at = new Map(nodes.map((node, k) => [node, k]));
  const change = denseMatrix(nodes.length);
  for (const { row, column, re, im } of entries) addTo(change, at.get(row)!, at.get(column)!, { re, im });
  return { nodes, change };
}
