/**
 * One sequence network: branches between nodes and shunts to the reference, its admittance matrix and its inverse. A part without a path to
 * the reference "floats": one of its nodes is tied to the reference so that the matrix stays regular, and whoever uses it
 * must see to it that the currents put into the part add up to nought; its voltages then hold but for a common one.
 */
import { multiply, zero, type Complex } from '../linear/complex';
import { emptyValues, type Inverse, type NodeValues } from '../linear/inverse';
import { once } from '../linear/once';
import type { SparseMatrix } from '../linear/matrix';
import type { ElementId } from '../model/fields';
import { connectivity, coupledGroups, partsOf } from './connectivity';
import {
  admittance,
  branchEntries,
  indicesOf,
  ratedFrequency,
  type CoupledGroup,
  type Gap,
  type NetworkParts,
  type Weight,
} from './parts';
import { admittanceMatrix, inverseOf } from './stamping';

export * from './parts';
export type { NodeValues };

/** Values at some nodes. */
export interface Sparse {
  readonly node: number[];
  readonly re: number[];
  readonly im: number[];
}

export interface SequenceNetwork extends NetworkParts {
  readonly groups: readonly CoupledGroup[];
  /** Group of each series branch, −1 for most. */
  readonly groupOf: Int32Array;
  /** Number of the floating part that a node belongs to, −1 where there is a path to the reference. */
  readonly floating: Int32Array;
  readonly weight: Weight;
  /** Of the admittance matrix as factored, found when first asked for; null when an impedance is not a number. */
  inverse(): Inverse | null;
  /** Voltages at all nodes for currents put into some. */
  solve(injection: Sparse): NodeValues;
  /** Gaps in the part that a node belongs to. */
  gapsAt(node: number): readonly Gap[];
  /** The admittance matrix; `tied`: as factored, floating parts tied to the reference. */
  matrix(tied?: boolean): SparseMatrix;
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
  const stamps = { ...given, weight, groups, groupOf, part, floating };
  return {
    ...given,
    groups,
    groupOf,
    floating,
    weight,
    ...solvedBy(nodeCount, () => inverseOf(stamps)),
    gapsAt: (node) => gapsOf.get(gapPart[node]) ?? [],
    matrix: (tied) => admittanceMatrix(stamps, tied),
  };
}

/** What a network answers by an inverse that is made when first needed. */
export function solvedBy(nodeCount: number, make: () => Inverse | null): Pick<SequenceNetwork, 'inverse' | 'solve'> {
  const inverse = once(make);
  return {
    inverse,
    solve(injection) {
      const values = emptyValues(nodeCount);
      for (let k = 0; k < injection.node.length; k++) {
        values.re[injection.node[k]] += injection.re[k];
        values.im[injection.node[k]] += injection.im[k];
      }
      inverse()?.solve(values);
      return values;
    },
  };
}

/** One ampere into a node. */
export const unitInjection = (node: number): Sparse => ({ node: [node], re: [1], im: [0] });

/** Impedance seen from a node in ohms; null when no current can flow. */
export function drivingPoint(network: SequenceNetwork, node: number): Complex | null {
  if (network.floating[node] >= 0) return null;
  return network.inverse()?.at(node) ?? null;
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
  indicesOf(network.series, element).forEach((k) => {
    const branch = network.series[k];
    if (branch.from !== local && branch.to !== local) return;
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
  for (const shunt of indicesOf(network.shunts, element).map((k) => network.shunts[k]))
    if (shunt.terminal === local) {
      const y = admittance(network.weight(shunt));
      put(sense, shunt.node, y);
      put(inject, shunt.node, y);
      count(y);
    }
  return { sense, inject, own };
}
