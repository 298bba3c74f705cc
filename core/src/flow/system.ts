/** The equations of a load flow, made once for a network: admittances in per unit, what is drawn and held at which node. */
import type { Assembly } from '../assembly/assemble';
import { buildSequenceNetwork, type NetworkSeries, type SequenceNetwork } from '../assembly/sequenceNetwork';
import type { Complex } from '../linear/complex';
import type { SparseMatrix } from '../linear/matrix';
import { settingsOf } from '../model/network';
import type { Demand, Holder } from './demands';
import { Jacobian } from './newton';

export interface PowerSystem {
  readonly assembly: Assembly;
  readonly demands: readonly Demand[];
  readonly holders: readonly Holder[];
  /** Passive part of the network: branches, capacitances, shunts and constant-impedance loads. */
  readonly passive: SequenceNetwork;
  /** Phase-to-phase base voltage of every node in kV. */
  readonly base: Float64Array;
  readonly baseMva: number;
  /** Admittance matrix in per unit. */
  readonly matrix: SparseMatrix;
  readonly jacobian: Jacobian;
  /** Nodes whose voltage is given, in volts phase to neutral: inner voltages of sources, with the nodes of their terminals. */
  readonly fixed: readonly { readonly node: number; readonly terminal: number; readonly volts: Complex }[];
}

/** An inner voltage of a source behind its impedance: a node on top of those of the assembly. */
export interface InnerVoltage {
  readonly branch: Omit<NetworkSeries, 'a' | 'b'> & { readonly b: number };
  readonly volts: Complex;
}

export function powerSystem(
  assembly: Assembly,
  { demands, holders }: { readonly demands: readonly Demand[]; readonly holders: readonly Holder[] },
  inner: readonly InnerVoltage[] = [],
): PowerSystem {
  const passive = passiveNetwork(assembly, demands, inner);
  const own = basesOf(assembly);
  // The inner voltage stands at the level of the terminal.
  const base = Float64Array.from({ length: passive.nodeCount }, (_, k) =>
    k < own.length ? own[k] : own[inner[k - own.length].branch.b],
  );
  const baseMva = settingsOf(assembly.network).baseMva;
  const matrix = perUnit(passive.matrix(false), base, baseMva);
  return {
    assembly,
    demands,
    holders,
    passive,
    base,
    baseMva,
    matrix,
    jacobian: new Jacobian({ matrix, symbolic: passive.symbolic }),
    fixed: inner.map(({ branch, volts }, k) => ({ node: own.length + k, terminal: branch.b, volts })),
  };
}

/** Branches, capacitances and shunts as they are, sources left out, constant-impedance loads put in. */
function passiveNetwork(
  assembly: Assembly,
  demands: readonly Demand[],
  inner: readonly InnerVoltage[],
): SequenceNetwork {
  const shunts = assembly.positive.shunts.filter((shunt) => shunt.role !== 'source');
  for (const { element, terminal, node, mva, behaves } of demands) {
    const kv = assembly.topology.nodes[node]?.nominalKv;
    if (behaves !== 'constantImpedance' || !kv) continue;
    const size = (kv * kv) / (mva.re ** 2 + mva.im ** 2);
    const z = { rOhm: size * mva.re, xOhm: size * mva.im };
    shunts.push({ element, terminal, node, role: 'passive', ...z, rPeakOhm: z.rOhm });
  }
  const { nodeCount, series, symbolic } = assembly.positive;
  if (inner.length === 0) return buildSequenceNetwork({ ...assembly.positive, shunts });
  return buildSequenceNetwork({
    ...assembly.positive,
    shunts,
    nodeCount: nodeCount + inner.length,
    series: [...series, ...inner.map(({ branch }, k) => ({ ...branch, a: nodeCount + k }))],
    symbolic: symbolic?.n === nodeCount + inner.length ? symbolic : undefined,
  });
}

/** Base voltage of every node in kV: nominal where known, by ratios else. */
function basesOf({ topology, nodeCount, level, part }: Assembly): Float64Array {
  const scaleOf = new Map<number, number>();
  for (const node of topology.nodes)
    if (node.nominalKv !== null && !scaleOf.has(part[node.index]))
      scaleOf.set(part[node.index], node.nominalKv / level[node.index]);
  return Float64Array.from(
    { length: nodeCount },
    (_, k) => topology.nodes[k]?.nominalKv ?? (scaleOf.get(part[k]) ?? 1) * level[k],
  );
}

function perUnit(matrix: SparseMatrix, base: Float64Array, baseMva: number): SparseMatrix {
  const { columnStart, row, n } = matrix;
  const re = matrix.re.slice();
  const im = matrix.im.slice();
  for (let j = 0; j < n; j++)
    for (let k = columnStart[j]; k < columnStart[j + 1]; k++) {
      const factor = (base[row[k]] * base[j]) / baseMva;
      re[k] *= factor;
      im[k] *= factor;
    }
  return { ...matrix, re, im };
}
