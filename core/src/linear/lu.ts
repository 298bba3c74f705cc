/**
 * Sparse complex LU, left-looking (Gilbert and Peierls): each column of L and U comes from a sparse triangular solve whose
 * pattern is found first, by depth-first search in the columns of L done so far.
 */
import type { SparseMatrix } from './matrix';
import { graphOfMatrix } from './graph';
import { minimumDegree } from './order';

interface Columns {
  start: Int32Array;
  row: Int32Array;
  re: Float64Array;
  im: Float64Array;
}

export interface Factors {
  readonly n: number;
  /** Unit lower triangle; the first entry of each column is its pivot (1). Rows in pivot order. */
  readonly lower: Readonly<Columns>;
  /** Upper triangle; the last entry of each column is its diagonal. Rows in pivot order. */
  readonly upper: Readonly<Columns>;
  /** Position k eliminates column `columnOrder[k]`. */
  readonly columnOrder: Int32Array;
  /** Row i of the matrix became pivot `pivotOf[i]`. */
  readonly pivotOf: Int32Array;
}

export type Factored = { ok: true; factors: Factors } | { ok: false; singularColumn: number };

/** The diagonal stays the pivot while it is within this factor of the largest in its column: keeps the order that was chosen for little fill. */
const pivotTolerance = 1e-3;

/** Factors a square matrix; `singularColumn` names the first column without a usable pivot. */
export function factor(
  matrix: SparseMatrix,
  order: Int32Array = minimumDegree(graphOfMatrix(matrix.n, matrix.columnStart, matrix.row)),
): Factored {
  const { n } = matrix;
  const lower = newColumns(n, 4 * matrix.row.length + n);
  const upper = newColumns(n, 4 * matrix.row.length + n);
  const pivotOf = new Int32Array(n).fill(-1);
  const xRe = new Float64Array(n);
  const xIm = new Float64Array(n);
  const stack = new Int32Array(n);
  const pattern = new Int32Array(n);
  const resume = new Int32Array(n);
  const mark = new Int32Array(n).fill(-1);
  let lowerUsed = 0;
  let upperUsed = 0;

  for (let k = 0; k < n; k++) {
    const column = order[k];
    lower.start[k] = lowerUsed;
    upper.start[k] = upperUsed;
    reserve(lower, lowerUsed + n);
    reserve(upper, upperUsed + n);

    const top = reach(matrix, column, lower, pivotOf, mark, k, stack, resume, pattern);
    for (let p = matrix.columnStart[column]; p < matrix.columnStart[column + 1]; p++) {
      xRe[matrix.row[p]] = matrix.re[p];
      xIm[matrix.row[p]] = matrix.im[p];
    }
    for (let p = top; p < n; p++) {
      const j = pivotOf[pattern[p]];
      if (j >= 0) subtractColumn(lower, j, xRe[pattern[p]], xIm[pattern[p]], xRe, xIm);
    }

    let best = -1;
    let largest = 0;
    for (let p = top; p < n; p++) {
      const i = pattern[p];
      if (pivotOf[i] < 0) {
        const size = Math.hypot(xRe[i], xIm[i]);
        if (size > largest) [largest, best] = [size, i];
      } else {
        upper.row[upperUsed] = pivotOf[i];
        upper.re[upperUsed] = xRe[i];
        upper.im[upperUsed++] = xIm[i];
      }
    }
    if (best < 0 || !Number.isFinite(largest)) return { ok: false, singularColumn: column };
    if (pivotOf[column] < 0 && Math.hypot(xRe[column], xIm[column]) >= largest * pivotTolerance) best = column;

    const pivotRe = xRe[best];
    const pivotIm = xIm[best];
    const scale = 1 / (pivotRe * pivotRe + pivotIm * pivotIm);
    upper.row[upperUsed] = k;
    upper.re[upperUsed] = pivotRe;
    upper.im[upperUsed++] = pivotIm;
    pivotOf[best] = k;
    lower.row[lowerUsed] = best;
    lower.re[lowerUsed] = 1;
    lower.im[lowerUsed++] = 0;
    for (let p = top; p < n; p++) {
      const i = pattern[p];
      if (pivotOf[i] < 0) {
        lower.row[lowerUsed] = i;
        lower.re[lowerUsed] = (xRe[i] * pivotRe + xIm[i] * pivotIm) * scale;
        lower.im[lowerUsed++] = (xIm[i] * pivotRe - xRe[i] * pivotIm) * scale;
      }
      xRe[i] = 0;
      xIm[i] = 0;
    }
  }
  lower.start[n] = lowerUsed;
  upper.start[n] = upperUsed;
  for (let p = 0; p < lowerUsed; p++) lower.row[p] = pivotOf[lower.row[p]];
  return { ok: true, factors: { n, lower, upper, columnOrder: order, pivotOf } };
}

