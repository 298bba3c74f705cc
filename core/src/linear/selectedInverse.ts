/**
 * The entries of A⁻¹ on the pattern of L, by the equation of Takahashi, Fagan and Chen (1973): from Z = D⁻¹·L⁻¹ + (I − Lᵀ)·Z every
 * column of Z on the pattern follows from later columns on the pattern, so that no other entry is ever needed.
 */
import type { LdlFactors } from './ldl';
import { entryOf, type Symbolic } from './symbolic';

export interface SelectedInverse {
  readonly symbolic: Symbolic;
  /** A⁻¹(k, k) by position, pairs. */
  readonly diagonal: Float64Array;
  /** A⁻¹ at the entries of L, pairs. */
  readonly entries: Float64Array;
}

export function selectedInverse({ symbolic, inverseDiagonal, lower }: LdlFactors): SelectedInverse {
  const { n, columnStart, row } = symbolic;
  const diagonal = new Float64Array(2 * n);
  const entries = new Float64Array(2 * row.length);
  // Column j of L by row, and the column of Z that grows from it; `mark` tells which rows the column has.
  const l = new Float64Array(2 * n);
  const z = new Float64Array(2 * n);
  const mark = new Int32Array(n).fill(-1);
  for (let j = n - 1; j >= 0; j--) {
    const first = columnStart[j];
    const end = columnStart[j + 1];
    for (let p = first; p < end; p++) {
      const i = 2 * row[p];
      l[i] = lower[2 * p];
      l[i + 1] = lower[2 * p + 1];
      z[i] = z[i + 1] = 0;
      mark[row[p]] = j;
    }
    // Z(S, j) = −Z(S, S)·L(S, j) over the rows S of column j; Z(S, S) is known, from its lower half.
    for (let p = first; p < end; p++) {
      const k = row[p];
      const lRe = lower[2 * p];
      const lIm = lower[2 * p + 1];
      let sumRe = diagonal[2 * k] * lRe - diagonal[2 * k + 1] * lIm;
      let sumIm = diagonal[2 * k] * lIm + diagonal[2 * k + 1] * lRe;
      const stop = columnStart[k + 1];
      for (let q = columnStart[k]; q < stop; q++) {
        if (mark[row[q]] !== j) continue;
        const i = 2 * row[q];
        const xRe = entries[2 * q];
        const xIm = entries[2 * q + 1];
        const yRe = l[i];
        const yIm = l[i + 1];
        sumRe += xRe * yRe - xIm * yIm;
        sumIm += xRe * yIm + xIm * yRe;
        z[i] += xRe * lRe - xIm * lIm;
        z[i + 1] += xRe * lIm + xIm * lRe;
      }
      z[2 * k] += sumRe;
      z[2 * k + 1] += sumIm;
    }
    let dRe = inverseDiagonal[2 * j];
    let dIm = inverseDiagonal[2 * j + 1];
    for (let p = first; p < end; p++) {
      const i = 2 * row[p];
      const xRe = -z[i];
      const xIm = -z[i + 1];
      entries[2 * p] = xRe;
      entries[2 * p + 1] = xIm;
      dRe -= lower[2 * p] * xRe - lower[2 * p + 1] * xIm;
      dIm -= lower[2 * p] * xIm + lower[2 * p + 1] * xRe;
    }
    diagonal[2 * j] = dRe;
    diagonal[2 * j + 1] = dIm;
  }
  return { symbolic, diagonal, entries };
}

/** A⁻¹(a, b) between two nodes; null where the pattern does not hold it. */
export function selectedEntry({ symbolic, diagonal, entries }: SelectedInverse, a: number, b: number) {
  if (a === b) {
    const k = 2 * symbolic.position[a];
    return { re: diagonal[k], im: diagonal[k + 1] };
  }
  const p = 2 * entryOf(symbolic, a, b);
  return p < 0 ? null : { re: entries[p], im: entries[p + 1] };
}
