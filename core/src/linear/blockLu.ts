/**
 * Real matrices of 2 × 2 blocks on a symmetric pattern, A = L·U by blocks without pivoting across them: the equations of a load flow, two
 * to a node, on the same analysis as its admittance matrix.
 */
import type { Symbolic } from './symbolic';

/** Blocks row by row: [a, b, c, d] is the block (a b; c d). */
export interface BlockMatrix {
  readonly symbolic: Symbolic;
  /** By position, 4·n numbers. */
  readonly diagonal: Float64Array;
  /** By entry of the pattern, below the diagonal (row = later position) and, transposed place, above it. */
  readonly lower: Float64Array;
  readonly upper: Float64Array;
}

export const blockMatrix = (symbolic: Symbolic): BlockMatrix => ({
  symbolic,
  diagonal: new Float64Array(4 * symbolic.n),
  lower: new Float64Array(4 * symbolic.row.length),
  upper: new Float64Array(4 * symbolic.row.length),
});

/** Factors in place: diagonal becomes the inverse of its blocks, lower L with unit diagonal, upper U. Returns −1, or the position without a pivot. */
export function factorBlocks({ symbolic, diagonal, lower, upper }: BlockMatrix): number {
  const { n, columnStart, row, rowStart, rowColumn, rowEntry } = symbolic;
  const below = new Float64Array(4 * n);
  const beside = new Float64Array(4 * n);
  for (let j = 0; j < n; j++) {
    const first = columnStart[j];
    const end = columnStart[j + 1];
    for (let p = first; p < end; p++) {
      const i = 4 * row[p];
      const q = 4 * p;
      for (let s = 0; s < 4; s++) {
        below[i + s] = lower[q + s];
        beside[i + s] = upper[q + s];
      }
    }
    let d0 = diagonal[4 * j];
    let d1 = diagonal[4 * j + 1];
    let d2 = diagonal[4 * j + 2];
    let d3 = diagonal[4 * j + 3];
    for (let r = rowStart[j]; r < rowStart[j + 1]; r++) {
      const k = rowColumn[r];
      const at = 4 * rowEntry[r];
      const [l0, l1, l2, l3] = [lower[at], lower[at + 1], lower[at + 2], lower[at + 3]];
      const [u0, u1, u2, u3] = [upper[at], upper[at + 1], upper[at + 2], upper[at + 3]];
      d0 -= l0 * u0 + l1 * u2;
      d1 -= l0 * u1 + l1 * u3;
      d2 -= l2 * u0 + l3 * u2;
      d3 -= l2 * u1 + l3 * u3;
      for (let p = rowEntry[r] + 1; p < columnStart[k + 1]; p++) {
        const i = 4 * row[p];
        const q = 4 * p;
        const [a0, a1, a2, a3] = [lower[q], lower[q + 1], lower[q + 2], lower[q + 3]];
        below[i] -= a0 * u0 + a1 * u2;
        below[i + 1] -= a0 * u1 + a1 * u3;
        below[i + 2] -= a2 * u0 + a3 * u2;
        below[i + 3] -= a2 * u1 + a3 * u3;
        const [b0, b1, b2, b3] = [upper[q], upper[q + 1], upper[q + 2], upper[q + 3]];
        beside[i] -= l0 * b0 + l1 * b2;
        beside[i + 1] -= l0 * b1 + l1 * b3;
        beside[i + 2] -= l2 * b0 + l3 * b2;
        beside[i + 3] -= l2 * b1 + l3 * b3;
      }
    }
    const determinant = d0 * d3 - d1 * d2;
    // Two rows that are all but multiples of each other leave no digits.
    if (!(Math.abs(determinant) > 1e-14 * (Math.abs(d0 * d3) + Math.abs(d1 * d2)))) return j;
    const [v0, v1, v2, v3] = [d3 / determinant, -d1 / determinant, -d2 / determinant, d0 / determinant];
    diagonal[4 * j] = v0;
    diagonal[4 * j + 1] = v1;
    diagonal[4 * j + 2] = v2;
    diagonal[4 * j + 3] = v3;
    for (let p = first; p < end; p++) {
      const i = 4 * row[p];
      const q = 4 * p;
      const [a0, a1, a2, a3] = [below[i], below[i + 1], below[i + 2], below[i + 3]];
      lower[q] = a0 * v0 + a1 * v2;
      lower[q + 1] = a0 * v1 + a1 * v3;
      lower[q + 2] = a2 * v0 + a3 * v2;
      lower[q + 3] = a2 * v1 + a3 * v3;
      upper[q] = beside[i];
      upper[q + 1] = beside[i + 1];
      upper[q + 2] = beside[i + 2];
      upper[q + 3] = beside[i + 3];
    }
  }
  return -1;
}

/** Solves A·x = b in place after {@link factorBlocks}; b by position, two numbers each. */
export function solveBlocks({ symbolic, diagonal, lower, upper }: BlockMatrix, b: Float64Array): void {
  const { n, columnStart, row } = symbolic;
  for (let j = 0; j < n; j++) {
    const [x, y] = [b[2 * j], b[2 * j + 1]];
    for (let p = columnStart[j]; p < columnStart[j + 1]; p++) {
      const i = 2 * row[p];
      const q = 4 * p;
      b[i] -= lower[q] * x + lower[q + 1] * y;
      b[i + 1] -= lower[q + 2] * x + lower[q + 3] * y;
    }
  }
  for (let j = n - 1; j >= 0; j--) {
    let [x, y] = [b[2 * j], b[2 * j + 1]];
    for (let p = columnStart[j]; p < columnStart[j + 1]; p++) {
      const i = 2 * row[p];
      const q = 4 * p;
      x -= upper[q] * b[i] + upper[q + 1] * b[i + 1];
      y -= upper[q + 2] * b[i] + upper[q + 3] * b[i + 1];
    }
    const d = 4 * j;
    b[2 * j] = diagonal[d] * x + diagonal[d + 1] * y;
    b[2 * j + 1] = diagonal[d + 2] * x + diagonal[d + 3] * y;
  }
}
