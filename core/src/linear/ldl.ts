/**
 * Complex symmetric matrices A = L·D·Lᵀ (no conjugation) without pivoting, on a pattern that was analysed before. Values are pairs
 * (re, im) side by side. Admittance matrices without active parts keep their growth small in any order; where a pivot turns out too
 * small all the same, the factorisation says so and the caller pivots (see {@link ./lu}).
 */
import { entryOf, type Symbolic } from './symbolic';

/** Values of a symmetric matrix at the places of L: nought where L fills in. */
export interface SymmetricMatrix {
  readonly symbolic: Symbolic;
  /** By position, 2·n numbers. */
  readonly diagonal: Float64Array;
  /** By entry of the pattern, two numbers each. */
  readonly entries: Float64Array;
}

export const symmetricMatrix = (symbolic: Symbolic): SymmetricMatrix => ({
  symbolic,
  diagonal: new Float64Array(2 * symbolic.n),
  entries: new Float64Array(2 * symbolic.row.length),
});

/** A(a, a) += value. */
export function addDiagonal({ symbolic, diagonal }: SymmetricMatrix, a: number, re: number, im: number): void {
  const k = 2 * symbolic.position[a];
  diagonal[k] += re;
  diagonal[k + 1] += im;
}

/** A(a, b) += value and A(b, a) += value, a ≠ b; the pattern must hold the place. */
export function addPair(matrix: SymmetricMatrix, a: number, b: number, re: number, im: number): void {
  const p = 2 * entryOf(matrix.symbolic, a, b);
  matrix.entries[p] += re;
  matrix.entries[p + 1] += im;
}

export interface LdlFactors {
  readonly symbolic: Symbolic;
  /** 1/D by position. */
  readonly inverseDiagonal: Float64Array;
  /** Unit lower triangle below its diagonal. */
  readonly lower: Float64Array;
}

export const ldlFactors = (symbolic: Symbolic): LdlFactors => ({
  symbolic,
  inverseDiagonal: new Float64Array(2 * symbolic.n),
  lower: new Float64Array(2 * symbolic.row.length),
});

/** A column of L may outgrow its pivot by this factor, squared; beyond it digits are lost and pivoting is called for. */
const mostGrowthSquared = 1e6;

/**
 * Factors the matrix into `into`; returns −1, or the position whose pivot is too small or no number. `columns`, ascending, restricts the
 * work to some positions: after a change these and all their ancestors must be in it, see {@link pathsToRoot}.
 */
export function factorLdl(
  { symbolic, diagonal, entries }: SymmetricMatrix,
  into: LdlFactors,
  columns?: Int32Array,
): number {
  const { n, columnStart, row, rowStart, rowColumn, rowEntry } = symbolic;
  const { lower, inverseDiagonal } = into;
  const work = new Float64Array(2 * n);
  const count = columns ? columns.length : n;
  for (let c = 0; c < count; c++) {
    const j = columns ? columns[c] : c;
    const first = columnStart[j];
    const end = columnStart[j + 1];
    for (let p = first; p < end; p++) {
      const i = 2 * row[p];
      work[i] = entries[2 * p];
      work[i + 1] = entries[2 * p + 1];
    }
    let dRe = diagonal[2 * j];
    let dIm = diagonal[2 * j + 1];
    // Each earlier column k with an entry in row j takes L(:, k)·D(k)·L(j, k) away.
    for (let r = rowStart[j]; r < rowStart[j + 1]; r++) {
      const k = rowColumn[r];
      const entry = rowEntry[r];
      const lRe = lower[2 * entry];
      const lIm = lower[2 * entry + 1];
      const vRe = inverseDiagonal[2 * k];
      const vIm = inverseDiagonal[2 * k + 1];
      const scale = 1 / (vRe * vRe + vIm * vIm);
      const re = (lRe * vRe + lIm * vIm) * scale;
      const im = (lIm * vRe - lRe * vIm) * scale;
      dRe -= lRe * re - lIm * im;
      dIm -= lRe * im + lIm * re;
      for (let p = entry + 1; p < columnStart[k + 1]; p++) {
        const i = 2 * row[p];
        const xRe = lower[2 * p];
        const xIm = lower[2 * p + 1];
        work[i] -= xRe * re - xIm * im;
        work[i + 1] -= xRe * im + xIm * re;
      }
    }
    const size = dRe * dRe + dIm * dIm;
    const vRe = dRe / size;
    const vIm = -dIm / size;
    inverseDiagonal[2 * j] = vRe;
    inverseDiagonal[2 * j + 1] = vIm;
    // Not a number compares as false: caught here as well.
    if (!(size > 0 && size < Infinity)) return j;
    let growth = 0;
    for (let p = first; p < end; p++) {
      const i = 2 * row[p];
      const xRe = work[i] * vRe - work[i + 1] * vIm;
      const xIm = work[i] * vIm + work[i + 1] * vRe;
      lower[2 * p] = xRe;
      lower[2 * p + 1] = xIm;
      const here = xRe * xRe + xIm * xIm;
      if (!(here <= growth)) growth = here;
    }
    if (!(growth <= mostGrowthSquared)) return j;
  }
  return -1;
}

