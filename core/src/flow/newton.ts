/**
 * Newton–Raphson for the power equations in polar form. Each node has a block of two equations, so that one analysis of the admittance matrix
 * serves every step.
 */
import { blockMatrix, factorBlocks, solveBlocks, type BlockMatrix } from '../linear/blockLu';
import { graphOfMatrix } from '../linear/graph';
import { factor, solveInPlace } from '../linear/lu';
import { MatrixBuilder, type SparseMatrix } from '../linear/matrix';
import { analyse, entryOf, type Symbolic } from '../linear/symbolic';

export interface PowerProblem {
  /** Admittance matrix in per unit. */
  readonly matrix: SparseMatrix;
  /** Analysis of a pattern that holds the matrix, when there is one. */
  readonly symbolic?: Symbolic;
  /** 0: voltage given; 1: voltage held, angle free; 2: power given. */
  readonly type: Uint8Array;
  /** Power put in, per unit; where it is given. */
  readonly p: Float64Array;
  readonly q: Float64Array;
  /** Power put in besides in proportion to the voltage (loads of constant current), per unit at one per unit; none where left out. */
  readonly pLinear?: Float64Array;
  readonly qLinear?: Float64Array;
  /** What an earlier problem on the same pattern was solved with. */
  readonly jacobian?: Jacobian;
}

/** Reactive power that is put in at a node whatever the network asks for. */
export const givenReactive = ({ q, qLinear }: PowerProblem, { v }: PowerState, node: number): number =>
  q[node] + (qLinear ? qLinear[node] * v[node] : 0);

export interface PowerState {
  /** Voltage per unit and angle in radians. */
  readonly v: Float64Array;
  readonly theta: Float64Array;
}

export type NewtonResult =
  | { ok: true; iterations: number; mismatch: number }
  | { ok: false; iterations: number; mismatch: number; worst: number };

/** Improves the state in place until the largest mismatch falls below `tolerance` per unit; `worst` is the node it stands at otherwise. */
export function newton(problem: PowerProblem, state: PowerState, tolerance = 1e-9, mostIterations = 30): NewtonResult {
  const { matrix, type, p, q, pLinear, qLinear } = problem;
  const { n } = matrix;
  const jacobian = problem.jacobian ?? new Jacobian(problem);
  const step = new Float64Array(2 * n);
  let last = Infinity;
  let worst = 0;
  for (let iteration = 0; ; iteration++) {
    const power = powers(matrix, state);
    let mismatch = 0;
    const consider = (row: number, value: number, k: number) => {
      step[row] = value;
      if (!(Math.abs(value) <= mismatch)) [mismatch, worst] = [Math.abs(value), k];
    };
    step.fill(0);
    for (let k = 0; k < n; k++) {
      if (type[k] > 0) consider(2 * k, p[k] + (pLinear ? pLinear[k] * state.v[k] : 0) - power.p[k], k);
      if (type[k] === 2) consider(2 * k + 1, q[k] + (qLinear ? qLinear[k] * state.v[k] : 0) - power.q[k], k);
    }
    if (mismatch < tolerance) return { ok: true, iterations: iteration, mismatch };
    if (iteration === mostIterations || !Number.isFinite(mismatch))
      return { ok: false, iterations: iteration, mismatch, worst };
    if (!jacobian.solve(problem, state, power, step)) return { ok: false, iterations: iteration, mismatch, worst };
    // Far from the solution a whole step may overshoot: voltages move by at most a fifth, and less while the mismatch grows.
    let share = mismatch > 2 * last ? 0.5 : 1;
    for (let k = 0; k < n; k++)
      if (type[k] === 2) share = Math.min(share, 0.2 / Math.max(Math.abs(step[2 * k + 1]), 1e-12));
    for (let k = 0; k < n; k++) {
      if (type[k] > 0) state.theta[k] += share * step[2 * k];
      if (type[k] === 2) state.v[k] *= 1 + share * step[2 * k + 1];
    }
    last = mismatch;
  }
}

export interface Powers {
  readonly p: Float64Array;
  readonly q: Float64Array;
}

/** Powers put in at every node for a state. */
export function powers(matrix: SparseMatrix, { v, theta }: PowerState): Powers {
  const { n, columnStart, row } = matrix;
  const [vRe, vIm] = [v.map((size, k) => size * Math.cos(theta[k])), v.map((size, k) => size * Math.sin(theta[k]))];
  const [iRe, iIm] = [new Float64Array(n), new Float64Array(n)];
  for (let j = 0; j < n; j++)
    for (let k = columnStart[j]; k < columnStart[j + 1]; k++) {
      iRe[row[k]] += matrix.re[k] * vRe[j] - matrix.im[k] * vIm[j];
      iIm[row[k]] += matrix.re[k] * vIm[j] + matrix.im[k] * vRe[j];
    }
  return {
    p: iRe.map((re, k) => vRe[k] * re + vIm[k] * iIm[k]),
    q: iRe.map((re, k) => vIm[k] * re - vRe[k] * iIm[k]),
  };
}

/** Derivatives of active and reactive power by angle and by relative voltage, a block for every entry of the admittance matrix. */
export class Jacobian {
  private readonly blocks: BlockMatrix;
  /** Where the block of each entry goes: 4·place, in the diagonal, below or above it. */
  private readonly place: Int32Array;
  private readonly work: Float64Array;

