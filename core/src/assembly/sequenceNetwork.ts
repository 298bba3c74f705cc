/**
 * One sequence network: branches between nodes and shunts to the reference, its admittance matrix and factors. A part without a path to
 * the reference "floats": one of its nodes is tied to the reference so that the matrix stays regular, and whoever uses it
 * must see to it that the currents put into the part add up to nought; its voltages then hold but for a common one.
 */
import { divide, multiply, polar, zero, type Complex } from '../linear/complex';
import { addTo, denseInverse, denseMatrix, type DenseMatrix } from '../linear/dense';
import { factor, solveInPlace } from '../linear/lu';
import { MatrixBuilder, type SparseMatrix } from '../linear/matrix';
import type { ElementId } from '../model/fields';
import type { Impedance, Shunt } from '../sequence/stamp';

export interface NetworkSeries extends Impedance {
  readonly element: ElementId;
  /** Local nodes of the element. */
  readonly from: number;
  readonly to: number;
  readonly a: number;
  readonly b: number;
  /** Voltage at a over voltage at b; impedances are in ohms of side b. */
  readonly ratio: number;
  /** Lag of b behind a in radians, by clock number and phase shift. */
  readonly lag: number;
  /** Part of it in radians that the positions of the nodes do not account for; only in loops with a phase-shifting transformer. */
  readonly shiftRad: number;
}

export interface NetworkShunt extends Impedance {
  readonly element: ElementId;
  readonly terminal: number;
  readonly node: number;
  readonly role: Shunt['role'];
}

/**
 * Mutual impedance of two branches over a stretch of each, given as fractions from side a; where the lines run against each other
 * the second pair falls and the sign of the impedance is reversed.
 */
export interface Coupling {
  readonly element: ElementId;
  readonly first: ElementId;
  readonly second: ElementId;
  readonly z: Complex;
  readonly firstFrom: number;
  readonly firstTo: number;
  readonly secondFrom: number;
  readonly secondTo: number;
}

/** Branches tied by mutual impedances: drop = Z·i, i = Y·drop, in the order of `members` (indices of series branches). */
export interface CoupledGroup {
  readonly members: readonly number[];
  readonly z: DenseMatrix;
  readonly y: DenseMatrix;
}

/** A place where a path exists whose data are missing. */
export interface Gap {
  readonly element: ElementId;
  readonly fields: readonly string[];
  readonly nodes: readonly number[];
}

/** Values at some nodes. */
export interface Sparse {
  readonly node: number[];
  readonly re: number[];
  readonly im: number[];
}

/** A value at every node. */
export interface NodeValues {
  readonly re: Float64Array;
  readonly im: Float64Array;
}

export interface NetworkParts {
  readonly nodeCount: number;
  readonly series: readonly NetworkSeries[];
  readonly shunts: readonly NetworkShunt[];
  readonly couplings: readonly Coupling[];
  readonly gaps: readonly Gap[];
}

export interface SequenceNetwork extends NetworkParts {
  readonly groups: readonly CoupledGroup[];
  /** Group of each series branch, −1 for most. */
  readonly groupOf: Int32Array;
  /** Number of the floating part that a node belongs to, −1 where there is a path to the reference. */
  readonly floating: Int32Array;
  readonly weight: Weight;
  /** False when no factors could be found: an impedance is not a number. */
  readonly solvable: boolean;
  /** Voltages at all nodes for currents put into some. */
  solve(injection: Sparse): NodeValues;
  /** Gaps in the part that a node belongs to. */
  gapsAt(node: number): readonly Gap[];
  /** The admittance matrix; `tied`: as factored, floating parts tied to the reference. */
  matrix(tied?: boolean): SparseMatrix;
}

/** How an element's impedance enters the matrix: as it stands, or as at the low frequency of the equivalent frequency method. */
export type Weight = (z: Impedance) => Complex;

export const ratedFrequency: Weight = (z) => ({ re: z.rOhm, im: z.xOhm });

/** Zc of the equivalent frequency method: fictitious resistances, reactances times fc/f (IEC 60909-0, 8.1.1, method c). */
export const atFrequencyRatio =
  (ratio: number): Weight =>
  (z) => ({ re: z.rPeakOhm, im: z.xOhm * ratio });

/** The same with the machines' own resistances, for the d.c. component (IEC 60909-0, 8.2). */
export const atFrequencyRatioOwn =
  (ratio: number): Weight =>
  (z) => ({ re: z.rOhm, im: z.xOhm * ratio });

/** 1/z in siemens; an impedance of nought counts as one nano-ohm, far below anything that can be measured. */
export function admittance(z: Complex): Complex {
  const size = z.re * z.re + z.im * z.im;
  return size < 1e-18 ? { re: 1e9, im: 0 } : { re: z.re / size, im: -z.im / size };
}

