/** Newton–Raphson for the power equations in polar form: one sparse system for all angles and voltages a step. */
import type { SparseMatrix } from '../linear/matrix';
import { MatrixBuilder } from '../linear/matrix';
import { factor, solveInPlace } from '../linear/lu';
import { minimumDegree } from '../linear/order';

export interface PowerProblem {
  /** Admittance matrix in per unit. */
  readonly matrix: SparseMatrix;
  /** 0: voltage given; 1: voltage held, angle free; 2: power given. */
  readonly type: Uint8Array;
  /** Power put in, per unit; where it is given. */
  readonly p: Float64Array;
  readonly q: Float64Array;
}

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
  const { matrix, type, p, q } = problem;
  const { n } = matrix;
  const angleAt = new Int32Array(n).fill(-1);
  const voltageAt = new Int32Array(n).fill(-1);
  let size = 0;
  for (let k = 0; k < n; k++) {
    if (type[k] > 0) angleAt[k] = size++;
    if (type[k] === 2) voltageAt[k] = size++;
  }
  let order: Int32Array | undefined;
  let last = Infinity;
  let worst = 0;
  for (let iteration = 0; ; iteration++) {
    const power = powers(matrix, state);
    let mismatch = 0;
    const re = new Float64Array(size);
    const im = new Float64Array(size);
    const consider = (row: number, value: number, k: number) => {
      if (row < 0) return;
      re[row] = value;
      if (!(Math.abs(value) <= mismatch)) [mismatch, worst] = [Math.abs(value), k];
    };
    for (let k = 0; k < n; k++) {
      consider(angleAt[k], p[k] - power.p[k], k);
      consider(voltageAt[k], q[k] - power.q[k], k);
    }
    if (mismatch < tolerance) return { ok: true, iterations: iteration, mismatch };
    if (iteration === mostIterations || !Number.isFinite(mismatch))
      return { ok: false, iterations: iteration, mismatch, worst };
    const system = jacobian(matrix, state, power, angleAt, voltageAt, size);
    order ??= minimumDegree(system);
    const factored = factor(system, order);
    if (!factored.ok) return { ok: false, iterations: iteration, mismatch, worst };
    solveInPlace(factored.factors, re, im);
    // Far from the solution a whole step may overshoot: voltages move by at most a fifth, and less while the mismatch grows.
    let step = mismatch > 2 * last ? 0.5 : 1;
    for (let k = 0; k < n; k++)
      if (voltageAt[k] >= 0) step = Math.min(step, 0.2 / Math.max(Math.abs(re[voltageAt[k]]), 1e-12));
    for (let k = 0; k < n; k++) {
      if (angleAt[k] >= 0) state.theta[k] += step * re[angleAt[k]];
      if (voltageAt[k] >= 0) state.v[k] *= 1 + step * re[voltageAt[k]];
    }
    last = mismatch;
  }
}

/** Powers put in at every node for a state. */
export function powers(matrix: SparseMatrix, { v, theta }: PowerState): { p: Float64Array; q: Float64Array } {
  const p = new Float64Array(matrix.n);
  const q = new Float64Array(matrix.n);
  for (let j = 0; j < matrix.n; j++)
    for (let k = matrix.columnStart[j]; k < matrix.columnStart[j + 1]; k++) {
      const i = matrix.row[k];
      const angle = theta[i] - theta[j];
      const [g, b] = [matrix.re[k], matrix.im[k]];
      const product = v[i] * v[j];
      p[i] += product * (g * Math.cos(angle) + b * Math.sin(angle));
      q[i] += product * (g * Math.sin(angle) - b * Math.cos(angle));
    }
  return { p, q };
}

/** Derivatives by angle and by relative voltage. */
function jacobian(
  matrix: SparseMatrix,
  { v, theta }: PowerState,
  { p, q }: { p: Float64Array; q: Float64Array },
  angleAt: Int32Array,
  voltageAt: Int32Array,
  size: number,
): SparseMatrix {
  const builder = new MatrixBuilder(size);
  const put = (row: number, column: number, value: number) => {
    if (row >= 0 && column >= 0) builder.add(row, column, value, 0);
  };
  for (let j = 0; j < matrix.n; j++)
    for (let k = matrix.columnStart[j]; k < matrix.columnStart[j + 1]; k++) {
      const i = matrix.row[k];
      const [g, b] = [matrix.re[k], matrix.im[k]];
      if (i === j) {
        const square = v[i] * v[i];
        put(angleAt[i], angleAt[i], -q[i] - b * square);
        put(angleAt[i], voltageAt[i], p[i] + g * square);
        put(voltageAt[i], angleAt[i], p[i] - g * square);
        put(voltageAt[i], voltageAt[i], q[i] - b * square);
        continue;
      }
      const angle = theta[i] - theta[j];
      const product = v[i] * v[j];
      const [c, s] = [Math.cos(angle), Math.sin(angle)];
      const across = product * (g * s - b * c);
      const along = product * (g * c + b * s);
      put(angleAt[i], angleAt[j], across);
      put(angleAt[i], voltageAt[j], along);
      put(voltageAt[i], angleAt[j], -along);
      put(voltageAt[i], voltageAt[j], across);
    }
  return builder.build();
}
