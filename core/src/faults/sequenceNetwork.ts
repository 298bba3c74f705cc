/**
 * One sequence network: branches between nodes and shunts to the reference, its admittance matrix and factors. Parts without a
 * path to the reference carry no current and are left out of the matrix, so that it is never singular for their sake.
 */
import { factor, solveInPlace, type Factors } from '../linear/lu';
import { MatrixBuilder } from '../linear/matrix';
import type { Complex } from '../linear/complex';
import type { ElementId } from '../model/fields';
import type { Impedance } from '../sequence/stamp';

export interface NetworkSeries extends Impedance {
  readonly element: ElementId;
  readonly a: number;
  readonly b: number;
  /** Voltage at a over voltage at b; impedances are in ohms of side b. */
  readonly ratio: number;
}

export interface NetworkShunt extends Impedance {
  readonly element: ElementId;
  readonly terminal: number;
  readonly node: number;
}

/** A place where a path exists whose data are missing. */
export interface Gap {
  readonly element: ElementId;
  readonly fields: readonly string[];
  readonly nodes: readonly number[];
}

export interface SequenceNetwork {
  readonly series: readonly NetworkSeries[];
  readonly shunts: readonly NetworkShunt[];
  /** Row of a node in the matrix; −1 when it has no path to the reference. */
  readonly rowOf: Int32Array;
  readonly nodeCount: number;
  readonly factors: Factors | null;
  /** Gaps in the part that a node belongs to, by node. */
  gapsAt(node: number): readonly Gap[];
}

/** How an element's impedance enters the matrix: as it stands, or as at the low frequency of the 20 Hz method. */
export type Weight = (z: Impedance) => Complex;

export const ratedFrequency: Weight = (z) => ({ re: z.rOhm, im: z.xOhm });

/** Zc of the equivalent frequency method: fictitious resistances, reactances times fc/f (IEC 60909-0, 8.1.1, method c). */
export const atFrequencyRatio =
  (ratio: number): Weight =>
  (z) => ({ re: z.rPeakOhm, im: z.xOhm * ratio });

export function buildSequenceNetwork(
  nodeCount: number,
  series: readonly NetworkSeries[],
  shunts: readonly NetworkShunt[],
  gaps: readonly Gap[],
  weight: Weight = ratedFrequency,
): SequenceNetwork {
  const part = parts(nodeCount, series, gaps);
  const grounded = new Set(shunts.map((shunt) => part[shunt.node]));
  const rowOf = new Int32Array(nodeCount).fill(-1);
  let rows = 0;
  for (let node = 0; node < nodeCount; node++) if (grounded.has(part[node])) rowOf[node] = rows++;

  const gapsOf = new Map<number, Gap[]>();
  for (const gap of gaps) {
    const key = part[gap.nodes[0]];
    gapsOf.set(key, [...(gapsOf.get(key) ?? []), gap]);
  }
  return {
    series,
    shunts,
    rowOf,
    nodeCount,
    factors: rows === 0 ? null : factors(rows, rowOf, series, shunts, weight),
    gapsAt: (node) => gapsOf.get(part[node]) ?? [],
  };
}

/** Number of the connected part that each node belongs to. */
function parts(nodeCount: number, series: readonly NetworkSeries[], gaps: readonly Gap[]): Int32Array {
  const parent = Int32Array.from({ length: nodeCount }, (_, k) => k);
  const root = (k: number): number => {
    while (parent[k] !== k) k = parent[k] = parent[parent[k]];
    return k;
  };
  for (const { a, b } of series) parent[root(a)] = root(b);
  for (const { nodes } of gaps) for (const node of nodes) parent[root(node)] = root(nodes[0]);
  return parent.map((_, k) => root(k));
}

function factors(
  rows: number,
  rowOf: Int32Array,
  series: readonly NetworkSeries[],
  shunts: readonly NetworkShunt[],
  weight: Weight,
): Factors | null {
  const builder = new MatrixBuilder(rows);
  for (const branch of series) {
    const [a, b] = [rowOf[branch.a], rowOf[branch.b]];
    if (a < 0) continue;
    const y = admittance(weight(branch));
    builder.add(b, b, y.re, y.im);
    builder.add(a, a, y.re / branch.ratio ** 2, y.im / branch.ratio ** 2);
    builder.add(a, b, -y.re / branch.ratio, -y.im / branch.ratio);
    builder.add(b, a, -y.re / branch.ratio, -y.im / branch.ratio);
  }
  for (const shunt of shunts) {
    const y = admittance(weight(shunt));
    builder.add(rowOf[shunt.node], rowOf[shunt.node], y.re, y.im);
  }
  const factored = factor(builder.build());
  return factored.ok ? factored.factors : null;
}

/** 1/z in siemens; an impedance of nought counts as one nano-ohm, far below anything that can be measured. */
export function admittance(z: Complex): Complex {
  const size = z.re * z.re + z.im * z.im;
  return size < 1e-18 ? { re: 1e9, im: 0 } : { re: z.re / size, im: -z.im / size };
}

/** Column of the impedance matrix: voltages at all nodes for one ampere into `node`. Null when the node has no path. */
export function impedanceColumn(network: SequenceNetwork, node: number): { re: Float64Array; im: Float64Array } | null {
  const row = network.rowOf[node];
  if (row < 0 || !network.factors) return null;
  const re = new Float64Array(network.factors.n);
  const im = new Float64Array(network.factors.n);
  re[row] = 1;
  solveInPlace(network.factors, re, im);
  return { re, im };
}

/** Impedance seen from a node in ohms; null when no current can flow. */
export function drivingPoint(network: SequenceNetwork, node: number): Complex | null {
  const column = impedanceColumn(network, node);
  if (!column) return null;
  const row = network.rowOf[node];
  return { re: column.re[row], im: column.im[row] };
}