/** x −= value · (column j of L below its pivot). */
function subtractColumn(lower: Columns, j: number, re: number, im: number, xRe: Float64Array, xIm: Float64Array): void {
  for (let p = lower.start[j] + 1; p < lower.start[j + 1]; p++) {
    const i = lower.row[p];
    xRe[i] -= lower.re[p] * re - lower.im[p] * im;
    xIm[i] -= lower.re[p] * im + lower.im[p] * re;
  }
}

/** Rows that column `column` of the solve can touch, in topological order in `pattern[top…n)`; returns top. */
function reach(
  matrix: SparseMatrix,
  column: number,
  lower: Columns,
  pivotOf: Int32Array,
  mark: Int32Array,
  stamp: number,
  stack: Int32Array,
  resume: Int32Array,
  pattern: Int32Array,
): number {
  let top = matrix.n;
  for (let p = matrix.columnStart[column]; p < matrix.columnStart[column + 1]; p++) {
    if (mark[matrix.row[p]] === stamp) continue;
    let depth = 0;
    stack[0] = matrix.row[p];
    while (depth >= 0) {
      const i = stack[depth];
      const j = pivotOf[i];
      if (mark[i] !== stamp) {
        mark[i] = stamp;
        resume[depth] = j < 0 ? 0 : lower.start[j] + 1;
      }
      const end = j < 0 ? 0 : lower.start[j + 1];
      let descended = false;
      for (let q = resume[depth]; q < end; q++) {
        if (mark[lower.row[q]] === stamp) continue;
        resume[depth] = q + 1;
        stack[++depth] = lower.row[q];
        descended = true;
        break;
      }
      if (!descended) {
        depth--;
        pattern[--top] = i;
      }
    }
  }
  return top;
}

/** Solves A·x = b; b is overwritten by x. `work` arrays of length n may be passed to spare allocation. */
export function solveInPlace(
  factors: Factors,
  bRe: Float64Array,
  bIm: Float64Array,
  workRe = new Float64Array(factors.n),
  workIm = new Float64Array(factors.n),
): void {
  const { n, lower, upper, pivotOf, columnOrder } = factors;
  for (let i = 0; i < n; i++) {
    workRe[pivotOf[i]] = bRe[i];
    workIm[pivotOf[i]] = bIm[i];
  }
  for (let j = 0; j < n; j++) {
    if (workRe[j] !== 0 || workIm[j] !== 0) subtractColumn(lower, j, workRe[j], workIm[j], workRe, workIm);
  }
  for (let j = n - 1; j >= 0; j--) {
    const diagonal = upper.start[j + 1] - 1;
    const dRe = upper.re[diagonal];
    const dIm = upper.im[diagonal];
    const scale = 1 / (dRe * dRe + dIm * dIm);
    const re = (workRe[j] * dRe + workIm[j] * dIm) * scale;
    const im = (workIm[j] * dRe - workRe[j] * dIm) * scale;
    workRe[j] = re;
    workIm[j] = im;
    for (let p = upper.start[j]; p < diagonal; p++) {
      const i = upper.row[p];
      workRe[i] -= upper.re[p] * re - upper.im[p] * im;
      workIm[i] -= upper.re[p] * im + upper.im[p] * re;
    }
  }
  for (let k = 0; k < n; k++) {
    bRe[columnOrder[k]] = workRe[k];
    bIm[columnOrder[k]] = workIm[k];
  }
}

function newColumns(n: number, capacity: number): Columns {
  return {
    start: new Int32Array(n + 1),
    row: new Int32Array(capacity),
    re: new Float64Array(capacity),
    im: new Float64Array(capacity),
  };
}

function reserve(columns: Columns, needed: number): void {
  if (needed <= columns.row.length) return;
  const capacity = Math.max(needed, 2 * columns.row.length);
  const grow = <T extends Int32Array | Float64Array>(old: T, fresh: T): T => {
    fresh.set(old);
    return fresh;
  };
  columns.row = grow(columns.row, new Int32Array(capacity));
  columns.re = grow(columns.re, new Float64Array(capacity));
  columns.im = grow(columns.im, new Float64Array(capacity));
}