/** Solves A·x = b in place; b by position, pairs. */
export function solveLdl({ symbolic, inverseDiagonal, lower }: LdlFactors, b: Float64Array): void {
  const { n, columnStart, row } = symbolic;
  for (let j = 0; j < n; j++) {
    const re = b[2 * j];
    const im = b[2 * j + 1];
    if (re === 0 && im === 0) continue;
    for (let p = columnStart[j]; p < columnStart[j + 1]; p++) {
      const i = 2 * row[p];
      b[i] -= lower[2 * p] * re - lower[2 * p + 1] * im;
      b[i + 1] -= lower[2 * p] * im + lower[2 * p + 1] * re;
    }
  }
  for (let j = n - 1; j >= 0; j--) {
    const [vRe, vIm] = [inverseDiagonal[2 * j], inverseDiagonal[2 * j + 1]];
    let re = b[2 * j] * vRe - b[2 * j + 1] * vIm;
    let im = b[2 * j] * vIm + b[2 * j + 1] * vRe;
    for (let p = columnStart[j]; p < columnStart[j + 1]; p++) {
      const i = 2 * row[p];
      re -= lower[2 * p] * b[i] - lower[2 * p + 1] * b[i + 1];
      im -= lower[2 * p] * b[i + 1] + lower[2 * p + 1] * b[i];
    }
    b[2 * j] = re;
    b[2 * j + 1] = im;
  }
}

/** Positions on the paths from some nodes to the roots of the elimination tree, ascending: all that a right side or a change there touches. */
export function pathsToRoot({ n, parent, position }: Symbolic, nodes: ArrayLike<number>): Int32Array {
  const seen = new Uint8Array(n);
  const found: number[] = [];
  for (let k = 0; k < nodes.length; k++)
    for (let j = position[nodes[k]]; j >= 0 && seen[j] === 0; j = parent[j]) {
      seen[j] = 1;
      found.push(j);
    }
  return Int32Array.from(found).sort();
}

/**
 * The part of A⁻¹ between some nodes: values (i, j) at 2·(i·m + j). Only the paths of these nodes in the elimination tree are walked:
 * with y = L⁻¹·e for each of them, A⁻¹(i, j) = yᵢᵀ·D⁻¹·yⱼ.
 */
export function inverseBetween(
  { symbolic, inverseDiagonal, lower }: LdlFactors,
  nodes: ArrayLike<number>,
): Float64Array {
  const { position, columnStart, row } = symbolic;
  const m = nodes.length;
  const path = pathsToRoot(symbolic, nodes);
  const place = new Map<number, number>();
  path.forEach((j, k) => place.set(j, k));
  const count = path.length;
  const y = new Float64Array(2 * m * count);
  for (let s = 0; s < m; s++) y[2 * (place.get(position[nodes[s]])! * m + s)] = 1;
  for (let k = 0; k < count; k++) {
    const j = path[k];
    for (let p = columnStart[j]; p < columnStart[j + 1]; p++) {
      // Every row of a column lies on its path to the root.
      const target = place.get(row[p])!;
      const [lRe, lIm] = [lower[2 * p], lower[2 * p + 1]];
      for (let s = 0; s < m; s++) {
        const at = 2 * (k * m + s);
        const to = 2 * (target * m + s);
        y[to] -= lRe * y[at] - lIm * y[at + 1];
        y[to + 1] -= lRe * y[at + 1] + lIm * y[at];
      }
    }
  }
  const z = new Float64Array(2 * m * m);
  for (let k = 0; k < count; k++) {
    const [vRe, vIm] = [inverseDiagonal[2 * path[k]], inverseDiagonal[2 * path[k] + 1]];
    for (let s = 0; s < m; s++) {
      const at = 2 * (k * m + s);
      if (y[at] === 0 && y[at + 1] === 0) continue;
      const re = y[at] * vRe - y[at + 1] * vIm;
      const im = y[at] * vIm + y[at + 1] * vRe;
      for (let t = 0; t <= s; t++) {
        const other = 2 * (k * m + t);
        const to = 2 * (s * m + t);
        z[to] += re * y[other] - im * y[other + 1];
        z[to + 1] += re * y[other + 1] + im * y[other];
      }
    }
  }
  for (let s = 0; s < m; s++)
    for (let t = 0; t < s; t++) {
      z[2 * (t * m + s)] = z[2 * (s * m + t)];
      z[2 * (t * m + s) + 1] = z[2 * (s * m + t) + 1];
    }
  return z;
}
