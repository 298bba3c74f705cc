/** The admittance matrix of a sequence network and its inverse: every entry said once, for whoever collects them. */
import { denseMatrix, addTo } from '../linear/dense';
import { graphOf } from '../linear/graph';
import { ldlInverse, pivotedInverse, updatedInverse, type Inverse } from '../linear/inverse';
import {
  addDiagonal,
  factorLdl,
  ldlFactors,
  pathsToRoot,
  symmetricMatrix,
  type LdlFactors,
  type SymmetricMatrix,
} from '../linear/ldl';
import { factor } from '../linear/lu';
import { MatrixBuilder, type SparseMatrix } from '../linear/matrix';
import { analyse, entryOf, type Symbolic } from '../linear/symbolic';
import { admittance, branchEntries, type CoupledGroup, type NetworkParts, type Weight } from './parts';

/** A network ready to be put into a matrix. */
export interface Stamps extends NetworkParts {
  readonly weight: Weight;
  readonly groups: readonly CoupledGroup[];
  readonly groupOf: Int32Array;
  readonly part: Int32Array;
  readonly floating: Int32Array;
}

type Put = (row: number, column: number, re: number, im: number) => void;

/**
 * Says every entry to `put`, equal places several times. `tied`: one node of each floating part is tied to the reference, as firmly as its
 * neighbours hold it. `straight`: phase shifts are left out, so that the matrix is symmetric.
 */
function stamp({ nodeCount, series, shunts, ...stamps }: Stamps, put: Put, tied: boolean, straight: boolean): void {
  const { weight, groups, groupOf, part, floating } = stamps;
  const size = tied ? new Float64Array(nodeCount) : null;
  for (let k = 0; k < series.length; k++) {
    if (groupOf[k] >= 0) continue;
    const branch = series[k];
    const { a, b } = branch;
    const turned = straight && branch.shiftRad !== 0 ? { ...branch, shiftRad: 0 } : branch;
    const { aa, ab, ba, bb } = branchEntries(turned, admittance(weight(branch)));
    put(a, a, aa.re, aa.im);
    put(b, b, bb.re, bb.im);
    put(a, b, ab.re, ab.im);
    put(b, a, ba.re, ba.im);
    if (size) {
      size[a] += Math.hypot(aa.re, aa.im);
      size[b] += Math.hypot(bb.re, bb.im);
    }
  }
  for (const { members, y } of groups)
    members.forEach((k, i) =>
      members.forEach((l, j) => {
        const [re, im] = [y.re[i * members.length + j], y.im[i * members.length + j]];
        put(series[k].a, series[l].a, re, im);
        put(series[k].b, series[l].b, re, im);
        put(series[k].a, series[l].b, -re, -im);
        put(series[k].b, series[l].a, -re, -im);
        if (i !== j || !size) return;
        size[series[k].a] += Math.hypot(re, im);
        size[series[k].b] += Math.hypot(re, im);
      }),
    );
  for (const shunt of shunts) {
    const y = admittance(weight(shunt));
    put(shunt.node, shunt.node, y.re, y.im);
  }
  if (size)
    for (let node = 0; node < nodeCount; node++)
      if (floating[node] >= 0 && part[node] === node) put(node, node, size[node] || 1, 0);
}

/** The matrix in compressed columns; `tied`: as factored, floating parts tied to the reference. */
export function admittanceMatrix(stamps: Stamps, tied = true): SparseMatrix {
  const builder = new MatrixBuilder(stamps.nodeCount);
  stamp(stamps, (row, column, re, im) => builder.add(row, column, re, im), tied, false);
  return builder.build();
}

/** Analysis of the pattern that some networks over the same nodes have together. */
export function analysisOf(nodeCount: number, networks: readonly Pick<Stamps, 'series' | 'groups'>[]): Symbolic {
  const from: number[] = [];
  const to: number[] = [];
  for (const { series, groups } of networks) {
    for (const { a, b } of series) {
      from.push(a);
      to.push(b);
    }
    for (const { members } of groups) {
      const nodes = members.flatMap((k) => [series[k].a, series[k].b]);
      nodes.forEach((p, i) =>
        nodes.slice(0, i).forEach((q) => {
          from.push(p);
          to.push(q);
        }),
      );
    }
  }
  const known = analyses.find(
    (each) => each.symbolic.n === nodeCount && sameNumbers(each.from, from) && sameNumbers(each.to, to),
  );
  const found = known ?? { from, to, symbolic: analyse(graphOf(nodeCount, from, to)) };
  analyses = [found, ...analyses.filter((each) => each !== found)].slice(0, keptAnalyses);
  return found.symbolic;
}

/** For benchmarks: as if no network had been seen before. */
export const forgetAnalyses = (): void => void (analyses = []);

/** The last patterns that were analysed: an engineer changes values far more often than connections, and asks for max and min in turn. */
let analyses: { from: number[]; to: number[]; symbolic: Symbolic }[] = [];
const keptAnalyses = 3;