  /** Serves all matrices on the pattern of this one. */
  constructor({ matrix, symbolic: known }: Pick<PowerProblem, 'matrix' | 'symbolic'>) {
    const { n, columnStart, row } = matrix;
    const fresh = () => analyse(graphOfMatrix(n, columnStart, row));
    let symbolic = known?.n === n ? known : fresh();
    let place = placesOf(matrix, symbolic);
    if (!place) {
      symbolic = fresh();
      place = placesOf(matrix, symbolic)!;
    }
    this.place = place;
    this.blocks = blockMatrix(symbolic);
    this.work = new Float64Array(2 * n);
  }

  /** Solves J·x = b; b, two numbers a node, is overwritten by x. False when J is singular. */
  solve(problem: PowerProblem, state: PowerState, power: Powers, b: Float64Array): boolean {
    const { position, n } = this.blocks.symbolic;
    this.fill(problem, state, power);
    if (factorBlocks(this.blocks) >= 0) {
      this.fill(problem, state, power);
      return this.solvePivoted(problem, b);
    }
    const { work } = this;
    for (let k = 0; k < n; k++) {
      work[2 * position[k]] = b[2 * k];
      work[2 * position[k] + 1] = b[2 * k + 1];
    }
    solveBlocks(this.blocks, work);
    for (let k = 0; k < n; k++) {
      b[2 * k] = work[2 * position[k]];
      b[2 * k + 1] = work[2 * position[k] + 1];
    }
    return true;
  }

  private fill(problem: PowerProblem, { v, theta }: PowerState, { p, q }: Powers): void {
    const { matrix, type, pLinear, qLinear } = problem;
    const { n, columnStart, row, re, im } = matrix;
    const { diagonal, lower, upper, symbolic } = this.blocks;
    diagonal.fill(0);
    lower.fill(0);
    upper.fill(0);
    const [c, s] = [v.map((size, k) => size * Math.cos(theta[k])), v.map((size, k) => size * Math.sin(theta[k]))];
    for (let j = 0; j < n; j++)
      for (let k = columnStart[j]; k < columnStart[j + 1]; k++) {
        const i = row[k];
        const at = this.place[k];
        // What is given is no unknown: its equation is x = 0, and no other one has it.
        if (i === j) {
          const square = v[i] * v[i];
          diagonal[at] = type[i] > 0 ? -q[i] - im[k] * square : 1;
          diagonal[at + 1] = type[i] === 2 ? p[i] + re[k] * square : 0;
          diagonal[at + 2] = type[i] === 2 ? p[i] - re[k] * square : 0;
          diagonal[at + 3] = type[i] === 2 ? q[i] - im[k] * square : 1;
          continue;
        }
        const into = symbolic.position[i] > symbolic.position[j] ? lower : upper;
        // Vi·(Yij·Vj)*
        const [yRe, yIm] = [re[k] * c[j] - im[k] * s[j], re[k] * s[j] + im[k] * c[j]];
        const along = c[i] * yRe + s[i] * yIm;
        const across = s[i] * yRe - c[i] * yIm;
        if (type[i] > 0 && type[j] > 0) into[at] = across;
        if (type[i] > 0 && type[j] === 2) into[at + 1] = along;
        if (type[i] === 2 && type[j] > 0) into[at + 2] = -along;
        if (type[i] === 2 && type[j] === 2) into[at + 3] = across;
      }
    for (let k = 0; k < n; k++) {
      // A node that nothing is connected to has no entry at all.
      const at = 4 * symbolic.position[k];
      if (type[k] === 0) diagonal[at] = diagonal[at + 3] = 1;
      // Loads of constant current draw less where the voltage falls.
      else if (type[k] === 2 && pLinear && qLinear) {
        diagonal[at + 1] -= pLinear[k] * v[k];
        diagonal[at + 3] -= qLinear[k] * v[k];
      }
    }
  }

  /** The same with pivoting, for a block that comes out singular on the way. */
  private solvePivoted({ matrix }: PowerProblem, b: Float64Array): boolean {
    const { n, columnStart, row } = matrix;
    const { diagonal, lower, upper, symbolic } = this.blocks;
    const builder = new MatrixBuilder(2 * n);
    const put = (i: number, j: number, from: Float64Array, at: number) => {
      for (let s = 0; s < 4; s++) builder.add(2 * i + (s >> 1), 2 * j + (s & 1), from[at + s], 0);
    };
    for (let j = 0; j < n; j++) {
      put(j, j, diagonal, 4 * symbolic.position[j]);
      for (let k = columnStart[j]; k < columnStart[j + 1]; k++)
        if (row[k] !== j)
          put(row[k], j, symbolic.position[row[k]] > symbolic.position[j] ? lower : upper, this.place[k]);
    }
    const factored = factor(builder.build());
    if (factored.ok) solveInPlace(factored.factors, b, new Float64Array(2 * n));
    return factored.ok;
  }
}

/** Where the entries of a matrix stand in an analysed pattern, times four; null when one has no place. */
function placesOf({ n, columnStart, row }: SparseMatrix, symbolic: Symbolic): Int32Array | null {
  const place = new Int32Array(row.length);
  for (let j = 0; j < n; j++)
    for (let k = columnStart[j]; k < columnStart[j + 1]; k++) {
      const at = row[k] === j ? symbolic.position[j] : entryOf(symbolic, row[k], j);
      if (at < 0) return null;
      place[k] = 4 * at;
    }
  return place;
}