/** The four entries of a branch: currents out of the nodes a and b into it are Yaa·Va + Yab·Vb and Yba·Va + Ybb·Vb. */
export function branchEntries(branch: NetworkSeries, y: Complex) {
  const { ratio, shiftRad } = branch;
  const aa = { re: y.re / ratio ** 2, im: y.im / ratio ** 2 };
  if (shiftRad === 0) {
    const ab = { re: -y.re / ratio, im: -y.im / ratio };
    return { aa, ab, ba: ab, bb: y };
  }
  const t = polar(ratio, shiftRad);
  const minus = { re: -y.re, im: -y.im };
  return { aa, ab: divide(minus, { re: t.re, im: -t.im }), ba: divide(minus, t), bb: y };
}

export function buildSequenceNetwork(given: NetworkParts, weight: Weight = ratedFrequency): SequenceNetwork {
  const { nodeCount, series, gaps } = given;
  const { part, floating } = connectivity(given);
  const { groups, groupOf } = coupledGroups(given, weight);
  const gapPart = gaps.length > 0 ? partsOf(nodeCount, series, gaps) : part;
  const gapsOf = new Map<number, Gap[]>();
  for (const gap of gaps) {
    const key = gapPart[gap.nodes[0]];
    gapsOf.set(key, [...(gapsOf.get(key) ?? []), gap]);
  }
  const assembleMatrix = (tied = true) => stamped(given, weight, groups, groupOf, part, tied ? floating : null);
  const factored = nodeCount > 0 ? factor(assembleMatrix()) : null;
  const factors = factored?.ok ? factored.factors : null;
  return {
    ...given,
    groups,
    groupOf,
    floating,
    weight,
    solvable: nodeCount === 0 || factors !== null,
    solve(injection) {
      const values = { re: new Float64Array(nodeCount), im: new Float64Array(nodeCount) };
      for (let k = 0; k < injection.node.length; k++) {
        values.re[injection.node[k]] += injection.re[k];
        values.im[injection.node[k]] += injection.im[k];
      }
      if (factors) solveInPlace(factors, values.re, values.im);
      return values;
    },
    gapsAt: (node) => gapsOf.get(gapPart[node]) ?? [],
    matrix: assembleMatrix,
  };
}

/** Parts of the network and which of them float, numbered from 0. */
export function connectivity({ nodeCount, series, shunts }: NetworkParts): { part: Int32Array; floating: Int32Array } {
  const part = partsOf(nodeCount, series, []);
  const grounded = new Uint8Array(nodeCount);
  for (const shunt of shunts) grounded[part[shunt.node]] = 1;
  const number = new Map<number, number>();
  const floating = new Int32Array(nodeCount).fill(-1);
  for (let node = 0; node < nodeCount; node++) {
    if (grounded[part[node]]) continue;
    if (!number.has(part[node])) number.set(part[node], number.size);
    floating[node] = number.get(part[node])!;
  }
  return { part, floating };
}

/** Number of the connected part that each node belongs to: the lowest-rooted node in it. */
function partsOf(nodeCount: number, series: readonly NetworkSeries[], gaps: readonly Gap[]): Int32Array {
  const parent = Int32Array.from({ length: nodeCount }, (_, k) => k);
  const root = (k: number): number => {
    while (parent[k] !== k) k = parent[k] = parent[parent[k]];
    return k;
  };
  for (const { a, b } of series) parent[root(a)] = root(b);
  for (const { nodes } of gaps) for (const node of nodes) parent[root(node)] = root(nodes[0]);
  return parent.map((_, k) => root(k));
}

/** Couplings gather branches into groups; each group's impedance matrix is inverted as a whole. */
function coupledGroups(given: NetworkParts, weight: Weight): { groups: CoupledGroup[]; groupOf: Int32Array } {
  const { series, couplings } = given;
  const groupOf = new Int32Array(series.length).fill(-1);
  if (couplings.length === 0) return { groups: [], groupOf };
  const indexOf = new Map<ElementId, number>();
  series.forEach((branch, k) => indexOf.set(branch.element, k));
  const tied = couplings.filter((c) => indexOf.has(c.first) && indexOf.has(c.second));
  const parent = new Map<number, number>();
  const root = (k: number): number => (parent.get(k) === k ? k : root(parent.get(k)!));
  for (const c of tied) {
    const [p, q] = [indexOf.get(c.first)!, indexOf.get(c.second)!];
    for (const k of [p, q]) if (!parent.has(k)) parent.set(k, k);
    parent.set(root(p), root(q));
  }
  const membersOf = new Map<number, number[]>();
  for (const k of [...parent.keys()].sort((p, q) => p - q))
    membersOf.set(root(k), [...(membersOf.get(root(k)) ?? []), k]);
  const groups: CoupledGroup[] = [];
  for (const members of membersOf.values()) {
    const z = denseMatrix(members.length);
    members.forEach((k, i) => addTo(z, i, i, weight(series[k])));
    for (const c of tied) {
      const [i, j] = [members.indexOf(indexOf.get(c.first)!), members.indexOf(indexOf.get(c.second)!)];
      if (i < 0) continue;
      addTo(z, i, j, c.z);
      addTo(z, j, i, c.z);
    }
    const y = denseInverse(z);
    if (!y) continue;
    for (const k of members) groupOf[k] = groups.length;
    groups.push({ members, z, y });
  }
  return { groups, groupOf };
}