const sameNumbers = (p: readonly number[], q: readonly number[]) =>
  p.length === q.length && p.every((value, k) => value === q[k]);

/** Values on an analysed pattern, phase shifts left out; null when the pattern lacks a place. */
export function symmetricPart(stamps: Stamps, symbolic: Symbolic): SymmetricMatrix | null {
  if (symbolic.n !== stamps.nodeCount) return null;
  const matrix = symmetricMatrix(symbolic);
  const { entries } = matrix;
  const { position } = symbolic;
  let fits = true;
  const put: Put = (row, column, re, im) => {
    if (row === column) return addDiagonal(matrix, row, re, im);
    // Symmetric places are said both ways round; one of them counts.
    if (position[row] < position[column]) return;
    const p = 2 * entryOf(symbolic, row, column);
    if (p < 0) fits = false;
    else {
      entries[p] += re;
      entries[p + 1] += im;
    }
  };
  stamp(stamps, put, true, true);
  return fits ? matrix : null;
}

/** The inverse of the admittance matrix with floating parts tied; null when there is none: an impedance is not a number. */
export function inverseOf(stamps: Stamps): Inverse | null {
  if (stamps.nodeCount === 0) return null;
  const known = stamps.symbolic && symmetricPart(stamps, stamps.symbolic);
  const matrix = known || symmetricPart(stamps, analysisOf(stamps.nodeCount, [stamps]))!;
  const factors = factorsOf(matrix);
  if (factors) {
    const straight = ldlInverse(factors);
    const shifted = shiftsOf(stamps);
    if (!shifted) return straight;
    const turned = updatedInverse(straight, shifted.nodes, shifted.change);
    if (turned) return turned;
  }
  const pivoted = factor(admittanceMatrix(stamps));
  return pivoted.ok ? pivotedInverse(pivoted.factors) : null;
}

/**
 * Factors of a matrix; where one on the same pattern was factored lately that differs in few places, only what these reach is factored anew.
 * Null when a pivot is too small.
 */
function factorsOf(matrix: SymmetricMatrix): LdlFactors | null {
  const { symbolic } = matrix;
  const known = factored.get(symbolic) ?? [];
  let factors: LdlFactors | null = null;
  let columns: Int32Array | undefined;
  for (const last of known) {
    const nodes = differingNodes(last.matrix, matrix);
    if (!nodes) continue;
    if (nodes.length === 0) return last.factors;
    factors = {
      symbolic,
      inverseDiagonal: last.factors.inverseDiagonal.slice(),
      lower: last.factors.lower.slice(),
    };
    columns = pathsToRoot(symbolic, nodes);
    break;
  }
  factors ??= ldlFactors(symbolic);
  if (factorLdl(matrix, factors, columns) >= 0) return null;
  factored.set(symbolic, [{ matrix, factors }, ...known].slice(0, keptFactors));
  return factors;
}

/** The last matrices on a pattern: sequences and frequencies of the study before. */
const factored = new WeakMap<Symbolic, { matrix: SymmetricMatrix; factors: LdlFactors }[]>();
const keptFactors = 6;
const fewDifferences = 16;

/** Nodes whose rows differ; null when they are many. */
function differingNodes(p: SymmetricMatrix, q: SymmetricMatrix): number[] | null {
  const { order } = p.symbolic;
  const positions = new Set<number>();
  for (let k = 0; k < p.diagonal.length; k++)
    if (p.diagonal[k] !== q.diagonal[k] && positions.add(k >> 1).size > fewDifferences) return null;
  const { columnStart } = p.symbolic;
  for (let k = 0; k < p.entries.length; k++) {
    if (p.entries[k] === q.entries[k]) continue;
    // The column that holds the entry; whatever else changes lies on its path.
    positions.add(columnOf(columnStart, k >> 1));
    if (positions.size > fewDifferences) return null;
  }
  return [...positions].map((position) => order[position]);
}

/** Column of an entry, by halving. */
function columnOf(columnStart: Int32Array, entry: number): number {
  let [low, high] = [0, columnStart.length - 2];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (columnStart[middle] <= entry) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** What phase shifts change in the symmetric matrix; null without any. */
function shiftsOf({ series, groupOf, weight }: Stamps) {
  const shifting = series.filter((branch, k) => branch.shiftRad !== 0 && groupOf[k] < 0);
  if (shifting.length === 0) return null;
  const nodes = [...new Set(shifting.flatMap(({ a, b }) => [a, b]))];
  const change = denseMatrix(nodes.length);
  for (const branch of shifting) {
    const y = admittance(weight(branch));
    const [turned, straight] = [branchEntries(branch, y), branchEntries({ ...branch, shiftRad: 0 }, y)];
    const [i, j] = [nodes.indexOf(branch.a), nodes.indexOf(branch.b)];
    addTo(change, i, j, { re: turned.ab.re - straight.ab.re, im: turned.ab.im - straight.ab.im });
    addTo(change, j, i, { re: turned.ba.re - straight.ba.re, im: turned.ba.im - straight.ba.im });
  }
  return { nodes, change };
}