function stamped(
  { nodeCount, series, shunts }: NetworkParts,
  weight: Weight,
  groups: readonly CoupledGroup[],
  groupOf: Int32Array,
  part: Int32Array,
  floating: Int32Array | null,
): SparseMatrix {
  const builder = new MatrixBuilder(nodeCount);
  const size = new Float64Array(nodeCount);
  series.forEach((branch, k) => {
    if (groupOf[k] >= 0) return;
    const { a, b } = branch;
    const { aa, ab, ba, bb } = branchEntries(branch, admittance(weight(branch)));
    builder.add(a, a, aa.re, aa.im);
    builder.add(b, b, bb.re, bb.im);
    builder.add(a, b, ab.re, ab.im);
    builder.add(b, a, ba.re, ba.im);
    size[a] += Math.hypot(aa.re, aa.im);
    size[b] += Math.hypot(bb.re, bb.im);
  });
  for (const { members, y } of groups)
    members.forEach((k, i) =>
      members.forEach((l, j) => {
        const [re, im] = [y.re[i * members.length + j], y.im[i * members.length + j]];
        builder.add(series[k].a, series[l].a, re, im);
        builder.add(series[k].b, series[l].b, re, im);
        builder.add(series[k].a, series[l].b, -re, -im);
        builder.add(series[k].b, series[l].a, -re, -im);
        if (i === j) size[series[k].a] += Math.hypot(re, im);
        if (i === j) size[series[k].b] += Math.hypot(re, im);
      }),
    );
  for (const shunt of shunts) {
    const y = admittance(weight(shunt));
    builder.add(shunt.node, shunt.node, y.re, y.im);
  }
  // One node of each floating part is tied to the reference, as firmly as its neighbours hold it.
  for (let node = 0; node < nodeCount; node++)
    if (floating && floating[node] >= 0 && part[node] === node) builder.add(node, node, size[node] || 1, 0);
  return builder.build();
}

/** One ampere into a node. */
export const unitInjection = (node: number): Sparse => ({ node: [node], re: [1], im: [0] });

/** Impedance seen from a node in ohms; null when no current can flow. */
export function drivingPoint(network: SequenceNetwork, node: number): Complex | null {
  if (network.floating[node] >= 0 || !network.solvable) return null;
  const column = network.solve(unitInjection(node));
  return { re: column.re[node], im: column.im[node] };
}

export const valueAt = (values: NodeValues, node: number): Complex => ({ re: values.re[node], im: values.im[node] });

/** Σ weight·value. */
export function weigh(weights: Sparse, values: NodeValues): Complex {
  let sum = zero;
  for (let k = 0; k < weights.node.length; k++) {
    const term = multiply({ re: weights.re[k], im: weights.im[k] }, valueAt(values, weights.node[k]));
    sum = { re: sum.re + term.re, im: sum.im + term.im };
  }
  return sum;
}

/** Entries that an element's own terminal `local` puts into row and column of its node: what its current there depends on. */
export function terminalRow(
  network: SequenceNetwork,
  element: ElementId,
  local: number,
): { sense: Sparse; inject: Sparse; own: Complex } {
  const sense: Sparse = { node: [], re: [], im: [] };
  const inject: Sparse = { node: [], re: [], im: [] };
  let own = zero;
  const put = (list: Sparse, node: number, y: Complex) => {
    list.node.push(node);
    list.re.push(y.re);
    list.im.push(y.im);
  };
  const count = (y: Complex) => (own = { re: own.re + y.re, im: own.im + y.im });
  network.series.forEach((branch, k) => {
    if (branch.element !== element || (branch.from !== local && branch.to !== local)) return;
    const atA = branch.from === local;
    const group = network.groups[network.groupOf[k]];
    if (!group) {
      const { aa, ab, ba, bb } = branchEntries(branch, admittance(network.weight(branch)));
      const [own1, other, back] = atA ? [aa, ab, ba] : [bb, ba, ab];
      const [node, far] = atA ? [branch.a, branch.b] : [branch.b, branch.a];
      put(sense, node, own1);
      put(sense, far, other);
      put(inject, node, own1);
      put(inject, far, back);
      count(own1);
      return;
    }
    const i = group.members.indexOf(k);
    const sign = atA ? 1 : -1;
    group.members.forEach((l, j) => {
      const y = {
        re: sign * group.y.re[i * group.members.length + j],
        im: sign * group.y.im[i * group.members.length + j],
      };
      const minus = { re: -y.re, im: -y.im };
      put(sense, network.series[l].a, y);
      put(sense, network.series[l].b, minus);
      // The matrix of a coupled group is symmetric.
      put(inject, network.series[l].a, y);
      put(inject, network.series[l].b, minus);
      if (l === k) count(atA ? y : minus);
    });
  });
  for (const shunt of network.shunts)
    if (shunt.element === element && shunt.terminal === local) {
      const y = admittance(network.weight(shunt));
      put(sense, shunt.node, y);
      put(inject, shunt.node, y);
      count(y);
    }
  return { sense, inject, own };
}
